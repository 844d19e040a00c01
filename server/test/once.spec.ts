/** What is kept is kept once and in order, by whoever asks again, at the same moment, or without a device of its own. */
import { jest } from '@jest/globals';
import type { Act, Fact } from '@estuarine/core';
import { findJobExposure, fold } from '@estuarine/core';
import { inTransaction } from '../src/database/database.ts';
import { JobStates, toJobEvent } from '../src/jobs/job-states.ts';
import { keepJobAct } from '../src/jobs/acts.ts';
import { lockStream, readEvents } from '../src/log/store.ts';
import { remake } from '../src/remake.ts';
import { listModules, setQuarantine } from '../src/stock/store.ts';
import { PulseReader } from '../src/stream/pulse.ts';
import { createDatabase, Desk, nextId, openAct, profile, send, SHOP, TECHNICIAN, stockModules, type TestDatabase } from './support.ts';

let db: TestDatabase;
let desk: Desk;

beforeAll(async () => {
  db = await createDatabase();
  desk = new Desk(db);
});
afterAll(() => db.drop());

const fact = (stated: Fact): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact: stated } });

const stock = (...ids: string[]) => stockModules(db.pool, ...ids);

describe('a plan asked for again', () => {
  const plan = (jobId: string, shelfId: string): Act => ({
    type: 'plan.chosen',
    body: {
      ...{ school: 'spotRepair', moduleIds: [shelfId, ...Array.from({ length: 27 }, (_, i) => `${jobId}-${i + 2}`)], fromShelf: [shelfId] },
      ...{ rangeAh: 0, lowerBoundAh: 0, proven: true, blockMeanAh: [], assumedPlaces: [] },
    },
  });
  const withdrawn = (planId: string): Act => ({ type: 'plan.withdrawn', body: { planId } });
  const holder = async (moduleId: string) => (await listModules(db.pool, SHOP)).find((m) => m.moduleId === moduleId)?.reservedBy ?? null;

  it('holds nothing that was given back since, and gives back nothing that was taken since', async () => {
    await stock('ONCE-1');
    await desk.openJob('once');
    const [choose, leave] = [nextId(), nextId()];
    const chosen = await desk.keep('once', plan('once', 'ONCE-1'), choose);
    expect(chosen.kind).toBe('kept');
    expect(await holder('ONCE-1')).not.toBeNull();
    expect((await desk.keep('once', withdrawn(choose), leave)).kind).toBe('kept');
    expect(await desk.keep('once', plan('once', 'ONCE-1'), choose)).toEqual(chosen);
    expect(await holder('ONCE-1')).toBeNull();
    expect((await desk.keep('once', plan('once', 'ONCE-1'))).kind).toBe('kept');
    expect((await desk.keep('once', withdrawn(choose), leave)).kind).toBe('kept');
    expect(await holder('ONCE-1')).not.toBeNull();
  });
});

