/** Speed of the fold and of matching. The yardstick of matching is a general integer programming solver at equal result. */
import { readFileSync } from 'node:fs';
import highsLoader from 'highs';
import { fold } from '../src/job/fold.ts';
import type { JobEvent } from '../src/job/event.ts';
import { arrangeModules } from '../src/match/arrange.ts';
import { partitionEvenly } from '../src/match/partition.ts';
import { selectModules } from '../src/match/select.ts';
import { profileSchema } from '../src/pack/profile.ts';
import { createGenerator } from '../src/random/generator.ts';
import { toProgram } from './program.ts';

function time(work: () => void, least = 5): number {
  work();
  let best = Infinity;
  for (let i = 0; i < least; i++) {
    const begin = performance.now();
    work();
    best = Math.min(best, performance.now() - begin);
  }
  return best;
}
function report(name: string, value: string, budget: string): void {
  process.stdout.write(`${name.padEnd(62)} ${value.padStart(16)}   budget ${budget}\n`);
}

const generator = createGenerator(7);
const modules = (count: number) =>
  Array.from({ length: count }, (_, i) => ({
    id: `m${i}`,
    capacityAh: Math.round(generator.normal(5.7, 0.25) * 1000) / 1000,
    resistanceMilliohm: Math.round(generator.normal(27, 2) * 10) / 10,
  }));
const heatWeights = Array.from({ length: 28 }, (_, i) => 1.5 - Math.abs(i - 13.5) / 27);

const profile = profileSchema.parse(JSON.parse(readFileSync(new URL('../profiles/dunlin-28.json', import.meta.url), 'utf8')));
const header = { by: 'om', at: '2026-01-01T00:00:00.000Z', deviceAt: '2026-01-01T00:00:00.000Z' };
function events(count: number): JobEvent[] {
  const list: JobEvent[] = [
    {
      ...{ ...header, number: 1, commandId: 'c1', type: 'job.opened' },
      body: {
        ...{ number: 1, profileId: profile.id, profileVersion: 1, policyVersion: 1 },
        vehicle: { name: 'bench', plate: '', odometerKilometre: null, note: '' },
        moduleIds: Array.from({ length: 28 }, (_, i) => `m${i}`),
      },
    },
    {
      ...{ ...header, number: 2, commandId: 's', type: 'sweep.started' },
      body: { kind: 'openCircuit', restSince: null, restHour: null, loadAmpere: null, loadSecond: null, resolution: null },
    },
  ];
  for (let n = 3; n <= count; n++)
    list.push({
      ...{ ...header, number: n, commandId: `c${n}`, type: 'reading.taken' },
      body: { sweepId: 's', place: 1 + (n % 28), moduleId: 'm', quantity: 'openCircuitVolt', value: 7.8 },
    });
  return list;
}
const perEvent = (count: number): number => (1000 * time(() => void fold(profile, events(count)), 9)) / count;
const [few, many] = [perEvent(100), perEvent(10_000)];
report('fold, time an event at 10,000 over 100 events', `${(many / few).toFixed(2)} x`, 'flat');

const pairs = modules(28);
const pairSizes = Array<number>(14).fill(2);
const pairTime = time(() => void arrangeModules({ modules: pairs, blockSizes: pairSizes, heatWeights }));
report('match.arrange, 28 in pairs with heat', `${pairTime.toFixed(1)} ms`, '20 ms');

const mixed = modules(28);
const mixedSizes = [2, 4, 2, 4, 2, 4, 2, 4, 4];
const clock = { now: () => performance.now() };
const mixedBegin = performance.now();
const proven = partitionEvenly(
  mixed.map((m) => m.capacityAh),
  mixedSizes,
  5000,
  clock,
);
const mixedTime = performance.now() - mixedBegin;
report(`match.arrange, 28 in blocks of 2 and 4, proven ${String(proven.proven)}`, `${mixedTime.toFixed(0)} ms`, '5000 ms');
const first = partitionEvenly(
  mixed.map((m) => m.capacityAh),
  mixedSizes,
  300,
  clock,
);
report('  first answer within 300 ms, range over the optimum', `${(first.range - proven.range).toFixed(5)} Ah`, '5 % or 0.002 Ah');

const pool = modules(60);
const selectTime = time(() => void selectModules({ pool, count: 28, objective: 'balanced' }));
report('match.select balanced, 28 of 60', `${selectTime.toFixed(1)} ms`, '50 ms');

const highs = await highsLoader();
for (const [name, list, sizes, ours, budget] of [
  [
    '28 in pairs',
    pairs,
    pairSizes,
    time(
      () =>
        void partitionEvenly(
          pairs.map((m) => m.capacityAh),
          pairSizes,
          5000,
          clock,
        ),
    ),
    100,
  ],
  ['28 in blocks of 2 and 4', mixed, mixedSizes, mixedTime, 5],
] as const) {
  // the solver gets the optimum as a target, so that it may stop as soon as its result is equal
  const target = partitionEvenly(
    list.map((m) => m.capacityAh),
    sizes,
    5000,
    clock,
  ).range;
  const limit = Math.max(20, (budget * ours) / 1000 + 10);
  const begin = performance.now();
  const solved = highs.solve(toProgram(list, sizes), { time_limit: limit, objective_target: target + 1e-7 });
  const theirs = performance.now() - begin;
  const isEqual = solved.ObjectiveValue <= target + 1e-6;
  report(
    `integer solver over match.arrange, ${name}${isEqual ? '' : ' (solver stopped short)'}`,
    `${isEqual ? '' : '> '}${(theirs / ours).toFixed(0)} x`,
    `${budget} x`,
  );
}
