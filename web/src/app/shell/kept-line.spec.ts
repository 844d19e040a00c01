import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Act } from '@estuarine/core';
import { Link } from '../transport/link.ts';
import { Outbox } from '../transport/outbox.ts';
import { PhotoDesk } from '../transport/photo-desk.ts';
import type { WaitingAct } from '../transport/store.ts';
import { Session } from '../session/session.ts';
import { KeptLine } from './kept-line.ts';

const FACT: Act = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } };
const PERMIT: Act = { type: 'proof.signed', body: { proofId: 'p', until: null, breakMinute: 60 } };
let seq = 0;
const waits = (act: Act, by = 'om', status: number | null = null): WaitingAct => ({
  ...{ seq: ++seq, jobId: 'j', sent: { commandId: `c${seq}`, deviceAt: '', by, version: 1, act } },
  refused: status === null ? null : { type: 'x', title: '', status, detail: 'no', path: [] },
});

function setUp() {
  const [acts, photos, faults] = [signal<WaitingAct[]>([]), signal<string[]>([]), signal(new Map<string, string>())];
  const [isStoring, isLive, hindrance] = [signal(false), signal(true), signal<string | null>(null)];
  const person = signal<{ id: string } | null>({ id: 'om' });
  TestBed.configureTestingModule({
    providers: [
      {
        provide: Outbox,
        useValue: {
          ...{ isStoring, hindrance },
          waiting: () => acts().filter((a) => a.refused === null || a.refused.status >= 500),
          refused: () => acts().filter((a) => a.refused !== null),
        },
      },
      { provide: PhotoDesk, useValue: { waiting: () => photos().map((photoId) => ({ photoId })), faults } },
      { provide: Session, useValue: { person } },
      { provide: Link, useValue: { isLive } },
    ],
  });
  const fixture = TestBed.createComponent(KeptLine);
  const said = (): string => {
    TestBed.tick();
    return part('.whole');
  };
  const part = (name: string): string => (fixture.nativeElement as HTMLElement).querySelector(name)?.textContent.trim() ?? '';
  return { acts, photos, faults, isStoring, isLive, hindrance, said, inShort: () => part('.short') };
}

it('says that all is kept only where nothing is on its way: no act, not even to the disk, and no photograph', () => {
  const { acts, photos, faults, isStoring, isLive, said, inShort } = setUp();
  expect(said()).toBe('All kept');
  isStoring.set(true);
  expect(said()).toBe('Being kept');
  isStoring.set(false);
  photos.set(['a']);
  expect(said()).toBe('1 photograph on this device, not kept yet');
  photos.set(['a', 'b', 'c']);
  faults.set(new Map([['b', 'The picture cannot be read.']]));
  expect([said(), inShort()]).toEqual(['2 photographs on this device, not kept yet', '2 wait']);
  acts.set([waits(FACT)]);
  expect(said()).toBe('1 act on this device, not kept yet');
  acts.set([]);
  photos.set([]);
  isLive.set(false);
  expect([said(), inShort()]).toEqual(['Not connected', 'Away']);
});

it('says what waits for whom, what the server cannot take, and what it did not take', () => {
  const { acts, hindrance, said, inShort } = setUp();
  acts.set([waits(FACT, 'ts'), waits(PERMIT, 'ts'), waits(PERMIT, 'ts')]);
  expect([said(), inShort()]).toEqual(['2 acts of TS wait for TS', '2 wait for TS']);
  acts.set([waits(FACT), waits(FACT)]);
  hindrance.set('the disk of the server is full');
  expect(said()).toBe('2 acts wait: the disk of the server is full');
  acts.set([waits(FACT, 'om', 500)]);
  expect(said()).toBe('1 set aside, not kept yet');
  acts.set([waits(FACT, 'om', 409), waits(FACT)]);
  expect(said()).toBe('1 not taken');
});
