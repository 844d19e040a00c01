/** Reports being written and lately written, by a printer that prints when it is told to. */
import { jest } from '@jest/globals';
import type { Report } from '@estuarine/core';
import { JobStates } from '../src/jobs/job-states.ts';
import { References } from '../src/profiles/references.ts';
import type { Printer, PrintOptions } from '../src/report/printer.ts';
import { Reports } from '../src/report/reports.ts';
import { createDatabase, Desk, SHOP, type TestDatabase } from './support.ts';

interface Printing {
  readonly report: Report;
  readonly options: PrintOptions;
  readonly end: (bytes: Buffer) => void;
  readonly fail: (why: Error) => void;
}

let db: TestDatabase;
let desk: Desk;
let reports: Reports;
let printings: Printing[] = [];
const now = { at: new Date('2026-05-04T10:00:00Z') };

beforeAll(async () => {
  db = await createDatabase();
  desk = new Desk(db);
  for (const jobId of ['one', 'two']) await desk.openJob(jobId);
});
beforeEach(() => {
  printings = [];
  now.at = new Date('2026-05-04T10:00:00Z');
  const print = (report: Report, _photos: unknown, options: PrintOptions): Promise<Buffer> =>
    new Promise((end, fail) => {
      printings.push({ report, options, end, fail });
      options.signal?.addEventListener('abort', () => fail(new Error('aborted')));
    });
  const references = new References(SHOP);
  const sources = { pool: db.pool, shopId: SHOP, states: new JobStates(SHOP, references), references, isDemo: false };
  reports = new Reports({
    ...{ ...sources, fingerprint: () => Promise.resolve('f'), clock: () => now.at },
    printer: { print } as unknown as Printer,
  });
});
afterAll(() => db.drop());

async function printing(count = 1): Promise<Printing> {
  for (let i = 0; i < 400 && printings.length < count; i++) await new Promise((resolve) => setTimeout(resolve, 5));
  const last = printings[count - 1];
  if (!last) throw new Error(`${printings.length} printings`);
  return last;
}
const settle = (): Promise<unknown> => new Promise((resolve) => setImmediate(resolve));
const problem = async (work: () => unknown): Promise<unknown> => {
  try {
    await work();
  } catch (error) {
    return error;
  }
  return null;
};

it('writes one report for however many ask, tells how far it is, and hands it out once it is ready', async () => {
  const [begun, again] = await Promise.all([reports.begin('one'), reports.begin('one')]);
  expect(begun).toEqual({ reportId: again.reportId, standing: 'running', share: 0, byte: null });
  const one = await printing();
  expect(printings).toHaveLength(1);
  expect(one.report.number).toBe(1);
  expect(one.options.now).toBe(now.at.getTime());
  one.options.onProgress?.(0.4);
  expect(reports.look('one', begun.reportId)).toMatchObject({ standing: 'running', share: 0.4 });
  expect(await problem(() => reports.read('one', begun.reportId))).toMatchObject({ status: 409, code: 'notReady', message: expect.stringContaining('running') as string }); // prettier-ignore
  one.end(Buffer.from('pdf of one'));
  await settle();
  expect(reports.look('one', begun.reportId)).toEqual({ reportId: begun.reportId, standing: 'ready', share: 1, byte: 10 });
  expect((await reports.read('one', begun.reportId)).toString()).toBe('pdf of one');
  // cancelled after the end it stays
  expect(reports.cancel('one', begun.reportId)).toMatchObject({ standing: 'ready' });
});

it('is fresh for ten minutes, and until something was kept on the job', async () => {
  const { reportId } = await reports.begin('one');
  (await printing()).end(Buffer.from('first'));
  await settle();
  now.at = new Date(now.at.getTime() + 10 * 60_000 - 1);
  expect(await reports.begin('one')).toMatchObject({ reportId, standing: 'ready' });
  now.at = new Date(now.at.getTime() + 1);
  expect(await reports.begin('one')).toMatchObject({ reportId, standing: 'running' });
  (await printing(2)).end(Buffer.from('second'));
  await settle();
  await desk.keep('one', { type: 'cause.answered', body: { cause: 'age', isAnswered: true, how: 'worn' } });
  const later = await reports.begin('one');
  expect(later).toMatchObject({ standing: 'running' });
  expect(later.reportId).not.toBe(reportId);
  // of another job it is another, though as long
  expect(await problem(() => reports.look('two', reportId))).toMatchObject({ status: 404, code: 'unknownReport' });
  (await printing(3)).end(Buffer.from('third'));
});

it('is cancelled at once, by the signal that ends the printing, and written anew when asked for again', async () => {
  const { reportId } = await reports.begin('two');
  const one = await printing();
  expect(reports.cancel('two', reportId)).toMatchObject({ standing: 'cancelled' });
  expect(one.options.signal?.aborted).toBe(true);
  await settle();
  expect(reports.look('two', reportId)).toMatchObject({ standing: 'cancelled', byte: null });
  expect(await reports.begin('two')).toMatchObject({ reportId, standing: 'running' });
  (await printing(2)).end(Buffer.from('anew'));
  await settle();
  expect((await reports.read('two', reportId)).toString()).toBe('anew');
});

it('says that it failed, and tries again when asked again', async () => {
  const told = jest.spyOn(process.stderr, 'write').mockReturnValue(true);
  const { reportId } = await reports.begin('two');
  (await printing()).fail(new Error('no room'));
  await settle();
  expect(reports.look('two', reportId)).toMatchObject({ standing: 'failed', byte: null });
  expect(told).toHaveBeenCalledWith(expect.stringMatching(/^report of two: Error: no room/));
  told.mockRestore();
  expect(await reports.begin('two')).toMatchObject({ reportId, standing: 'running' });
  (await printing(2)).end(Buffer.from('x'));
});

it('keeps the last eight, and none that is under way is let go', async () => {
  const ids: string[] = [];
  const write = async (): Promise<void> => {
    ids.push((await reports.begin('one')).reportId);
    await desk.keep('one', { type: 'cause.answered', body: { cause: 'age', isAnswered: ids.length % 2 === 0, how: `${ids.length}` } });
  };
  await write();
  const first = await printing();
  for (let i = 1; i <= 9; i++) {
    await write();
    (await printing(i + 1)).end(Buffer.from(`${i}`));
    await settle();
  }
  const [underWay = '', oldest = '', next = ''] = ids;
  expect(reports.look('one', underWay)).toMatchObject({ standing: 'running' });
  expect(await problem(() => reports.look('one', oldest))).toMatchObject({ status: 404 });
  expect(await problem(() => reports.look('one', next))).toMatchObject({ status: 404 });
  expect((await reports.read('one', ids[3] ?? '')).toString()).toBe('3');
  first.end(Buffer.from('late'));
  await settle();
  expect((await reports.read('one', underWay)).toString()).toBe('late');
});

it('is of no job that there is not, nor of the shop', async () => {
  for (const jobId of ['nowhere', 'shop']) await expect(reports.begin(jobId)).rejects.toMatchObject({ status: 404, code: 'unknownJob' });
});
