import { createGenerator } from '../random/generator.ts';
import { findPacks, type PacksInput } from './packs.ts';

const value = (input: PacksInput, now?: () => number) => {
  const found = findPacks(input, now ? { now } : {});
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
};
const shelf = (...figures: readonly (readonly [number, number])[]) =>
  figures.map(([capacityAh, resistanceMilliohm], i) => ({ id: `m${String(i).padStart(3, '0')}`, capacityAh, resistanceMilliohm }));

/** Every pack is disjoint, of its size and within both tolerances, and nothing is lost. */
function check(input: PacksInput): ReturnType<typeof value> {
  const found = value(input);
  const used = found.packs.flat();
  expect(new Set(used).size).toBe(used.length);
  expect([...used, ...found.unused].sort()).toEqual(input.pool.map((m) => m.id).sort());
  for (const pack of found.packs) {
    expect(pack).toHaveLength(input.count);
    const own = pack.map((id) => input.pool.find((m) => m.id === id));
    const spread = (of: (m: (typeof own)[number]) => number): number => Math.max(...own.map(of)) - Math.min(...own.map(of));
    expect(spread((m) => Math.round((m?.capacityAh ?? 0) * 1000))).toBeLessThanOrEqual(Math.round(input.toleranceAh * 1000));
    expect(spread((m) => Math.round((m?.resistanceMilliohm ?? 0) * 10))).toBeLessThanOrEqual(Math.round(input.toleranceMilliohm * 10));
  }
  expect(found.packs.length).toBeLessThanOrEqual(found.upperBound);
  expect(found.proven).toBe(found.packs.length === found.upperBound);
  return found;
}

/** How often the clock is looked at on three shelves: by passes of taking the hardest first, and by steps of the search. */
const LOOKS = [2, 1612, 9];

/** Most disjoint packs, by trying every set of every module. */
function bruteForce({ pool, count, toleranceAh, toleranceMilliohm }: PacksInput): number {
  const known = new Map<number, number>();
  const [c, r] = [pool.map((m) => Math.round((m.capacityAh ?? 0) * 1000)), pool.map((m) => Math.round((m.resistanceMilliohm ?? 0) * 10))];
  const isPack = (places: readonly number[]): boolean =>
    [
      [c, toleranceAh * 1000],
      [r, toleranceMilliohm * 10],
    ].every(([of, most]) => {
      const own = places.map((i) => (of as number[])[i] ?? 0);
      return Math.max(...own) - Math.min(...own) <= Math.round(most as number);
    });
  const most = (left: number): number => {
    const seen = known.get(left);
    if (seen !== undefined) return seen;
    const places = pool.flatMap((_, i) => (left & (1 << i) ? [i] : []));
    const [first] = places;
    let best = 0;
    if (first !== undefined) {
      best = most(left & ~(1 << first));
      const choose = (from: number, chosen: readonly number[]): void => {
        if (chosen.length === count) {
          if (isPack(chosen)) best = Math.max(best, 1 + most(chosen.reduce((rest, i) => rest & ~(1 << i), left)));
          return;
        }
        for (let i = from; i < places.length; i++) choose(i + 1, [...chosen, places[i] as number]);
      };
      choose(1, [first]);
    }
    known.set(left, best);
    return best;
  };
  return most(2 ** pool.length - 1);
}

it.each([5, 6, 7, 8, 9, 10])('finds as many packs as any choice gives, on small shelves, %#', (seed) => {
  const random = createGenerator(seed);
  for (let trial = 0; trial < 10; trial++) {
    const count = 2 + random.below(3);
    const pool = shelf(
      ...Array.from({ length: 5 + random.below(4) }, () => [5 + random.below(9) / 100, 20 + random.below(9) / 10] as const),
    );
    const input = { pool, count, toleranceAh: 0.01 * (1 + random.below(5)), toleranceMilliohm: 0.1 * (1 + random.below(5)) };
    const found = check(input);
    expect(found.packs).toHaveLength(bruteForce(input));
    expect(found.proven).toBe(true);
  }
});

it.each([1, 2, 3])(
  'on larger shelves does no more work than it takes, counted by looks at the clock, and lists ids in order, %#',
  (seed) => {
    const random = createGenerator(seed);
    const pool = shelf(...Array.from({ length: 24 }, () => [5 + random.below(20) / 100, 20 + random.below(20) / 10] as const)).reverse();
    let looks = 0;
    const input = { pool, count: 4, toleranceAh: 0.06, toleranceMilliohm: 0.8 };
    const found = value(input, () => ++looks / 1e6);
    check(input);
    expect(looks).toBeLessThanOrEqual(LOOKS[seed - 1] ?? 0);
    expect(found.proven).toBe(true);
    for (const pack of found.packs) expect(pack).toEqual([...pack].sort());
    expect(found.packs.map((p) => p[0])).toEqual(found.packs.map((p) => p[0]).sort());
    expect(found.unused).toEqual([...found.unused].sort());
  },
);

