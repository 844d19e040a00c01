import { TestBed } from '@angular/core/testing';
import { jest } from '@jest/globals';
import { Api } from '../../transport/api.ts';
import { DrainRun, type Drain } from './drain-run.ts';

const DRAIN: Drain = { jobId: 'j1', reader: { instrumentId: 'r', isSimulated: true }, ampere: 6.5 };
const told = (percent: number) => ({
  kind: 'answer',
  value: { blockVolts: [15, 15], ampere: 6.4, chargePercent: percent, celsius: [21], readerVersion: '1' },
});

let begun: DrainRun | null = null;

/** A car that gives these answers one after the other, the last one for ever. */
function run(...answers: unknown[]) {
  const asked: { path: string; second: number }[] = [];
  const post = (path: string, _schema: unknown, body: { load: { second: number } }): Promise<unknown> => {
    asked.push({ path, second: body.load.second });
    return Promise.resolve(answers[Math.min(asked.length, answers.length) - 1]);
  };
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: { post } }] });
  begun = TestBed.inject(DrainRun);
  return { drain: begun, asked };
}

/** Lets so many questions be asked: each has its pause of virtual time. */
async function pass(questions: number): Promise<void> {
  for (let i = 0; i < questions; i++) await jest.advanceTimersByTimeAsync(250);
}

beforeEach(() => void jest.useFakeTimers());
afterEach(() => {
  begun?.stop();
  jest.useRealTimers();
});

it('goes on past an answer that never came, and asks for the same second again', async () => {
  const { drain, asked } = run(told(60), { kind: 'unreachable' }, { kind: 'unreachable' }, told(59), told(58));
  drain.begin(DRAIN);
  await pass(2);
  expect([drain.isRunning(), drain.missed(), drain.samples().length]).toEqual([true, 2, 1]);
  expect(drain.fault()).toMatch(/cannot be reached/);
  await pass(2);
  expect(drain.samples().map((s) => [s.second, s.percent])).toEqual([[0, 60], [30, 59], [60, 58]]); // prettier-ignore
  expect(asked.slice(0, 5).map((a) => a.second)).toEqual([0, 30, 30, 30, 60]);
  expect([drain.missed(), drain.fault()]).toEqual([0, '']);
});

it('goes on while nobody looks, for its own job, until it is stopped', async () => {
  const { drain, asked } = run(told(60));
  drain.begin(DRAIN);
  await pass(5);
  expect(asked.every((a) => a.path === '/api/jobs/j1/car/watch')).toBe(true);
  expect(drain.samples().length).toBeGreaterThan(4);
  drain.stop();
  const before = asked.length;
  await pass(5);
  expect([asked.length, drain.isRunning()]).toEqual([before, false]);
  expect(drain.samples().length).toBeGreaterThan(4);
});

it('ends where another try changes nothing, where it is over, and after minutes without an answer', async () => {
  const gone = run(told(60), { kind: 'problem', problem: { status: 404, detail: 'There is no such reader.' } });
  gone.drain.begin(DRAIN);
  await pass(3);
  expect([gone.drain.isRunning(), gone.drain.fault(), gone.asked.length]).toEqual([false, 'There is no such reader.', 2]);
  TestBed.resetTestingModule();
  const whole = run(told(60));
  whole.drain.begin(DRAIN);
  await pass(60);
  // 900 s by steps of 30, the first at 0
  expect([whole.drain.isRunning(), whole.drain.samples().length]).toEqual([false, 31]);
  TestBed.resetTestingModule();
  const silent = run({ kind: 'unreachable' });
  silent.drain.begin(DRAIN);
  await pass(100);
  expect([silent.drain.isRunning(), silent.asked.length]).toEqual([false, 60]);
});

it('integrates nothing that the car does not say, and asks again', async () => {
  const { drain } = run({ kind: 'answer', value: { ...told(60).value, ampere: null } }, told(59));
  drain.begin(DRAIN);
  await pass(1);
  expect(drain.samples().map((s) => s.percent)).toEqual([59]);
  drain.clear();
  expect([drain.drain(), drain.samples().length]).toEqual([null, 0]);
});
