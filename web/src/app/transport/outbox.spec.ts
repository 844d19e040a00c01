import 'fake-indexeddb/auto';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { SentAct, Signature } from '@estuarine/contract';
import type { Act } from '@estuarine/core';
import { Subject } from 'rxjs';
import { ActSigner } from '../session/act-signer.ts';
import { Session } from '../session/session.ts';
import { Api, type Reply } from './api.ts';
import { DeviceStore, OFFERED_MILLISECOND, type WaitingAct } from './store.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';
import { Tabs, type TabMessage } from './tabs.ts';
import { pass, settle, until, useVirtualTime } from '../../test/virtual-time.ts';

const fact = (isIn: boolean): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn } } });
const sweep = (restSince: string): Act => ({
  type: 'sweep.started',
  body: { kind: 'rest', restSince, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: null },
});
const PERMIT: Act = { type: 'proof.signed', body: { proofId: 'p', until: null, breakMinute: 60 } };
const NOW = Date.parse('2026-05-04T08:00:00Z');

class FakeTabs {
  readonly messages$ = new Subject<TabMessage>();
  isLeading = true;
  tell(message: TabMessage): void {
    this.messages$.next(message);
  }
  whenLeading(begin: () => void): void {
    if (this.isLeading) begin();
  }
}

type Outcome = { kind: 'kept' } | { kind: 'refused'; status: number; detail: string };

/** A server that judges act by act as it is told, and remembers what came. */
class FakeApi {
  /** Command ids of each post. */
  readonly posts: string[][] = [];
  readonly kept: string[] = [];
  /** Whole answers before any act is looked at; null: none. */
  fault: (acts: readonly SentAct[], jobId: string) => number | 'unreachable' | null = () => 'unreachable';
  outcome: (act: SentAct) => Outcome = () => ({ kind: 'kept' });
  retryMillisecond: number | null = null;
  code = 'x';

  post(path: string, _schema: unknown, body: { acts: SentAct[] }): Promise<Reply<unknown>> {
    const jobId = path.split('/')[3] ?? '';
    this.posts.push(body.acts.map((a) => a.commandId));
    const fault = this.fault(body.acts, jobId);
    if (fault === 'unreachable') return Promise.resolve({ kind: 'unreachable' });
    if (fault !== null)
      return Promise.resolve({
        kind: 'problem',
        problem: problemOf(fault, 'so', this.code),
        retryMillisecond: this.retryMillisecond,
      });
    const outcomes = body.acts.map((act) => {
      const outcome = this.outcome(act);
      if (outcome.kind === 'refused') return { kind: 'refused', problem: problemOf(outcome.status, outcome.detail, this.code) };
      this.kept.push(act.commandId);
      return { kind: 'kept', stream: jobId, first: this.kept.length, last: this.kept.length, at: new Date(NOW).toISOString() };
    });
    return Promise.resolve({ kind: 'answer', position: null, value: { outcomes } });
  }
}

function problemOf(status: number, detail: string, code = 'x') {
  return { type: `urn:estuarine:${code}`, title: '', status, detail, path: [] };
}

const person = { id: 'om', name: 'OM', role: 'technician' } as const;
const other = { id: 'ts', name: 'TS', role: 'technician' } as const;

function setUp({ isLeading = true } = {}) {
  const api = new FakeApi();
  const tabs = new FakeTabs();
  tabs.isLeading = isLeading;
  const behind$ = new Subject<void>();
  let signature: (sent: SentAct) => Signature | null = () => null;
  const signBy = (how: typeof signature): void => void (signature = how);
  const who = signal<typeof person | typeof other | null>(person);
  const [isLocked, isLive] = [signal(false), signal(false)];
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: api },
      { provide: Tabs, useValue: tabs },
      { provide: Session, useValue: { person: who, isLocked } },
      { provide: ActSigner, useValue: { sign: (_jobId: string, sent: SentAct) => Promise.resolve(signature(sent)) } },
      { provide: Link, useValue: { behind$, isLive, now: () => ({ at: new Date(NOW), isSure: false }) } },
    ],
  });
  /** The server is there; what was under way before has failed by now. */
  const connect = async (fault: FakeApi['fault'] = () => null): Promise<void> => {
    await settle();
    api.posts.length = 0;
    api.fault = fault;
    tabs.tell({ kind: 'sessionChanged' });
  };
  return { api, tabs, behind$, who, isLocked, isLive, connect, signBy, outbox: TestBed.inject(Outbox), store: TestBed.inject(DeviceStore) };
}

