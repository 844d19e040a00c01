/** Speed of the fold and of matching. The yardstick of matching is a general integer programming solver at equal result. */
import { readFileSync } from 'node:fs';
import highsLoader from 'highs';
import { checkBars } from '../src/bars/check.ts';
import { findCoolStack } from '../src/cool/stack.ts';
import { extend, fold } from '../src/job/frame/fold.ts';
import { arrangeModules } from '../src/match/arrange.ts';
import { partitionEvenly } from '../src/match/partition.ts';
import { selectModules } from '../src/match/select.ts';
import { readProfile } from '../src/pack/read-profile.ts';
import { createGenerator } from '../src/random/generator.ts';
import { mixedEvents } from '../src/practice/mixed-events.ts';
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

const read = readProfile(JSON.parse(readFileSync(new URL('../profiles/dunlin-28.json', import.meta.url), 'utf8')));
if (read.kind === 'refused') throw new Error(read.message);
const profile = read.value;

const events = mixedEvents(profile, 10_000);
const texts = events.map((e) => JSON.stringify(e));
const few = events.slice(0, 100);
const foldTime = time(() => void fold(profile, events), 9);
const parseTime = time(() => {
  for (const text of texts) JSON.parse(text);
}, 9);
const fewTime = time(() => {
  for (let i = 0; i < 20; i++) fold(profile, few);
}, 9);
report('fold of 10,000 mixed events, over JSON.parse of their texts', `${(foldTime / parseTime).toFixed(2)} x`, 'at most 6');
report('  time an event over that of 100 events', `${(foldTime / 10_000 / (fewTime / 2000)).toFixed(2)} x`, 'at most 1.3');
const long = fold(profile, events.slice(0, -1));
const last = events.slice(-1);
const stepTime = time(() => void extend(long, profile, last), 9);
const wholeCopy = time(() => void structuredClone(long), 9);
report('one event on a state of 10,000, over a copy of the whole state', (stepTime / wholeCopy).toFixed(2), 'printed only');

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

const laid = Array.from({ length: 96 }, (_, i) => ({ position: i + 1, volt: 7.5 + 0.003 * (i % 40), milliohm: 30, turned: i === 40 }));
const barsOf96 = Array.from({ length: 95 }, (_, i) => [`${i + 1}+`, `${i + 2}-`] as const);
const wrong = [10, 25, 50, 70, 90].map((k) => [`${k}-`, `${k + 1}+`] as const);
const outputs = { positive: '96+', negative: '1-' };
const barTime = time(() => void checkBars({ modules: laid, bars: [...barsOf96, ...wrong], outputs, map: barsOf96 }));
report('bars.check, 96 modules with 5 wrong bars and one turned', `${barTime.toFixed(1)} ms`, '16 ms');

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

const stackTime = time(
  () =>
    void findCoolStack({
      ...{ modules: 96, wattsPerModule: 20, airflowCubicMetrePerHour: 200, blockedShare: 0.6, inletCelsius: 25 },
      weights: Array.from({ length: 96 }, (_, i) => 1.5 - Math.abs(i - 47.5) / 95),
    }),
  50,
);
report('air and temperature of 96 modules', `${stackTime.toFixed(2)} ms`, 'within 5 ms');
