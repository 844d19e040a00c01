import 'fake-indexeddb/auto';
import { effect, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { CutOff, StreamedEvent } from '@estuarine/contract';
import { NO_HASH, DEFAULT_POLICY, fold, FOLD_VERSION, versionOf, writeState, type Act, type Fact, type JobEvent } from '@estuarine/core';
import { Subject } from 'rxjs';
import type * as z from 'zod';
import { onWire, openAct } from '../../test/job.ts';
import { testProfile } from '../../test/profile.ts';
import { Session } from '../session/session.ts';
import { Api, type Reply } from './api.ts';
import { DeviceStore, type WaitingAct } from './store.ts';
import { JobFollow } from './job-follow.ts';
import { JobPapers } from './job-papers.ts';
import { JobWaiting } from './job-waiting.ts';
import { JobLog } from './job-log.ts';
import { Link } from './link.ts';
import { Outbox } from './outbox.ts';
import { Tabs, type TabMessage } from './tabs.ts';
import { pass, until, useVirtualTime } from '../../test/virtual-time.ts';

const profile = testProfile();
const at = '2026-05-04T08:00:00.000Z';
const event = (number: number, act: Act, by = 'om'): JobEvent => ({ number, commandId: `c${number}`, by, at, deviceAt: at, ...act });
const fact = (f: Fact): Act => ({ type: 'fact.stated', body: { stage: 'open', fact: f } });
const OPENED = event(1, openAct(profile, 7));
const PAPERS = { vehicle: { name: 'Test wagon', plate: 'T 7', odometerKilometre: null, note: '' }, customer: null };

/** A server that holds a log. */
class FakeServer {
  events: JobEvent[] = [OPENED];
  isAway = false;
  readonly asked: string[] = [];
  readonly told: [string, unknown][] = [];

  fold = FOLD_VERSION;
  epoch = 'e';
  /** Position that its answers include all events up to. */
  position = 100;
  /** Statuses that it answers the next questions for the job with. */
  readonly faults: number[] = [];
  /** Runs before the next answer is given. */
  meanwhile: (() => void) | null = null;

  async get<S extends z.ZodType>(path: string, schema: S): Promise<Reply<z.output<S>>> {
    this.asked.push(path);
    if (this.isAway) return { kind: 'unreachable' };
    const status = path === '/api/jobs/j' ? this.faults.shift() : undefined;
    if (status !== undefined)
      return { kind: 'problem', retryMillisecond: null, problem: { type: 'x', title: '', status, detail: '', path: [] } };
    const raw = JSON.parse(this.#answer(path)) as unknown;
    const parsed = schema.safeParse(raw);
    await Promise.resolve();
    if (path === '/api/jobs/j') {
      this.meanwhile?.();
      this.meanwhile = null;
    }
    return parsed.success ? { kind: 'answer', position: this.position, value: parsed.data } : { kind: 'strange', raw };
  }

  post(path: string, _schema: unknown, body: unknown): Promise<Reply<object>> {
    this.told.push([path, body]);
    return Promise.resolve({ kind: 'answer', position: null, value: {} });
  }

  sendLast(path: string, body: unknown): void {
    this.told.push([path, body]);
  }

  #answer(path: string): string {
    if (path.startsWith('/api/profiles/')) return JSON.stringify({ profile });
    if (path.startsWith('/api/policies/')) return JSON.stringify({ version: 1, policy: DEFAULT_POLICY });
    if (path.endsWith('/papers')) return JSON.stringify(PAPERS);
    const about = JSON.stringify({
      jobId: 'j',
      fold: this.fold,
      epoch: this.epoch,
      profileId: profile.id,
      profileVersion: profile.version,
    });
    return `${about.slice(0, -1)},"state":${writeState(fold(profile, this.events))}}`;
  }
}

function setUp() {
  const server = new FakeServer();
  const events$ = new Subject<StreamedEvent>();
  const behind$ = new Subject<void>();
  const messages$ = new Subject<TabMessage>();
  const acts = signal<readonly WaitingAct[]>([]);
  /** When the server was last heard; 0: never yet. */
  const heardAt = signal(1);
  const serverNow = signal(Date.parse(at));
  const isTooOld = signal(false);
  const cutOff = signal<readonly CutOff[]>([]);
  const [isLive, isLocked] = [signal(true), signal(false)];
  const epoch = signal('e');
  const confirmedAt = signal(Date.parse(at));
  const delivered: { position: number | null } = { position: 50 };
  const put: Act[] = [];
  const outbox = {
    acts,
    loaded: Promise.resolve(),
    refused: signal<readonly WaitingAct[]>([]),
    put: (_job: string, act: Act) => {
      put.push(act);
      return Promise.resolve('id');
    },
  };
  TestBed.configureTestingModule({
    providers: [
      JobFollow,
      JobWaiting,
      JobPapers,
      JobLog,
      { provide: Api, useValue: server },
      { provide: Outbox, useValue: outbox },
      {
        provide: Session,
        useValue: { person: signal({ id: 'om', name: 'OM', role: 'technician' }), isLocked, whenLeaving: () => undefined },
      },
      {
        provide: Link,
        useValue: {
          ...{ events$, behind$, heardAt, serverNow, isTooOld, cutOff, isLive, epoch, confirmedAt },
          delivered: () => delivered.position,
        },
      },
      { provide: Tabs, useValue: { messages$, tell: (m: TabMessage) => messages$.next(m) } },
    ],
  });
  const log = TestBed.inject(JobLog);
  let seq = 0;
  const wait = (act: Act, commandId: string): void =>
    acts.update((all) => [
      ...all,
      { seq: ++seq, jobId: 'j', sent: { commandId, deviceAt: at, by: 'om', version: versionOf(act), act }, refused: null },
    ]);
  const keep = (first: number, last = first): void => {
    const [act] = acts();
    if (!act) throw new Error('nothing waits');
    acts.update((all) => all.slice(1));
    messages$.next({ kind: 'kept', acts: [{ act, kept: { stream: 'j', first, last, at } }] });
  };
  const link = { isLive, epoch, confirmedAt, delivered };
  return { server, log, acts, events$, behind$, messages$, wait, keep, heardAt, serverNow, isTooOld, cutOff, put, link, isLocked };
}

let position = 50;
const told = (event: ReturnType<typeof onWire>, stream = 'j'): StreamedEvent => ({ position: ++position, stream, event });

useVirtualTime();

afterEach(() => {
  indexedDB = new IDBFactory();
});

describe('an open job', () => {
  it('is fetched, and then follows the stream', async () => {
    const { log, events$ } = setUp();
    await log.open('j');
    expect(log.phase()).toBe('ready');
    expect(log.state()?.intake.opened?.number).toBe(7);
    events$.next(told(onWire(event(2, fact({ kind: 'case', isOpen: true }), 'ts')), 'j'));
    events$.next(told(onWire(event(3, fact({ kind: 'case', isOpen: false }))), 'another'));
    expect(log.state()?.pack.isCaseOpen).toBe(true);
    expect(log.state()?.head).toBe(2);
  });

  it('shows an own act while it waits, though it was heard from somebody else already', async () => {
    const { log, events$, wait } = setUp();
    await log.open('j');
    const act = fact({ kind: 'case', isOpen: true });
    wait(act, 'c2');
    const said = { commandId: 'c2', deviceAt: at, device: { id: 'd', isClockSure: true, turn: 1 }, version: 3, ...act };
    const passed: Act = { type: 'word.passed', body: { of: 'om', said: { ...said, body: { ...act.body } } } };
    events$.next(told(onWire(event(2, passed, 'ts')), 'j'));
    expect([log.kept()?.state.head, log.pendingCount(), log.state()?.pack.isCaseOpen]).toEqual([2, 1, true]);
    events$.next(told(onWire({ ...event(3, act), commandId: 'c2' }), 'j'));
    expect([log.pendingCount(), log.state()?.pack.isCaseOpen, log.state()?.passed]).toEqual([0, true, []]);
  });

  it('counts an own act once when its event comes by the stream before the answer', async () => {
    const { log, events$, wait } = setUp();
    await log.open('j');
    const body = {
      stage: 'strip',
      partId: 'pack-bolt',
      count: 6,
      from: { kind: 'inPlace' },
      to: { kind: 'stud' },
      condition: 'good',
    } as const;
    wait({ type: 'part.moved', body }, 'c2');
    expect(log.ledger()?.out).toBe(6);
    events$.next(told(onWire(event(2, { type: 'part.moved', body })), 'j'));
    expect(log.ledger()?.out).toBe(6);
  });

  it('fetches what lies between when an event is ahead of it', async () => {
    const { server, log, events$ } = setUp();
    await log.open('j');
    server.events = [OPENED, event(2, fact({ kind: 'case', isOpen: true })), event(3, fact({ kind: 'covers', areOff: true }))];
    events$.next(told(onWire(server.events[2] as JobEvent), 'j'));
    await until(() => log.state()?.head === 3);
    expect(log.state()?.pack).toMatchObject({ isCaseOpen: true, bareJoints: Array.from({ length: 29 }, (_, k) => k) });
  });

  it('passes over events that it holds already', async () => {
    const { log, events$ } = setUp();
    await log.open('j');
    events$.next(told(onWire(event(2, fact({ kind: 'case', isOpen: true }))), 'j'));
    const before = log.state();
    events$.next(told(onWire(event(2, fact({ kind: 'case', isOpen: true }))), 'j'));
    expect(log.state()).toBe(before);
  });

  it('shows waiting acts as done, but lets them raise the exposure only', async () => {
    const { log, wait } = setUp();
    await log.open('j');
    wait(fact({ kind: 'case', isOpen: true }), 'w1');
    wait(fact({ kind: 'covers', areOff: true }), 'w2');
    expect(log.state()?.pack.bareJoints).toHaveLength(29);
    expect(log.exposure()?.reachable.volt).toBeCloseTo(28 * 9.6, 6);
    wait(fact({ kind: 'covers', areOff: false }), 'w3');
    expect(log.state()?.pack.bareJoints).toEqual([]);
    expect(log.exposure()?.reachable.volt).toBeCloseTo(28 * 9.6, 6);
    expect(log.pendingCount()).toBe(3);
  });

  it('lets a signed proof lower the line while it stands by the server’s time, and never before that time is known', async () => {
    const { server, log, heardAt, serverNow, wait } = setUp();
    const known = { lowVolt: 9, highVolt: 16 };
    const proof = {
      meterId: 'M-02',
      source: 'battery',
      sourceId: null,
      point: { at: 'carSide', label: 'posts' },
      known,
      limitVolt: 30,
      resolutionVolt: 0.1,
    } as const;
    server.events = [
      OPENED,
      event(2, fact({ kind: 'connectors', are: 'open' })),
      event(3, { type: 'proof.started', body: proof }),
      event(4, { type: 'proof.read', body: { proofId: 'c3', entry: 'plusMinus', volt: 0.4, isFromMeter: false } }),
      event(5, { type: 'proof.signed', body: { proofId: 'c3', until: null, breakMinute: 60 } }),
    ];
    heardAt.set(0);
    await log.open('j');
    expect(log.exposure()?.reachable.volt).toBeCloseTo(28 * 9.6, 6);
    expect(log.isolation()?.standing).toBeNull();
    heardAt.set(1);
    expect(log.exposure()?.reachable.volt).toBe(0.4);
    expect(log.isolation()?.standing?.volt).toBe(0.4);
    wait(fact({ kind: 'key', isAway: false }), 'w1');
    expect(log.exposure()?.reachable.volt).toBeCloseTo(28 * 9.6, 6);
    serverNow.set(Date.parse(at) + 61 * 60_000);
    expect(log.isolation()?.standing).toBeNull();
  });

  it('shows no signature of its own before the server has kept it', async () => {
    const { log, wait } = setUp();
    await log.open('j');
    wait(
      {
        type: 'proof.started',
        body: {
          meterId: 'M-02',
          source: 'battery',
          sourceId: null,
          point: { at: 'carSide', label: 'posts' },
          known: { lowVolt: 9, highVolt: 16 },
          limitVolt: 30,
          resolutionVolt: 0.1,
        },
      },
      'w1',
    );
    wait({ type: 'proof.signed', body: { proofId: 'w1', until: null, breakMinute: 60 } }, 'w2');
    expect(log.state()?.isolate.proofs).toMatchObject([{ proofId: 'w1', signed: null }]);
  });

  it('takes no own act before what was kept ahead of it', async () => {
    const { server, log, wait, keep } = setUp();
    await log.open('j');
    wait(fact({ kind: 'case', isOpen: true }), 'c3');
    server.events = [OPENED, event(2, fact({ kind: 'covers', areOff: true }), 'ts'), event(3, fact({ kind: 'case', isOpen: true }))];
    keep(3);
    // event 2 is not here: the act waits for it, and is counted all the while
    expect(log.kept()?.state.head).toBe(1);
    expect(log.state()?.pack.isCaseOpen).toBe(true);
    await until(() => log.kept()?.state.head === 3);
    expect(log.kept()?.state.pack).toMatchObject({ isCaseOpen: true, bareJoints: Array.from({ length: 29 }, (_, k) => k) });
  });

  it('takes its own act as kept without waiting for the stream', async () => {
    const { log, wait, keep } = setUp();
    await log.open('j');
    wait(fact({ kind: 'plug', isIn: false }), 'w1');
    keep(2);
    expect(log.kept()?.state).toMatchObject({ head: 2, pack: { isPlugIn: false } });
    expect(log.pendingCount()).toBe(0);
  });

  it('judges by the limits that it adopted itself, also where the answer comes before the event', async () => {
    const { server, log, wait, keep } = setUp();
    await log.open('j');
    const adopted: Act = { type: 'policy.adopted', body: { policyVersion: 2 } };
    wait(adopted, 'w1');
    server.events.push(event(2, adopted));
    keep(2);
    // never the new version by the old numbers: both come together, with the job
    expect(log.kept()?.state.policyVersion).not.toBe(2);
    await until(() => log.kept()?.state.policyVersion === 2);
    expect(server.asked).toContain('/api/policies/2');
  });

  it('opens from this device when the server is away, and catches up when it is back', async () => {
    const first = setUp();
    await first.log.open('j');
    await until(() => first.log.phase() === 'ready');
    await pass(50);
    TestBed.resetTestingModule();
    const { server, log, behind$ } = setUp();
    server.isAway = true;
    await log.open('j');
    expect(log.phase()).toBe('ready');
    expect(log.state()?.intake.opened?.number).toBe(7);
    server.isAway = false;
    server.events.push(event(2, fact({ kind: 'case', isOpen: true })));
    behind$.next();
    await until(() => log.state()?.head === 2);
  });

  it('begins on this device when it was opened without a server, and goes on with the server’s number when that has it', async () => {
    const { server, log, wait, behind$ } = setUp();
    await TestBed.inject(DeviceStore).saveAnswer(`/api/profiles/${profile.id}/${profile.version}`, { profile });
    server.isAway = true;
    if (OPENED.type !== 'job.opened') throw new Error('not opened');
    wait({ type: 'job.opened', body: { ...OPENED.body, number: 1 } }, 'w0');
    wait(fact({ kind: 'case', isOpen: true }), 'w1');
    await log.open('j');
    expect(log.phase()).toBe('ready');
    expect(log.kept()?.state.head).toBe(0);
    // the case that is open moved its lid
    expect(log.state()).toMatchObject({ head: 3, pack: { isCaseOpen: true } });
    // the server is back before it has the job: what is typed into meanwhile stays where it is
    const seen: unknown[] = [];
    TestBed.runInInjectionContext(() => effect(() => void seen.push(log.state() === null)));
    server.isAway = false;
    server.faults.push(404);
    behind$.next();
    TestBed.tick();
    await until(() => server.asked.filter((path) => path === '/api/jobs/j').length >= 2);
    TestBed.tick();
    await pass(20);
    TestBed.tick();
    expect(log.phase()).toBe('ready');
    await until(() => log.isFollowing());
    await until(() => log.kept()?.state.intake.opened?.number === 7);
    expect(seen).not.toContain(true);
  });

  it('begins on this device too when the server kept its opening and went away before it told of it', async () => {
    const { server, log, wait, keep, behind$ } = setUp();
    await TestBed.inject(DeviceStore).saveAnswer(`/api/profiles/${profile.id}/${profile.version}`, { profile });
    server.isAway = true;
    if (OPENED.type !== 'job.opened') throw new Error('not opened');
    wait({ type: 'job.opened', body: { ...OPENED.body, number: 1 } }, 'w0');
    const opening = log.open('j');
    keep(1);
    await opening;
    expect(log.phase()).toBe('ready');
    expect(log.state()?.intake.opened).not.toBeNull();
    expect(log.isFollowing()).toBe(false);
    server.isAway = false;
    behind$.next();
    await until(() => log.isFollowing());
    expect(log.state()?.intake.opened?.number).toBe(7);
    TestBed.tick();
    await until(() => log.vehicle().plate === 'T 7');
  });

  it('is asked for again where its opening was kept while the answer that there is none was on its way', async () => {
    const { server, log, wait, keep } = setUp();
    if (OPENED.type !== 'job.opened') throw new Error('not opened');
    wait({ type: 'job.opened', body: { ...OPENED.body, number: 1 } }, 'w0');
    let give = (): void => undefined;
    const get = server.get.bind(server);
    server.get = async (path, schema) => {
      if (path !== '/api/jobs/j') return get(path, schema);
      server.get = get;
      await new Promise<void>((resolve) => (give = resolve));
      server.faults.push(404);
      return get(path, schema);
    };
    const opening = log.open('j');
    await pass(20);
    keep(1);
    give();
    await opening;
    await until(() => log.isFollowing());
    expect(log.state()?.intake.opened?.number).toBe(7);
  });

  it('says that it cannot be fetched where neither server nor device knows it', async () => {
    const { server, log } = setUp();
    server.isAway = true;
    await log.open('j');
    expect(log.phase()).toBe('unreachable');
  });

  it('never folds what a newer release recorded: it says that it is too old', async () => {
    const { log, events$ } = setUp();
    await log.open('j');
    const newer = { ...onWire(event(2, fact({ kind: 'case', isOpen: true }))), version: 99 };
    events$.next(told(newer));
    expect(log.phase()).toBe('tooOld');
    expect(log.kept()?.state).toMatchObject({ head: 1, pack: { isCaseOpen: false } });
  });

  it('takes no state of another fold from the server', async () => {
    const { server, log } = setUp();
    server.fold = FOLD_VERSION + 1;
    await log.open('j');
    expect(log.phase()).toBe('tooOld');
    expect(log.state()).toBeNull();
  });

  it('drops what another application folded on this device', async () => {
    const store = new DeviceStore();
    const policy = DEFAULT_POLICY;
    const snapshot = { jobId: 'j', epoch: 'e', fold: FOLD_VERSION - 1, state: fold(profile, [OPENED]), profile, policy };
    await store.saveJob(snapshot);
    expect(await store.findJob('j')).toBeUndefined();
    await store.saveJob({ ...snapshot, fold: FOLD_VERSION });
    expect((await store.findJob('j'))?.state).toEqual(snapshot.state);
  });

  it('folds nothing on while the server’s beats tell of another fold', async () => {
    const { log, events$, isTooOld } = setUp();
    await log.open('j');
    isTooOld.set(true);
    events$.next(told(onWire(event(2, fact({ kind: 'case', isOpen: true }))), 'j'));
    expect(log.kept()?.state.head).toBe(1);
    expect(log.phase()).toBe('tooOld');
  });

  it('tells the vehicle from its papers, and asks again when they are erased', async () => {
    const { server, log, events$ } = setUp();
    await log.open('j');
    await until(() => log.vehicle().plate === 'T 7');
    const before = server.asked.length;
    events$.next({ position: 9, stream: 'shop', number: 9, type: 'vehicle.erased' });
    expect(server.asked.slice(before)).toEqual(['/api/jobs/j/papers']);
  });

  it('shows nothing of the papers of the job that was open before', async () => {
    const { log } = setUp();
    await log.open('j');
    await until(() => log.vehicle().plate === 'T 7');
    const opening = log.open('k');
    expect(log.vehicle()).toEqual({ name: 'vehicle not fetched', plate: 'not noted' });
    await opening;
  });

  it('shows corrected papers at once, and asks for them when the job names other rows, whoever corrected them', async () => {
    const { server, log, events$, acts } = setUp();
    await log.open('j');
    await until(() => log.vehicle().plate === 'T 7');
    const papers = { vehicle: { name: 'Knot van', plate: 'T 8', odometerKilometre: null, note: '' }, customer: null };
    TestBed.tick();
    await log.correctPapers(papers);
    const body = { vehicle: { id: 'v2', hash: NO_HASH }, customer: null };
    const corrected: Act = { type: 'papers.corrected', body };
    const sent = { commandId: 'w9', deviceAt: at, by: 'om', version: 1, act: corrected, papers };
    const waiting = { seq: 1, jobId: 'j', sent, refused: null } as unknown as WaitingAct;
    acts.set([waiting]);
    expect(log.vehicle().plate).toBe('T 8');
    // refused: what the server has stands
    acts.set([{ ...waiting, refused: { detail: 'Other papers have the id v2.' } } as WaitingAct]);
    expect(log.vehicle().plate).toBe('T 7');
    acts.set([]);
    const before = server.asked.length;
    server.events.push(event(2, corrected));
    events$.next(told(onWire(event(2, corrected)), 'j'));
    TestBed.tick();
    await until(() => server.asked.slice(before).includes('/api/jobs/j/papers'));
  });

  it('raises the line by a count that waits, and moves the parts by a fact that waits', async () => {
    const { log, wait } = setUp();
    await log.open('j');
    const [from, to] = [{ kind: 'inPlace' }, { kind: 'onPart' }] as const;
    wait({ type: 'part.moved', body: { stage: 'strip', partId: 'hv-cable', count: 2, from, to, condition: 'good' } }, 'w1');
    expect(log.exposure()?.reachable.volt).toBeCloseTo(28 * 9.6, 6);
    expect(log.state()?.pack.connectors).toBe('open');
    wait(fact({ kind: 'covers', areOff: true }), 'w2');
    expect(log.ledger()?.parts.find((b) => b.part.id === 'post-cover')?.out).toBe(2);
    expect(log.highestPossible()).toBeGreaterThanOrEqual(log.exposure()?.reachable.volt ?? Infinity);
  });

  it('asks once where the parts of a fact were counted otherwise, and keeps nothing until that is answered', async () => {
    const { log, wait, put } = setUp();
    await log.open('j');
    const [from, to] = [{ kind: 'inPlace' }, { kind: 'onPart' }] as const;
    wait({ type: 'part.moved', body: { stage: 'open', partId: 'post-cover', count: 1, from, to, condition: 'good' } }, 'w1');
    const off: Fact = { kind: 'covers', areOff: true };
    await log.stateFact('open', off);
    expect(log.asked()).toMatchObject({ fact: off, differ: ['terminal cover: 1 of 2 counted off'] });
    expect(put).toEqual([]);
    await log.stateFact('open', off, 'all');
    expect(log.asked()).toBeNull();
    expect(put).toEqual([{ type: 'fact.stated', body: { stage: 'open', fact: off, counts: 'all' } }]);
    // where nothing was counted nothing is asked
    await log.stateFact('open', { kind: 'case', isOpen: true });
    expect(put).toHaveLength(2);
  });

  it('names what is counted otherwise than it is stated', async () => {
    const { log, wait } = setUp();
    await log.open('j');
    const [from, to] = [{ kind: 'inPlace' }, { kind: 'onPart' }] as const;
    wait({ type: 'part.moved', body: { stage: 'strip', partId: 'pack-bolt', count: 5, from, to, condition: 'good' } }, 'w1');
    expect(log.disagreements()).toEqual([]);
    wait({ type: 'fact.stated', body: { stage: 'strip', fact: { kind: 'pack', isOnBench: true }, counts: 'asCounted' } }, 'w2');
    expect(log.disagreements()).toEqual(['pack bolt M8: 5 of 6 counted off']);
  });

  it('fetches what a kept act meant besides, instead of taking the act alone', async () => {
    const { log, wait, keep, server } = setUp();
    await log.open('j');
    wait(fact({ kind: 'case', isOpen: true }), 'w1');
    server.events.push(event(2, fact({ kind: 'case', isOpen: true })), event(3, fact({ kind: 'covers', areOff: true })));
    keep(2, 3);
    // until its events are here it is shown as before, and raises what it raised
    expect(log.state()?.pack.isCaseOpen).toBe(true);
    expect(log.pendingCount()).toBe(0);
    await until(() => log.kept()?.state.head === 3);
    expect(log.kept()?.state.pack.bareJoints).toHaveLength(29);
  });

  it('tells the server which job is open here, and names other devices of it that are cut off', async () => {
    const { log, server, cutOff } = setUp();
    await log.open('j');
    const own = TestBed.inject(DeviceStore).deviceId;
    expect(server.told).toEqual([[`/api/devices/${own}`, { jobId: 'j', isOpen: true }]]);
    const away = { deviceId: 'tablet', jobId: 'j', by: 'ts', since: at };
    cutOff.set([away, { ...away, jobId: 'another' }, { ...away, deviceId: own }]);
    expect(log.cutOff()).toEqual([away]);
    log.leave();
    expect(server.told.at(-1)).toEqual([`/api/devices/${own}`, { jobId: 'j', isOpen: false }]);
  });

  it('has one next for every place of the screen', async () => {
    const { log, wait } = setUp();
    await log.open('j');
    expect(log.next()).toMatchObject({ stepId: 'key', text: 'park brake on, ignition off, key out and away' });
    expect(log.next()?.stepId).toBe(log.isolation()?.nextId);
    wait(fact({ kind: 'key', isAway: true }), 'w1');
    expect(log.next()?.stepId).toBe('gear');
  });
});

describe('what is shown of a job', () => {
  const caseOpen = fact({ kind: 'case', isOpen: true });

  it('is certain once it was fetched behind all that the stream passed on, and while beats confirm it', async () => {
    const { log, link } = setUp();
    await log.open('j');
    expect(log.isFollowing()).toBe(true);
    expect(log.staleSince()).toBeNull();
    TestBed.tick();
    link.isLive.set(false);
    expect(log.isFollowing()).toBe(false);
    // as of the last beat that confirmed it
    expect(log.staleSince()).toBe(Date.parse(at));
    link.isLive.set(true);
    expect(log.isFollowing()).toBe(true);
  });

  it('is not, while its fetch is refused, however live the stream is; and it is asked again by itself', async () => {
    const first = setUp();
    await first.log.open('j');
    await pass(50);
    TestBed.resetTestingModule();
    const { server, log } = setUp();
    server.faults.push(503, 503);
    await log.open('j');
    expect(log.state()?.intake.opened?.number).toBe(7);
    expect(log.isFollowing()).toBe(false);
    expect(log.staleSince()).toBe(Date.parse(at));
    await until(() => log.isFollowing());
    expect(server.asked.filter((path) => path === '/api/jobs/j')).toHaveLength(3);
  });

  it('is not, where the answer is older than what was passed on', async () => {
    const { server, log } = setUp();
    server.position = 49;
    await log.open('j');
    expect(log.isFollowing()).toBe(false);
    server.position = 50;
    await until(() => log.isFollowing());
  });

  it('is not, before the stream has said where it stands', async () => {
    const { log, link, behind$ } = setUp();
    link.delivered.position = null;
    await log.open('j');
    expect(log.phase()).toBe('ready');
    expect(log.isFollowing()).toBe(false);
    link.delivered.position = 50;
    behind$.next();
    await until(() => log.isFollowing());
  });

  it('loses no event that comes while it is fetched', async () => {
    const { server, log, events$ } = setUp();
    server.meanwhile = () => {
      server.events.push(event(2, caseOpen));
      events$.next(told(onWire(event(2, caseOpen))));
    };
    await log.open('j');
    await until(() => log.state()?.head === 2);
    expect(log.isFollowing()).toBe(true);
  });

  it('is fetched again and again after something may have been missed, until an answer comes', async () => {
    const { server, log, behind$ } = setUp();
    await log.open('j');
    server.events.push(event(2, caseOpen));
    server.faults.push(503, 429, 500);
    behind$.next();
    expect(log.isFollowing()).toBe(false);
    await until(() => log.isFollowing());
    expect(log.state()?.head).toBe(2);
  });

  it('hears no answer that was overtaken by a later question', async () => {
    const { server, log, behind$ } = setUp();
    await log.open('j');
    let give = (): void => undefined;
    const get = server.get.bind(server);
    server.get = async (path, schema) => {
      server.get = get;
      await new Promise<void>((resolve) => (give = resolve));
      server.faults.push(404);
      return get(path, schema);
    };
    behind$.next();
    await pass(5);
    behind$.next();
    await until(() => log.isFollowing());
    give();
    await pass(20);
    expect(log.state()?.head).toBe(1);
    expect(log.isFollowing()).toBe(true);
  });

  it('is stale while an event is ahead of it', async () => {
    const { server, log, events$ } = setUp();
    await log.open('j');
    server.faults.push(503);
    server.events.push(event(2, caseOpen), event(3, fact({ kind: 'covers', areOff: true })));
    events$.next(told(onWire(event(3, fact({ kind: 'covers', areOff: true })))));
    expect(log.isFollowing()).toBe(false);
    await until(() => log.isFollowing());
    expect(log.state()?.pack).toMatchObject({ isCaseOpen: true, bareJoints: Array.from({ length: 29 }, (_, k) => k) });
  });

  it('is dropped when the shop was restored, and is what the other log says', async () => {
    const { server, log, link, behind$, events$ } = setUp();
    await log.open('j');
    server.events.push(event(2, caseOpen));
    events$.next(told(onWire(event(2, caseOpen))));
    expect(log.state()?.pack.isCaseOpen).toBe(true);
    server.events = [OPENED];
    server.epoch = 'restored';
    link.epoch.set('restored');
    behind$.next();
    expect(log.state()).toBeNull();
    await until(() => log.isFollowing());
    expect(log.state()).toMatchObject({ head: 1, pack: { isCaseOpen: false } });
  });

  it('stays when something was missed before it is known of which log the stream is', async () => {
    const { log, link, behind$ } = setUp();
    await log.open('j');
    link.epoch.set(null as unknown as string);
    behind$.next();
    expect(log.state()?.head).toBe(1);
    link.epoch.set('e');
    behind$.next();
    await until(() => log.isFollowing());
  });

  it('holds acts of this device that the server has kept and that are not in what it saw last', async () => {
    const first = setUp();
    await first.log.open('j');
    await pass(50);
    const store = TestBed.inject(DeviceStore);
    const sent = { commandId: 'w1', deviceAt: at, by: 'om', version: versionOf(caseOpen), act: caseOpen };
    await store.moveToSent([{ seq: 9, jobId: 'j', sent, kept: { stream: 'j', first: 2, last: 3, at }, keptAt: Date.parse(at) }]);
    TestBed.resetTestingModule();
    const { server, log } = setUp();
    server.isAway = true;
    await log.open('j');
    expect(log.kept()?.state.head).toBe(1);
    expect(log.state()?.pack.isCaseOpen).toBe(true);
    expect(log.pendingCount()).toBe(0);
  });

  it('asks nothing and hears nothing once the page is gone', async () => {
    const { server, log, events$, behind$, messages$ } = setUp();
    await log.open('j');
    TestBed.resetTestingModule();
    const before = server.asked.length;
    behind$.next();
    events$.next(told(onWire(event(3, caseOpen))));
    await pass(20);
    expect(server.asked).toHaveLength(before);
    expect([events$, behind$, messages$].map((s) => s.observed)).toEqual([false, false, false]);
  });

  it('is not cut off while the screen is locked and nothing waits', async () => {
    const { server, log, isLocked } = setUp();
    await log.open('j');
    TestBed.tick();
    isLocked.set(true);
    TestBed.tick();
    expect(server.told.at(-1)?.[1]).toEqual({ jobId: 'j', isOpen: false });
    isLocked.set(false);
    TestBed.tick();
    expect(server.told.at(-1)?.[1]).toEqual({ jobId: 'j', isOpen: true });
  });
});