useVirtualTime(NOW);

const details = (acts: readonly WaitingAct[]): (string | undefined)[] => acts.map((a) => a.refused?.detail);

afterEach(() => {
  TestBed.resetTestingModule();
  indexedDB = new IDBFactory();
});

describe('the outbox', () => {
  it('keeps acts on the device while the server is away, and sends each once, in order, when it is back', async () => {
    const { api, connect, outbox, store } = setUp();
    const ids = [await outbox.put('j', fact(false)), await outbox.put('j', fact(true)), await outbox.put('j', fact(false))];
    const listed = await store.listWaiting();
    expect(listed.map((a) => a.sent.commandId)).toEqual(ids);
    // each says which device it is, in the order in which it has them, and that it has not heard the server's time
    expect(listed.map((a) => a.sent.device)).toEqual(listed.map((a) => ({ id: store.deviceId, turn: a.seq, isClockSure: false })));
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(api.kept).toEqual(ids);
    expect(await store.listWaiting()).toEqual([]);
    // a server that is restored may lose them
    expect((await store.listSent('j')).map((a) => a.sent.commandId)).toEqual(ids);
  });

  const full = (): Promise<never> => Promise.reject(new DOMException('no room', 'QuotaExceededError'));

  it('on a full device takes an act in the place of copies of what the server has, and is asked to stay once something waits', async () => {
    const persist = jest.fn(() => Promise.resolve(true));
    Object.defineProperty(navigator, 'storage', { value: { persist }, configurable: true });
    const { connect, outbox, store } = setUp();
    await outbox.put('j', fact(true));
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(persist).toHaveBeenCalledTimes(1);
    expect(await store.listSent('j')).toHaveLength(1);
    const add = jest.spyOn(store, 'addWaiting').mockImplementationOnce(full);
    expect(await outbox.put('j', fact(false))).not.toBeNull();
    expect(outbox.failure()).toBeNull();
    await until(() => outbox.acts().length === 0);
    expect((await store.listSent('j')).map((a) => a.seq)).toEqual([2]);
    // without any room it says so, and what to do about it
    add.mockImplementation(full);
    expect(await outbox.put('j', fact(true))).toBeNull();
    expect(outbox.failure()).toContain('its disk may be full. Nothing was kept');
  });

  it('says what waits where there is no room for more', async () => {
    const { outbox, store } = setUp();
    for (let i = 0; i < 2; i++) await outbox.put('j', fact(i === 0));
    jest.spyOn(store, 'addWaiting').mockImplementation(full);
    expect(await outbox.put('j', fact(true))).toBeNull();
    expect(outbox.failure()).toContain('2 acts wait here: send them first');
  });

  it.each(['moveToSent', 'saveWaiting', 'removeWaiting'] as const)('goes on sending on a device that has no room to %s', async (name) => {
    const { api, connect, outbox, store } = setUp();
    const ids = [await outbox.put('j', fact(false)), await outbox.put('j', fact(true)), await outbox.put('k', fact(true))];
    jest.spyOn(store, name).mockImplementation(full);
    if (name === 'removeWaiting') jest.spyOn(store, 'moveToSent').mockImplementationOnce(full);
    api.outcome = ({ commandId }) => (commandId === ids[1] ? { kind: 'refused', status: 409, detail: 'no' } : { kind: 'kept' });
    await connect();
    await until(() => outbox.waiting().length === 0);
    expect(new Set(api.kept)).toEqual(new Set([ids[0], ids[2]]));
    expect(details(outbox.refused())).toEqual(['no']);
  });

  it('says that an act is being stored from the press until it is among those that wait, also where that fails', async () => {
    const { outbox, store } = setUp();
    const [one, two] = [outbox.put('j', fact(true)), outbox.put('j', fact(false))];
    expect([outbox.isStoring(), outbox.acts().length]).toEqual([true, 0]);
    await Promise.all([one, two]);
    expect([outbox.isStoring(), outbox.acts().length]).toEqual([false, 2]);
    jest.spyOn(store, 'addWaiting').mockImplementation(full);
    const third = outbox.put('j', fact(true));
    expect(outbox.isStoring()).toBe(true);
    await third;
    expect(outbox.isStoring()).toBe(false);
  });

  it('signs what it keeps before it is shown or sent; without a key it waits unsigned', async () => {
    const { outbox, store, signBy } = setUp();
    signBy(({ commandId }) => ({ value: commandId }) as Signature);
    const id = await outbox.put('j', fact(true));
    signBy(() => null);
    await outbox.put('j', fact(false));
    for (const acts of [outbox.acts(), await store.listWaiting()])
      expect(acts.map((a) => a.sent.signature?.value)).toEqual([id, undefined]);
  });

  it('leaves to its author what is not signed and nobody passes on, and with an opening all that builds on it', async () => {
    const { api, connect, outbox, who, signBy } = setUp();
    const opening = { type: 'job.opened', body: {} } as Act;
    const back: Act = { type: 'act.withdrawn', body: { commandId: 'x', reason: 'mistyped' } };
    const [plain, taken] = [await outbox.put('j', fact(true)), await outbox.put('j', back)];
    const [opened, built] = [await outbox.put('k', opening), await outbox.put('k', fact(true))];
    signBy(() => ({ value: 'good' }) as Signature);
    const signed = await outbox.put('j', back);
    const job = [await outbox.put('l', opening), await outbox.put('l', fact(true))];
    who.set(other);
    await connect();
    await until(() => outbox.acts().length === 3);
    expect(outbox.acts().map((a) => a.sent.commandId)).toEqual([taken, opened, built]);
    expect(new Set(api.kept)).toEqual(new Set([plain, signed, ...job]));
    who.set(person);
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(api.kept.slice(-3)).toEqual(expect.arrayContaining([taken, opened, built]));
    expect(api.kept.indexOf(String(opened))).toBeLessThan(api.kept.indexOf(String(built)));
  });

  it('sends many in one go', async () => {
    const { api, connect, outbox } = setUp();
    for (let i = 0; i < 130; i++) await outbox.put('j', fact(i % 2 === 0));
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(api.posts.map((p) => p.length)).toEqual([100, 30]);
  });

  it('lets no import make a batch larger than the server takes', async () => {
    const { api, connect, outbox } = setUp();
    for (let i = 0; i < 3; i++) await outbox.put('j', sweep('x'.repeat(300_000)));
    const [first, second] = [await outbox.put('k', fact(true)), await outbox.put('k', fact(false))];
    await outbox.put('k', sweep('y'.repeat(399_900)));
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(api.posts.every((p) => p.length <= 2)).toBe(true);
    expect(api.kept).toEqual(expect.arrayContaining([first, second]));
  });

  it('tells all tabs at once that an act was kept', async () => {
    const { tabs, connect, outbox } = setUp();
    const told: TabMessage[] = [];
    tabs.messages$.subscribe((m) => told.push(m));
    const id = await outbox.put('j', fact(false));
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(told).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ kind: 'kept', acts: [expect.objectContaining({ kept: expect.objectContaining({ stream: 'j' }) })] }),
        expect.objectContaining({ kind: 'acts', gone: [1] }),
      ]),
    );
    // a word of another tab that was under way does not bring it back
    tabs.tell({ kind: 'acts', put: [{ seq: 1, jobId: 'j', sent: { commandId: id } } as WaitingAct], gone: [] });
    expect(outbox.acts()).toEqual([]);
  });

  it('sends nothing from a tab that does not lead, and there too counts what is gone as gone', async () => {
    const { api, tabs, outbox } = setUp({ isLeading: false });
    api.fault = () => null;
    await outbox.put('j', fact(false));
    await outbox.put('j', fact(true));
    expect(outbox.waiting()).toHaveLength(2);
    tabs.tell({ kind: 'acts', put: [], gone: [1, 2] });
    expect(outbox.waiting()).toEqual([]);
    expect(api.posts).toEqual([]);
  });

  it('lets a fact pass a refused permit, and holds the permits behind that until it was seen', async () => {
    const { api, connect, outbox } = setUp();
    const refusedId = await outbox.put('j', PERMIT);
    const held = await outbox.put('j', { ...PERMIT, body: { ...PERMIT.body, proofId: 'q' } });
    const bare = await outbox.put('j', fact(false));
    const elsewhere = await outbox.put('other', PERMIT);
    api.outcome = ({ commandId }) =>
      commandId === refusedId ? { kind: 'refused', status: 409, detail: 'No such proof.' } : { kind: 'kept' };
    await connect();
    await until(() => outbox.refused().length === 1 && outbox.waiting().length === 1);
    expect(api.kept).toEqual([bare, elsewhere]);
    expect(outbox.waiting().map((a) => a.sent.commandId)).toEqual([held]);
    await outbox.put('j', sweep('gone'));
    await until(() => api.kept.length === 3);
    await outbox.dismissRefused('j');
    await until(() => outbox.acts().length === 0);
    expect(api.kept.at(-1)).toBe(held);
  });

  it('marks with a refused permit those that name it', async () => {
    const { api, connect, outbox } = setUp();
    const first = (await outbox.put('j', PERMIT)) ?? '';
    await outbox.put('j', { ...PERMIT, body: { ...PERMIT.body, proofId: first } });
    api.outcome = ({ commandId }) => (commandId === first ? { kind: 'refused', status: 409, detail: 'No such proof.' } : { kind: 'kept' });
    await connect();
    await until(() => outbox.refused().length === 2);
    expect(details(outbox.refused())).toEqual(['No such proof.', 'It builds on an act that was refused: No such proof.']);
    expect(api.kept).toEqual([]);
  });

  it('sends a withdrawal behind the permit that it takes back, and ahead of all where that is kept', async () => {
    const { api, connect, outbox } = setUp();
    const permit = (await outbox.put('j', PERMIT)) ?? '';
    const withdrawn = await outbox.put('j', { type: 'act.withdrawn', body: { commandId: permit, reason: 'mistyped' } });
    const old = await outbox.put('j', { type: 'act.withdrawn', body: { commandId: 'old', reason: 'mistyped' } });
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(api.kept).toEqual([old, permit, withdrawn]);
  });

  it('forwards facts of another person, and keeps permits for their author', async () => {
    const { api, tabs, who, connect, outbox } = setUp();
    const permit = await outbox.put('j', PERMIT);
    const bare = await outbox.put('j', fact(false));
    who.set(other);
    const own = await outbox.put('j', PERMIT);
    await connect();
    await until(() => api.kept.includes(bare ?? ''));
    await settle();
    // neither the other's permit, nor the own one behind it
    expect(api.kept).toEqual([bare]);
    who.set(person);
    tabs.tell({ kind: 'sessionChanged' });
    await until(() => outbox.acts().length === 1);
    expect(api.kept).toEqual([bare, permit]);
    who.set(other);
    tabs.tell({ kind: 'sessionChanged' });
    await until(() => outbox.acts().length === 0);
    expect(api.kept.at(-1)).toBe(own);
  });

  it('sends facts of a locked screen, and permits when it is unlocked', async () => {
    const { api, tabs, isLocked, connect, outbox } = setUp();
    const permit = await outbox.put('j', PERMIT);
    const bare = await outbox.put('j', fact(false));
    isLocked.set(true);
    await connect();
    await until(() => outbox.acts().length === 1);
    await settle();
    expect(api.kept).toEqual([bare]);
    isLocked.set(false);
    tabs.tell({ kind: 'sessionChanged' });
    await until(() => outbox.acts().length === 0);
    expect(api.kept).toEqual([bare, permit]);
  });

  it('sends nothing while nobody is signed in', async () => {
    const { api, tabs, who, connect, outbox } = setUp();
    await outbox.put('j', fact(false));
    who.set(null);
    await connect();
    await settle();
    expect(api.posts).toEqual([]);
    who.set(other);
    tabs.tell({ kind: 'sessionChanged' });
    await until(() => outbox.acts().length === 0);
  });

  it.each([500, 422])('finds the act that a batch fails with %i on by halves, and keeps the others', async (status) => {
    const { api, connect, outbox } = setUp();
    const ids: (string | null)[] = [];
    for (let i = 0; i < 9; i++) ids.push(await outbox.put('j', fact(i % 2 === 0)));
    const elsewhere = await outbox.put('k', fact(false));
    const [poison] = ids.splice(5, 1);
    await connect((acts) => (acts.some((a) => a.commandId === poison) ? status : null));
    await until(() => outbox.waiting().length === (status === 500 ? 1 : 0));
    expect(outbox.refused().map((a) => a.sent.commandId)).toEqual([poison]);
    expect(api.kept.toSorted()).toEqual([...ids, elsewhere].toSorted());
    if (status === 422) expect(details(outbox.refused())).toEqual(['so']);
    else expect(details(outbox.refused())[0]).toMatch(/^The server failed on this act\. It was set aside/);
  });

  it('offers what was set aside again when the stream comes back, or a hand asks for it', async () => {
    const { api, behind$, connect, outbox, store } = setUp();
    const poison = await outbox.put('j', fact(false));
    await connect((acts) => (acts.some((a) => a.commandId === poison) ? 500 : null));
    await until(() => outbox.refused().length === 1);
    // it cannot be dismissed unseen by the server: nobody refused it
    await outbox.dismissRefused('j');
    expect(await store.listWaiting()).toHaveLength(1);
    api.posts.length = 0;
    await outbox.offerAside('j');
    await until(() => api.posts.length === 1 && outbox.refused().length === 1);
    api.fault = () => null;
    behind$.next();
    await until(() => outbox.acts().length === 0);
    expect(api.kept).toEqual([poison]);
  });

  it('refuses what goes to a job that is not there, all of it at once', async () => {
    const { api, connect, outbox } = setUp();
    await outbox.put('gone', fact(false));
    await outbox.put('gone', fact(true));
    const elsewhere = await outbox.put('k', fact(false));
    await connect((_acts, jobId) => (jobId === 'gone' ? 404 : null));
    await until(() => outbox.refused().length === 2 && outbox.waiting().length === 0);
    expect(api.kept).toEqual([elsewhere]);
  });

  it('lets a job rest whose act the server cannot take now, while others go on', async () => {
    const { api, connect, outbox } = setUp();
    const slow = await outbox.put('j', fact(false));
    const elsewhere = await outbox.put('k', fact(false));
    let isBusy = true;
    api.outcome = ({ commandId }) => (commandId === slow && isBusy ? { kind: 'refused', status: 503, detail: 'Busy.' } : { kind: 'kept' });
    await connect();
    await until(() => api.kept.includes(elsewhere ?? '') && outbox.waiting().length === 1);
    expect(outbox.waiting().map((a) => a.sent.commandId)).toEqual([slow]);
    expect(outbox.refused()).toEqual([]);
    isBusy = false;
    await until(() => outbox.acts().length === 0);
  });

  it('sends an act again when the answer to it is lost', async () => {
    const { api, outbox, connect } = setUp();
    const id = await outbox.put('j', fact(false));
    let isLost = true;
    await connect((acts) => {
      if (!isLost) return null;
      api.kept.push(...acts.map((a) => a.commandId));
      return 'unreachable';
    });
    await until(() => api.kept.length > 0);
    isLost = false;
    await until(() => outbox.acts().length === 0);
    expect(new Set(api.kept)).toEqual(new Set([id]));
  });

  it('asks ever more rarely while the server has no time, by one timer, whatever happens on the device meanwhile', async () => {
    const { api, connect, outbox } = setUp();
    for (const job of ['a', 'b', 'c', 'd']) await outbox.put(job, fact(false));
    await connect(() => 429);
    for (let i = 0; i < 40; i++) {
      await outbox.put('a', fact(true));
      await pass(100);
    }
    // pauses of at least 0.25, 0.5, 1 and 2 s, and of 0.75, 1.5 and 3 s at most
    expect(api.posts.length).toBeGreaterThanOrEqual(3);
    expect(api.posts.length).toBeLessThanOrEqual(5);
  });

  it('says that the disk of the server is full, for as long as that is so, and drops nothing', async () => {
    const { api, connect, outbox } = setUp();
    await outbox.put('a', fact(false));
    expect(outbox.hindrance()).toBeNull();
    api.code = 'diskFull';
    await connect(() => 503);
    await until(() => outbox.hindrance() !== null);
    expect(outbox.hindrance()).toBe('the disk of the server is full');
    expect([outbox.waiting().length, outbox.refused().length]).toEqual([1, 0]);
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(outbox.hindrance()).toBeNull();
  });

  it('says that the server is too old for an act, which waits, while other jobs go on', async () => {
    const { api, connect, outbox } = setUp();
    let isOld = true;
    await outbox.put('a', fact(false));
    await outbox.put('b', fact(false));
    api.code = 'tooOld';
    const [later] = outbox.acts();
    api.outcome = ({ commandId }) =>
      isOld && commandId === later?.sent.commandId ? { kind: 'refused', status: 503, detail: 'Too old.' } : { kind: 'kept' };
    await connect();
    await until(() => outbox.acts().length === 1);
    await until(() => outbox.hindrance() !== null);
    expect(outbox.hindrance()).toBe('server too old');
    expect([outbox.waiting().length, outbox.refused().length]).toEqual([1, 0]);
    isOld = false;
    await until(() => outbox.acts().length === 0);
    expect(outbox.hindrance()).toBeNull();
  });

  it('goes on at once when the stream is back', async () => {
    const { api, connect, isLive, outbox } = setUp();
    await outbox.put('a', fact(false));
    api.retryMillisecond = 60_000;
    await connect(() => 503);
    await settle();
    api.fault = () => null;
    isLive.set(true);
    TestBed.tick();
    await until(() => outbox.acts().length === 0);
  });

  it('does not ask before the server wants to be asked', async () => {
    const { api, connect, outbox } = setUp();
    await outbox.put('a', fact(false));
    api.retryMillisecond = 1500;
    await connect(() => 503);
    await until(() => api.posts.length === 1);
    await pass(1400);
    expect(api.posts).toHaveLength(1);
    await until(() => api.posts.length === 2);
  });

  it('offers again to a restored server what it kept within seven days, in the old order', async () => {
    const { api, behind$, connect, outbox, store } = setUp();
    const ids = [await outbox.put('j', fact(false)), await outbox.put('j', PERMIT)];
    await connect();
    await until(() => outbox.acts().length === 0);
    const ago = (millisecond: number, seq: number) => ({
      ...{ seq, jobId: 'j', keptAt: NOW - millisecond, kept: { stream: 'j', first: 1, last: 1, at: '' } },
      sent: { commandId: `old${seq}`, deviceAt: '', by: 'om', version: 1, act: fact(true) },
    });
    await store.moveToSent([ago(OFFERED_MILLISECOND + 1, 90), ago(OFFERED_MILLISECOND - 1, 91)]);
    api.kept.length = 0;
    expect(await store.beginEpoch('one', NOW)).toBe(false);
    expect(await store.beginEpoch('two', NOW)).toBe(true);
    behind$.next();
    await until(() => api.kept.length === 3);
    await until(() => outbox.acts().length === 0);
    // facts ahead
    expect(api.kept).toEqual([ids[0], 'old91', ids[1]]);
    expect(await store.beginEpoch('two', NOW)).toBe(false);
  });

  it('mends half a character, which no server could keep', async () => {
    const { connect, api, outbox, store } = setUp();
    await outbox.put('j', sweep('cut \ud83d'));
    const [waiting] = await store.listWaiting();
    expect(waiting?.sent.act.body).toMatchObject({ restSince: 'cut \ufffd' });
    await connect();
    await until(() => outbox.acts().length === 0);
    expect(api.kept).toHaveLength(1);
  });

  it('says so when nobody is signed in, and keeps nothing', async () => {
    const { who, outbox, store } = setUp();
    who.set(null);
    expect(await outbox.put('j', fact(false))).toBeNull();
    expect(outbox.failure()).toContain('Nobody is signed in');
    expect(await store.listWaiting()).toEqual([]);
  });

  it('says so when the device cannot keep an act', async () => {
    const { outbox, store } = setUp();
    jest.spyOn(store, 'addWaiting').mockRejectedValue(new Error('full'));
    expect(await outbox.put('j', fact(false))).toBeNull();
    expect(outbox.failure()).toContain('its disk may be full');
    expect(outbox.acts()).toEqual([]);
  });
});
