import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Subject } from 'rxjs';
import { Session } from '../session/session.ts';
import { Api } from './api.ts';
import { JobPresence } from './job-presence.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';
import { DeviceStore, type WaitingAct } from './store.ts';
import { Tabs, type TabMessage } from './tabs.ts';

const at = '2026-05-04T08:00:00.000Z';

/** What the server was told, in order: the job, and whether it is open. */
function setUp() {
  const told: [string, boolean][] = [];
  const acts = signal<readonly WaitingAct[]>([]);
  const isLocked = signal(false);
  const messages$ = new Subject<TabMessage>();
  const behind$ = new Subject<void>();
  const leaving: (() => Promise<void>)[] = [];
  const note = (path: string, { jobId, isOpen }: { jobId: string; isOpen: boolean }): void => {
    expect(path).toBe('/api/devices/tablet');
    told.push([jobId, isOpen]);
  };
  const server = { isAway: false };
  const post = (path: string, _schema: unknown, body: { jobId: string; isOpen: boolean }): Promise<object> => {
    if (server.isAway) return Promise.resolve({ kind: 'unreachable' });
    note(path, body);
    return Promise.resolve({ kind: 'answer' });
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: { sendLast: note, post } },
      { provide: Outbox, useValue: { acts, loaded: Promise.resolve() } },
      { provide: DeviceStore, useValue: { deviceId: 'tablet' } },
      { provide: Session, useValue: { isLocked, whenLeaving: (work: () => Promise<void>) => leaving.push(work) } },
      { provide: Link, useValue: { behind$ } },
      { provide: Tabs, useValue: { messages$, tell: (m: TabMessage) => messages$.next(m) } },
    ],
  });
  const wait = (jobId: string): void => {
    const sent = { commandId: `c-${jobId}`, deviceAt: at, by: 'om', version: 1, act: { type: 'x', body: {} } };
    acts.update((all) => [...all, { seq: all.length, jobId, sent, refused: null }]);
  };
  const settle = async (): Promise<void> => {
    TestBed.tick();
    for (let i = 0; i < 5; i++) await Promise.resolve();
  };
  return { server, told, acts, wait, settle, isLocked, messages$, behind$, presence: () => TestBed.inject(JobPresence), signOut: () => Promise.all(leaving.map((work) => work())) }; // prettier-ignore
}

beforeEach(() => localStorage.clear());

it('tells of a job that is opened, again at each new stream, and that it was left', async () => {
  const { told, presence, behind$, settle } = setUp();
  presence().enter('j');
  behind$.next();
  presence().leave();
  behind$.next();
  await settle();
  expect(told).toEqual([['j', true], ['j', true], ['j', false]]); // prettier-ignore
});

it('leaves a job for which acts wait once the last of them has gone, also from another page', async () => {
  const { told, acts, wait, presence, settle } = setUp();
  presence().enter('j');
  wait('j');
  wait('k');
  await settle();
  presence().leave();
  await settle();
  expect(told).toEqual([['j', true]]);
  TestBed.resetTestingModule();
  const later = setUp();
  later.wait('j');
  later.presence();
  await later.settle();
  expect(later.told).toEqual([]);
  later.acts.set([]);
  await later.settle();
  expect(later.told).toEqual([['j', false]]);
  // and no more than once
  later.acts.set([...acts()]);
  await later.settle();
  later.acts.set([]);
  await later.settle();
  expect(later.told).toHaveLength(1);
});

it('owes its leaving until the server has heard it', async () => {
  const { server, told, acts, wait, presence, settle, behind$ } = setUp();
  presence().enter('j');
  wait('j');
  await settle();
  presence().leave();
  server.isAway = true;
  acts.set([]);
  await settle();
  expect(told).toEqual([['j', true]]);
  server.isAway = false;
  behind$.next();
  await settle();
  behind$.next();
  await settle();
  expect(told).toEqual([['j', true], ['j', false]]); // prettier-ignore
});

it('does not leave one that came back to the screen before its acts had gone, nor one that another tab holds', async () => {
  const { told, acts, wait, presence, settle, messages$ } = setUp();
  presence().enter('j');
  wait('j');
  await settle();
  presence().leave();
  presence().enter('j');
  acts.set([]);
  await settle();
  messages$.next({ kind: 'left', jobId: 'j' });
  messages$.next({ kind: 'left', jobId: 'k' });
  expect(told).toEqual([['j', true], ['j', true], ['j', true]]); // prettier-ignore
});

it('leaves one job for another', () => {
  const { told, presence } = setUp();
  presence().enter('j');
  presence().enter('k');
  expect(told).toEqual([['j', true], ['j', false], ['k', true]]); // prettier-ignore
});

it('is not cut off while its screen is locked, or after a sign-out, unless it holds acts', async () => {
  const { told, wait, presence, settle, isLocked, signOut } = setUp();
  presence().enter('j');
  await settle();
  isLocked.set(true);
  await settle();
  isLocked.set(false);
  await settle();
  await signOut();
  expect(told).toEqual([['j', true], ['j', false], ['j', true], ['j', false]]); // prettier-ignore
  wait('j');
  await settle();
  await signOut();
  isLocked.set(true);
  await settle();
  expect(told).toHaveLength(4);
});

it('leaves with its page, and comes back with it', () => {
  const { told, presence } = setUp();
  presence().enter('j');
  window.dispatchEvent(new Event('pagehide'));
  window.dispatchEvent(Object.assign(new Event('pageshow'), { persisted: true }));
  expect(told).toEqual([['j', true], ['j', false], ['j', true]]); // prettier-ignore
});
