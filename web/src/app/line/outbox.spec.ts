import 'fake-indexeddb/auto';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { FOLD_VERSION, type Act } from '@estuarine/core';
import { Subject } from 'rxjs';
import { Session } from '../session/session.ts';
import { Api, type Reply } from './api.ts';
import { DeviceStore } from './store.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';
import { Tabs, type TabMessage } from './tabs.ts';

const fact = (isIn: boolean): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn } } });

class FakeTabs {
  readonly messages$ = new Subject<TabMessage>();
  tell(message: TabMessage): void {
    this.messages$.next(message);
  }
  whenLeading(begin: () => void): void {
    begin();
  }
}

/** A server that answers as it is told and remembers what came. */
class FakeApi {
  readonly came: { path: string; commandId: string; by: string }[] = [];
  answer: (commandId: string) => Reply<unknown> = () => ({ kind: 'unreachable' });
  #number = 0;

  keepAll(): void {
    this.answer = () => ({ kind: 'answer', etag: null, value: { stream: 'j', first: ++this.#number, last: this.#number, at: '' } });
  }
  post(path: string, _schema: unknown, body: { commandId: string; by: string }): Promise<Reply<unknown>> {
    this.came.push({ path, commandId: body.commandId, by: body.by });
    return Promise.resolve(this.answer(body.commandId));
  }
}

function refusal(detail: string): Reply<unknown> {
  return { kind: 'problem', problem: { type: 'urn:estuarine:gone', title: '', status: 409, detail, path: [] } };
}

let store: DeviceStore;

function setUp() {
  const api = new FakeApi();
  const tabs = new FakeTabs();
  const person = signal<{ id: string; name: string; role: 'technician' } | null>({ id: 'om', name: 'OM', role: 'technician' });
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: api },
      { provide: Tabs, useValue: tabs },
      { provide: Session, useValue: { person } },
      { provide: Link, useValue: { now: () => ({ at: new Date(0), isSure: false }) } },
    ],
  });
  store = TestBed.inject(DeviceStore);
  return { api, tabs, person, outbox: TestBed.inject(Outbox), store };
}

async function until(condition: () => boolean): Promise<void> {
  for (let i = 0; i < 200 && !condition(); i++) await new Promise((r) => setTimeout(r, 5));
  expect(condition()).toBe(true);
}

afterEach(async () => {
  await store.removeWaiting((await store.listWaiting()).map((a) => a.seq));
});

describe('the outbox', () => {
  it('keeps acts on the device while the server is away, and sends each once, in order, when it is back', async () => {
    const { api, tabs, outbox, store } = setUp();
    const ids = [await outbox.put('j', fact(false)), await outbox.put('j', fact(true)), await outbox.put('j', fact(false))];
    const listed = await store.listWaiting();
    expect(listed.map((a) => a.sent.commandId)).toEqual(ids);
    // each says which device it is, in the order in which it has them, and that it has not heard the server's time
    expect(listed.map((a) => a.sent.device)).toEqual(listed.map((a) => ({ id: store.deviceId, turn: a.seq, isClockSure: false })));
    api.came.length = 0;
    api.keepAll();
    tabs.tell({ kind: 'heard', fold: FOLD_VERSION, serverNow: '', cutOff: [] });
    await until(() => outbox.waiting().length === 0);
    expect(api.came.map((c) => c.commandId)).toEqual(ids);
  });

  it('holds a kept act until its event came back', async () => {
    const { api, outbox, store } = setUp();
    api.keepAll();
    await outbox.put('j', fact(false));
    await until(() => outbox.waiting().length === 0);
    expect(outbox.acts()).toHaveLength(1);
    await outbox.settle('j', 1);
    expect(outbox.acts()).toEqual([]);
    expect(await store.listWaiting()).toEqual([]);
  });

  it('marks a refused act and those that name it, and holds the queue until it was seen', async () => {
    const { api, outbox } = setUp();
    const sweep: Act = {
      type: 'sweep.started',
      body: { kind: 'rest', restSince: 'gone', restHour: null, loadAmpere: null, loadSecond: null, resolution: null },
    };
    const sweepId = (await outbox.put('j', sweep)) ?? '';
    await outbox.put('j', { type: 'reading.taken', body: { sweepId, place: 1, moduleId: 'm', quantity: 'restVolt', value: 7.8 } });
    await outbox.put('j', fact(false));
    await outbox.put('other', fact(true));
    api.answer = (id) =>
      id === sweepId ? refusal('No such sweep.') : { kind: 'answer', etag: null, value: { stream: '', first: 1, last: 1, at: '' } };
    await until(() => outbox.refused().length === 2);
    expect(outbox.refused().map((a) => a.refused?.detail)).toEqual([
      'No such sweep.',
      'It builds on an act that was refused: No such sweep.',
    ]);
    await until(() => outbox.waiting().every((a) => a.jobId === 'j'));
    expect(outbox.waiting()).toHaveLength(1);
    await outbox.dismissRefused('j');
    await until(() => outbox.waiting().length === 0);
    expect(outbox.refused()).toEqual([]);
  });

  it('sends the acts of a person only while that person is at the device', async () => {
    const { api, tabs, person, outbox } = setUp();
    await outbox.put('j', fact(false));
    person.set({ id: 'ts', name: 'TS', role: 'technician' });
    api.keepAll();
    api.came.length = 0;
    tabs.tell({ kind: 'sessionChanged' });
    await outbox.put('k', fact(true));
    await until(() => outbox.waiting().length === 1);
    expect(api.came.every((c) => c.by === 'ts')).toBe(true);
    person.set({ id: 'om', name: 'OM', role: 'technician' });
    tabs.tell({ kind: 'sessionChanged' });
    await until(() => outbox.waiting().length === 0);
  });

  it('says so when nobody is signed in, and keeps nothing', async () => {
    const { person, outbox, store } = setUp();
    person.set(null);
    expect(await outbox.put('j', fact(false))).toBeNull();
    expect(outbox.failure()).toContain('Nobody is signed in');
    expect(await store.listWaiting()).toEqual([]);
  });
});
