import 'fake-indexeddb/auto';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ErasedAnswer, Papers, StreamedEvent } from '@estuarine/contract';
import { Subject } from 'rxjs';
import { Api, type Reply } from './api.ts';
import { ErasedNames } from './erased-names.ts';
import { Link } from './link.ts';
import { DeviceStore, SESSION_PATH } from './store.ts';
import { Tabs } from './tabs.ts';

const papers: Papers = {
  vehicle: { name: 'Grey estate', plate: 'EST 12', odometerKilometre: 9, note: 'Parks at the quay.' },
  customer: { name: 'A. Ferrow', contact: 'by the harbour office' },
};
const at = '2026-05-04T08:00:00.000Z';
const row = (id: string) => ({ id, hash: '0'.repeat(64) });
const erased = (type: string): StreamedEvent => ({ position: 1, stream: 'shop', number: 1, type });

async function setUp({ isLeading = true } = {}) {
  const [events$, behind$] = [new Subject<StreamedEvent>(), new Subject<void>()];
  const isLive = signal(true);
  let told: ErasedAnswer | null = { vehicles: [], customers: [] };
  let asked = 0;
  const get = (path: string): Promise<Reply<ErasedAnswer>> => {
    expect(path).toBe('/api/erased');
    asked++;
    return Promise.resolve(told ? { kind: 'answer', value: told, position: null } : { kind: 'unreachable' });
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: { get } },
      { provide: Link, useValue: { events$, behind$, isLive } },
      { provide: Tabs, useValue: { whenLeading: (begin: () => void) => isLeading && begin() } },
    ],
  });
  const store = TestBed.inject(DeviceStore);
  TestBed.inject(ErasedNames);
  const waiting = await store.addWaiting(
    'j',
    { commandId: 'o', deviceAt: at, by: 'om', version: 3, act: { type: 'job.opened', body: { vehicle: row('v1'), customer: row('c1') } }, papers }, // prettier-ignore
    true,
  );
  await store.moveToSent([{ ...waiting, kept: { stream: 'j', first: 1, last: 1, at }, keptAt: Date.parse(at) }]);
  for (const path of ['/api/jobs', '/api/jobs/j/papers', SESSION_PATH, '/api/gear']) await store.saveAnswer(path, { of: path });
  const left = async (): Promise<unknown[]> => {
    const answers = await Promise.all(['/api/jobs', '/api/jobs/j/papers', SESSION_PATH, '/api/gear'].map((p) => store.findAnswer(p)));
    return answers.map((a) => a !== undefined);
  };
  const sent = async (): Promise<unknown> => (await store.listSent('j'))[0]?.sent.papers;
  const settle = async (isSo: () => Promise<boolean>): Promise<void> => {
    for (let i = 0; i < 200 && !(await isSo()); i++) await new Promise((go) => setTimeout(go, 5));
    expect(await isSo()).toBe(true);
  };
  return { events$, behind$, isLive, left, sent, settle, asked: () => asked, tell: (what: typeof told) => void (told = what) };
}

afterEach(() => {
  TestBed.resetTestingModule();
  indexedDB = new IDBFactory();
});

it('goes from a device that hears of it: what it was told, and the papers that it sent, of that row alone', async () => {
  const { events$, left, sent, settle, tell } = await setUp();
  tell({ vehicles: [], customers: ['c1'] });
  events$.next(erased('customer.erased'));
  await settle(async () => !(await left())[0]);
  // who is signed in here, and what tells no name, stays
  expect(await left()).toEqual([false, false, true, true]);
  expect(await sent()).toEqual({ ...papers, customer: { name: 'customer erased', contact: '' } });
  tell({ vehicles: ['v1'], customers: ['c1'] });
  events$.next(erased('vehicle.erased'));
  await settle(async () => !JSON.stringify(await sent()).includes('EST 12'));
  expect(JSON.stringify(await sent())).not.toMatch(/Grey|EST|quay|Ferrow|harbour/);
});

it('is asked for by a device that comes back, which keeps what it has where nothing more was erased', async () => {
  const { events$, behind$, left, settle, asked, tell } = await setUp();
  events$.next(erased('gear.saved'));
  expect(asked()).toBe(0);
  behind$.next();
  await settle(() => Promise.resolve(asked() === 1));
  expect(await left()).toEqual([true, true, true, true]);
  // not told: asked again until it is
  tell(null);
  behind$.next();
  await settle(() => Promise.resolve(asked() === 2));
  tell({ vehicles: ['v9'], customers: [] });
  await settle(async () => !(await left())[0]);
  expect(asked()).toBeGreaterThan(2);
});

it('waits to be asked for until somebody is signed in and the server is there', async () => {
  const { events$, isLive, left, settle, asked, tell } = await setUp();
  isLive.set(false);
  TestBed.tick();
  tell({ vehicles: ['v1'], customers: [] });
  events$.next(erased('vehicle.erased'));
  await new Promise((go) => setTimeout(go, 20));
  expect(asked()).toBe(0);
  isLive.set(true);
  TestBed.tick();
  await settle(async () => !(await left())[0]);
  expect(asked()).toBe(1);
});

it('is the work of the leading tab', async () => {
  const { events$, behind$, asked } = await setUp({ isLeading: false });
  events$.next(erased('vehicle.erased'));
  behind$.next();
  expect(asked()).toBe(0);
});
