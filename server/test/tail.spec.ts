/** What follows the log, by itself: no application around it. */
import { jest } from '@jest/globals';
import pg from 'pg';
import { Tail } from '../src/log/tail.ts';
import { createDatabase, Desk, SHOP, type TestDatabase } from './support.ts';

let db: TestDatabase;
let desk: Desk;
let tail: Tail;
/** Runs before each reading of the log; a throw is a database that is away. */
let before: () => Promise<void> | void;
let readings = 0;
/** Those that were answered. */
let read = 0;

beforeAll(async () => {
  db = await createDatabase();
  desk = new Desk(db);
  await desk.openJob('one');
});
afterAll(() => db.drop());
beforeEach(() => {
  [before, readings, read] = [() => undefined, 0, 0];
  const pool = new Proxy(db.pool, {
    get: (target, key) => {
      if (key !== 'query') return Reflect.get(target, key) as unknown;
      return async (query: { name: string }) => {
        if (query.name !== 'read-after') return target.query(query as never);
        readings++;
        await before();
        const answer = await (target.query(query as never) as unknown as Promise<unknown>);
        read++;
        return answer;
      };
    },
  });
  tail = new Tail(db.url, pool, SHOP);
});
afterEach(async () => {
  jest.restoreAllMocks();
  await tail.close();
});

/** Numbers of the events of a job as a subscriber hears them. */
function listen(jobId: string): { readonly heard: number[]; readonly stop: () => void } {
  const heard: number[] = [];
  const stop = tail.subscribe((events) => heard.push(...events.flatMap(({ event }) => (event.stream === jobId ? [event.number] : []))));
  return { heard, stop };
}
async function until(isSo: () => boolean): Promise<void> {
  for (let i = 0; i < 1000 && !isSo(); i++) await new Promise((resolve) => setTimeout(resolve, 5));
  expect(isSo()).toBe(true);
}
/** Kept by another process that tells nobody. */
async function keep(jobId = 'one'): Promise<void> {
  const outcome = await new Desk(db).keep(jobId, { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } });
  expect(outcome.kind).toBe('kept');
}

it('begins at the end of what is there, and hands out what comes, once and in order, to whoever still listens', async () => {
  await tail.open();
  const begun = tail.cursor;
  expect(begun).toBeGreaterThan(0);
  const [one, other] = [listen('one'), listen('one')];
  await keep();
  tail.look();
  await until(() => one.heard.length === 1);
  expect(tail.cursor).toBeGreaterThan(begun);
  other.stop();
  for (let i = 0; i < 3; i++) await keep();
  tail.look();
  await until(() => one.heard.length === 4);
  const [first = 0] = one.heard;
  expect(one.heard).toEqual([first, first + 1, first + 2, first + 3]);
  expect(other.heard).toEqual([first]);
  expect(tail.headOf('one')).toBe(first + 3);
});

it('reads once at a time, and once more for however many asked meanwhile', async () => {
  await tail.open();
  // once by itself, and once when it listens
  await until(() => readings >= 2 && read === readings);
  let go = (): void => undefined;
  const from = readings;
  before = () => new Promise((resolve) => (go = resolve));
  for (let i = 0; i < 5; i++) tail.look();
  expect(readings).toBe(from + 1);
  before = () => undefined;
  go();
  await until(() => readings >= from + 2);
});

it('looks by itself, also after a time in which the database was away', async () => {
  await tail.open();
  const { heard } = listen('one');
  before = () => Promise.reject(new Error('away'));
  await keep();
  await until(() => readings >= 2);
  expect(heard).toEqual([]);
  before = () => undefined;
  await until(() => heard.length === 1);
});

it('hears what another process tells, and tells others what this one kept: the shop and nothing else', async () => {
  const client = new pg.Client({ connectionString: db.url });
  await client.connect();
  const told: (string | undefined)[] = [];
  client.on('notification', ({ payload }) => told.push(payload));
  await client.query('listen estuarine');
  await tail.open();
  tail.announce('one', 99);
  expect(tail.headOf('one')).toBe(99);
  // one that is older says nothing new
  tail.noteHead('one', 7);
  expect(tail.headOf('one')).toBe(99);
  await until(() => told.length === 1);
  for (let i = 0; i < 20; i++) tail.announce('one', 100 + i);
  await until(() => told.length >= 2);
  await new Promise((resolve) => setTimeout(resolve, 100));
  // what piles up becomes one
  expect(told.length).toBeLessThan(6);
  expect(new Set(told)).toEqual(new Set([SHOP]));
  await client.end();
});

it('vouches for no head that it looked up more than three seconds ago', async () => {
  await tail.open();
  tail.noteHead('one', 5);
  const now = performance.now();
  before = () => Promise.reject(new Error('away'));
  jest.spyOn(performance, 'now').mockReturnValue(now + 3100);
  expect(tail.headOf('one')).toBeUndefined();
});

it('reads nothing any more once it is closed', async () => {
  await tail.open();
  await tail.close();
  const from = readings;
  tail.look();
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(readings).toBe(from);
});