describe('a module that was dropped', () => {
  const drop = (moduleId: string): Act => ({ type: 'module.dropped', body: { moduleId, note: '' } });
  const takeBack = (commandId: string): Act => ({ type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
  const reasonOf = async (moduleId: string) => (await listModules(db.pool, SHOP)).find((m) => m.moduleId === moduleId)?.quarantine;

  it('is not set aside again by the same word sent again after it was taken back or settled', async () => {
    await stock('DROP-1');
    await desk.openJob('drops');
    const [one, back] = [nextId(), nextId()];
    const said = await desk.keep('drops', drop('DROP-1'), one);
    expect(await reasonOf('DROP-1')).toMatch(/^Dropped at job/);
    await desk.keep('drops', takeBack(one), back);
    expect(await reasonOf('DROP-1')).toBeNull();
    expect(await desk.keep('drops', drop('DROP-1'), one)).toEqual(said);
    expect(await reasonOf('DROP-1')).toBeNull();
    const again = nextId();
    await desk.keep('drops', drop('DROP-1'), again);
    await setQuarantine(db.pool, SHOP, 'DROP-1', null);
    await desk.keep('drops', drop('DROP-1'), again);
    expect(await reasonOf('DROP-1')).toBeNull();
    // nor is it freed by a taking back that is sent again
    await desk.keep('drops', drop('DROP-1'));
    await desk.keep('drops', takeBack(one), back);
    expect(await reasonOf('DROP-1')).toMatch(/^Dropped at job/);
  });

  it('stays set aside while another word of it stands, also when the tables are made anew', async () => {
    await stock('DROP-2');
    await desk.openJob('drops-twice');
    const [one, two] = [nextId(), nextId()];
    await desk.keep('drops-twice', drop('DROP-2'), one);
    await desk.keep('drops-twice', drop('DROP-2'), two);
    await desk.keep('drops-twice', takeBack(two));
    expect(await reasonOf('DROP-2')).toMatch(/^Dropped at job/);
    await remake(db.pool);
    expect(await reasonOf('DROP-2')).toMatch(/^Dropped at job/);
    await desk.keep('drops-twice', takeBack(one));
    expect(await reasonOf('DROP-2')).toBeNull();
  });
});

it('what was handed out of a job stays as it was while others go on with it', async () => {
  await desk.openJob('handed-out');
  const { states } = desk.jobs;
  for (const isFirst of [true, false]) {
    const job = await states.look(db.pool, 'handed-out');
    const text = JSON.stringify(job?.state);
    freeze(job?.state);
    const outcomes = [
      await desk.keep('handed-out', fact({ kind: 'plug', isIn: isFirst })),
      await desk.keep('handed-out', { type: 'use.noted', body: { uses: isFirst ? ['pets'] : [], lookedUp: '', noScan: '' } }),
      await desk.keep('handed-out', { type: 'warranty.given', body: { months: 12, kilometre: null, words: '' } }),
    ];
    expect(outcomes.map((o) => o.kind)).toEqual(['kept', 'kept', 'kept']);
    expect(JSON.stringify(job?.state)).toBe(text);
    expect((await states.look(db.pool, 'handed-out'))?.state.head).toBe((job?.state.head ?? 0) + 3);
  }
});

/** So that whatever changes it in place throws. */
function freeze(value: unknown): void {
  if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return;
  Object.freeze(value);
  for (const held of value instanceof Map ? value.values() : Object.values(value)) freeze(held);
}

it('a stream is locked for whoever decides on it: another waits until that transaction ends', async () => {
  await desk.openJob('locked-once');
  await inTransaction(db.pool, async (first) => {
    await lockStream(first, SHOP, 'locked-once');
    const second = await db.pool.connect();
    try {
      const ask = second.query('select head from stream where shop_id = $1 and stream = $2 for update nowait', [SHOP, 'locked-once']);
      await expect(ask).rejects.toMatchObject({ code: '55P03' });
    } finally {
      second.release();
    }
  });
});

it('a job is taken from memory only where that is not ahead of the head that was locked', async () => {
  await desk.openJob('ahead');
  await desk.keep('ahead', fact({ kind: 'plug', isIn: false }));
  const states = new JobStates(SHOP, desk.jobs.references);
  const job = await states.look(db.pool, 'ahead');
  const head = job?.state.head ?? 0;
  expect(head).toBe(3);
  // a transaction that was rolled back, or a restore, left the database behind what this process had folded
  const before = await states.checkOut(db.pool, 'ahead', head - 1);
  expect(before?.state.head).toBe(head - 1);
  expect(before?.state.pack.isPlugIn).toBe(true);
  if (before) states.checkIn('ahead', before);
  const again = await states.checkOut(db.pool, 'ahead', head);
  expect([again?.state.head, again?.state.pack.isPlugIn]).toEqual([head, false]);
});

it('beats are read while anybody follows, each who follows counted once', () => {
  jest.useFakeTimers();
  const reader = new PulseReader({ pool: db.pool, shopId: SHOP } as never);
  const read = jest.spyOn(reader, 'read').mockResolvedValue();
  try {
    const [one, two] = [reader.follow(), reader.follow()];
    jest.advanceTimersByTime(3000);
    expect(read).toHaveBeenCalledTimes(3);
    one();
    one();
    jest.advanceTimersByTime(2000);
    expect(read).toHaveBeenCalledTimes(5);
    two();
    jest.advanceTimersByTime(5000);
    expect(read).toHaveBeenCalledTimes(5);
    const three = reader.follow();
    jest.advanceTimersByTime(1000);
    expect(read).toHaveBeenCalledTimes(6);
    three();
  } finally {
    jest.useRealTimers();
  }
});

describe('acts that name no device', () => {
  const nameless = (jobId: string, act: Act, deviceAt = new Date().toISOString()) => {
    const { device: _, ...sent } = send(act);
    return keepJobAct(desk.jobs, jobId, { ...sent, deviceAt }, TECHNICIAN);
  };
  const stateOf = async (jobId: string) => fold(profile, (await readEvents(db.pool, SHOP, jobId, 0, 1000)).map(toJobEvent));

  it('are unsure against each other: the worst of both holds, whichever came last', async () => {
    await desk.openJob('nameless');
    for (const stated of [
      { kind: 'case', isOpen: true },
      { kind: 'covers', areOff: true },
      { kind: 'covers', areOff: false },
      { kind: 'case', isOpen: false },
    ] as const)
      expect((await nameless('nameless', fact(stated))).kind).toBe('kept');
    const state = await stateOf('nameless');
    expect(state.facts.map((f) => f.came)).toEqual([null, null, 'unclear', 'unclear']);
    expect(findJobExposure(state, profile).reachable.volt).toBeCloseTo(268.8, 6);
    const ids = (await readEvents(db.pool, SHOP, 'nameless', 0, 1000)).slice(2).map((e) => e.device);
    expect(new Set(ids.map((d) => d?.id)).size).toBe(4);
    expect(ids.every((d) => d?.isClockSure === false)).toBe(true);
  });

  it('read as they did where an earlier release kept them', () => {
    const at = (i: number) => new Date(Date.UTC(2026, 4, 4, 8, 0, i)).toISOString();
    const acts = [openAct('old'), fact({ kind: 'case', isOpen: true }), fact({ kind: 'case', isOpen: false })];
    const events = acts.map((act, i) => ({ number: i + 1, commandId: `c${i}`, by: 'om', at: at(i), deviceAt: at(i), ...act }));
    const state = fold(profile, events);
    expect(state.facts.map((f) => f.came)).toEqual([null, null]);
    expect(state.late).toEqual([]);
  });
});