it('takes no pack for another at the very edge: steps of 1 mAh and 0.1 mΩ, not of floating point', () => {
  // 5.3 - 5.2 is 0.09999999999999964 and 20.3 - 20.2 is 0.10000000000000142
  expect(check({ pool: shelf([5.2, 20.2], [5.3, 20.3]), count: 2, toleranceAh: 0.1, toleranceMilliohm: 0.1 }).packs).toHaveLength(1);
  expect(check({ pool: shelf([5.2, 20.2], [5.301, 20.3]), count: 2, toleranceAh: 0.1, toleranceMilliohm: 0.1 }).packs).toHaveLength(0);
});

it('finds packs that were hidden among others, and proves it', () => {
  const random = createGenerator(9);
  const centres = Array.from({ length: 6 }, (_, i) => [4.5 + 0.2 * i, 20 + 2 * random.next()] as const);
  const figures = centres.flatMap(([c, r]) =>
    Array.from({ length: 28 }, () => [c + 0.05 * random.next(), r + 0.4 * random.next()] as const),
  );
  const found = check({ pool: shelf(...figures), count: 28, toleranceAh: 0.051, toleranceMilliohm: 0.5 });
  expect(found.packs).toHaveLength(6);
  expect(found).toMatchObject({ upperBound: 6, proven: true, unused: [] });
});

it('leaves out what was not measured, and says what is left', () => {
  const pool = [...shelf([5, 20], [5, 20], [5, 20]), { id: 'x', capacityAh: null, resistanceMilliohm: 20 }];
  expect(value({ pool, count: 2, toleranceAh: 0, toleranceMilliohm: 0 })).toMatchObject({ upperBound: 1, unused: ['m002', 'x'] });
  expect(value({ pool: [], count: 2, toleranceAh: 0, toleranceMilliohm: 0 })).toEqual({
    packs: [],
    upperBound: 0,
    unused: [],
    proven: true,
  });
});

it('ends when its time is over, with packs that hold and a bound that does', () => {
  const random = createGenerator(3);
  const pool = shelf(...Array.from({ length: 90 }, () => [5 + random.next(), 20 + 10 * random.next()] as const));
  let time = 0;
  const found = value({ pool, count: 4, toleranceAh: 0.15, toleranceMilliohm: 1.5, timeLimitMillisecond: 400 }, () => (time += 20));
  expect(found.packs.length).toBeGreaterThan(5);
  expect(found.upperBound).toBeLessThanOrEqual(22);
});

it('honours its time inside a round: over hundreds one alone takes seconds', () => {
  const random = createGenerator(5);
  const pool = shelf(...Array.from({ length: 600 }, () => [5 + random.next() / 10, 20 + random.next()] as const));
  const input = { pool, count: 28, toleranceAh: 0.1, toleranceMilliohm: 1 };
  let time = 0;
  // over after the third look at the clock, long before the 21 packs of the first round are found
  const found = value({ ...input, timeLimitMillisecond: 250 }, () => (time += 100));
  expect(found.packs.length).toBeLessThan(6);
  expect(found).toMatchObject({ upperBound: 21, proven: false });
  expect(found.packs.flat().length + found.unused.length).toBe(600);
});

it.each<[string, Partial<PacksInput>, string]>([
  ['no module', { count: 0 }, 'count'],
  ['half a module', { count: 1.5 }, 'count'],
  ['a tolerance below zero', { toleranceAh: -1 }, 'toleranceAh'],
  ['another below zero', { toleranceMilliohm: -1 }, 'toleranceMilliohm'],
  ['too large a shelf', { pool: shelf(...Array.from({ length: 601 }, () => [5, 20] as const)) }, 'pool'],
  ['a module twice', { pool: [...shelf([5, 20]), ...shelf([5, 20])] }, 'pool'],
])('refuses %s', (_what, over, field) => {
  const found = findPacks({ pool: shelf([5, 20]), count: 1, toleranceAh: 0.1, toleranceMilliohm: 1, ...over });
  expect(found).toMatchObject({ kind: 'refused', path: expect.arrayContaining([field]) as unknown });
});
