import fc from 'fast-check';
import { divisions } from '../../test/divisions.ts';
import { partitionAlike } from './alike.ts';
import { createGenerator } from '../random/generator.ts';
import { boundHeat, heatOf, placeBlocks } from './heat.ts';
import { blockMeans, boundRange, foldPairs, partitionEvenly, rangeOfBlocks } from './partition.ts';

const capacities = (count: number) =>
  fc.array(fc.integer({ min: 4000, max: 6500 }), { minLength: count, maxLength: count }).map((list) => list.map((v) => v / 1000));
/** Blocks, seed of the capacities, how often the clock is looked at (every 512 steps), and the first range over the least. */
const EFFORTS: readonly (readonly [number[], number, number, number])[] = [
  [[2, 4, 2, 4, 4], 1, 1, 1],
  [[3, 3, 3, 3, 3], 2, 2, 1],
  [[2, 2, 2, 4, 4, 4], 3, 4, 1],
  [[1, 2, 3, 4, 5], 4, 608, 1],
  [[4, 4, 4, 4], 5, 7, 1],
  [[2, 4, 2, 4, 2, 4, 2], 6, 8, 1.26],
  [[6, 6, 6], 7, 9, 2],
  [[3, 3, 3, 3, 3, 3], 8, 2, 1],
  [[4, 4, 4, 4, 4], 9, 5, 1.6],
];
const indicesOf = (list: readonly unknown[]): number[] => list.map((_, i) => i);

describe('foldPairs', () => {
  it('has the least range of sums of all pairings: exchanging any two never helps', () => {
    fc.assert(
      fc.property(capacities(8), (list) => {
        const order = indicesOf(list).sort((a, b) => (list[a] as number) - (list[b] as number));
        const folded = rangeOfBlocks(list, foldPairs(order));
        const best = Math.min(...[...divisions(indicesOf(list), [2, 2, 2, 2])].map((blocks) => rangeOfBlocks(list, blocks)));
        expect(folded).toBeCloseTo(best, 9);
      }),
      { numRuns: 15 },
    );
  });
});

describe('boundRange', () => {
  it('never exceeds the least range there is', () => {
    fc.assert(
      fc.property(capacities(6), fc.constantFrom([2, 4], [1, 2, 3], [3, 3], [2, 2, 2]), (list, sizes) => {
        const best = Math.min(...[...divisions(indicesOf(list), sizes)].map((blocks) => rangeOfBlocks(list, blocks)));
        expect(boundRange(list, sizes)).toBeLessThanOrEqual(best + 1e-9);
      }),
      { numRuns: 60 },
    );
  });
});

describe('partitionEvenly', () => {
  it('says what it proved: with no time at all it still divides, and its bound holds', () => {
    let now = 0;
    const list = Array.from({ length: 28 }, (_, i) => 5.2 + ((i * 37) % 28) / 50 + (i % 3) / 333);
    const sizes = [2, 4, 2, 4, 2, 4, 2, 4, 4];
    const hasty = partitionEvenly(list, sizes, 0, { now: () => (now += 50) });
    const patient = partitionEvenly(list, sizes, 20_000, { now: () => 0 });
    expect(patient.proven).toBe(true);
    expect(hasty.lowerBound).toBeLessThanOrEqual(patient.range + 1e-9);
    expect(hasty.range).toBeGreaterThanOrEqual(patient.range - 1e-9);
    expect([...hasty.blocks.flat()].sort((a, b) => a - b)).toEqual(indicesOf(list));
  });

  it.each([[[2, 4]], [[1, 2, 3]], [[3, 3]], [[2, 2, 3]], [[1, 1, 2, 3]], [[4, 3]], [[2, 1, 2, 1]], [[5, 2]]])(
    'has the least range of all divisions into blocks of %j, in the order that was asked for, and proves it',
    (sizes) => {
      const count = sizes.reduce((a, b) => a + b, 0);
      fc.assert(
        fc.property(capacities(count), (list) => {
          const best = Math.min(...[...divisions(indicesOf(list), sizes)].map((blocks) => rangeOfBlocks(list, blocks)));
          const found = partitionEvenly(list, sizes, 1000);
          expect(found.range).toBeCloseTo(best, 9);
          expect(found.range).toBe(rangeOfBlocks(list, found.blocks));
          expect(found).toMatchObject({ proven: true, lowerBound: found.range });
          expect(found.blocks.map((b) => b.length)).toEqual(sizes);
          expect(found.blocks.flat().sort((a, b) => a - b)).toEqual(indicesOf(list));
        }),
        { numRuns: 12, seed: 5 },
      );
    },
  );

  it('blocks of one are as they come, with nothing to choose', () => {
    expect(partitionEvenly([5, 7, 6], [1, 1, 1], 0)).toEqual({ blocks: [[0], [1], [2]], range: 2, lowerBound: 2, proven: true });
  });

  it.each(EFFORTS)('blocks of %j: a good first answer, and no more work than it takes', (sizes, seed, most, share) => {
    const random = createGenerator(seed);
    const count = sizes.reduce((a, b) => a + b, 0);
    const list = Array.from({ length: count }, () => Math.round(random.normal(5.7, 0.25) * 1000) / 1000);
    let looks = 0;
    const patient = partitionEvenly(list, sizes, 1e9, { now: () => ++looks });
    expect(patient.proven).toBe(true);
    expect(looks).toBeLessThanOrEqual(most);
    const first = partitionEvenly(list, sizes, -1, { now: () => 0, isCancelled: () => true });
    expect(first.range).toBeLessThanOrEqual(patient.range * share + 1e-9);
    expect(first.lowerBound).toBeLessThanOrEqual(patient.range + 1e-9);
  });

  it('ends at once when it is cancelled, with a division and a bound that hold', () => {
    const list = Array.from({ length: 28 }, (_, i) => 5.2 + ((i * 37) % 28) / 50 + (i % 3) / 333);
    const cut = partitionEvenly(list, [2, 4, 2, 4, 2, 4, 2, 4, 4], 1e9, { now: () => 0, isCancelled: () => true });
    expect(cut).toMatchObject({ proven: false });
    expect(cut.lowerBound).toBeLessThan(cut.range);
    expect(cut.lowerBound).toBeGreaterThanOrEqual(boundRange(list, [2, 4, 2, 4, 2, 4, 2, 4, 4]));
  });

  it('tells how far it is, never backwards', () => {
    const shares: number[] = [];
    const ranges: number[] = [];
    let tick = 0;
    const list = Array.from({ length: 24 }, (_, i) => 5.2 + ((i * 31) % 24) / 40 + (i % 5) / 777);
    partitionEvenly(list, [2, 4, 2, 4, 4, 4, 4], 3000, {
      now: () => (tick += 1),
      onProgress: (p) => {
        shares.push(p.share);
        ranges.push(p.rangeAh);
        expect(p.lowerBoundAh).toBeLessThanOrEqual(p.rangeAh);
      },
    });
    expect(shares.every((s) => s >= 0 && s <= 1)).toBe(true);
    expect(shares.at(-1)).toBe(1);
    expect(ranges).toEqual(ranges.toSorted((a, b) => b - a));
  });

  it('gives means that the blocks have', () => {
    expect(blockMeans([1, 2, 3, 5], [[0, 1], [2, 3]])).toEqual([1.5, 4]); // prettier-ignore
  });
});

describe('partitionAlike', () => {
  it('has the least sum of ranges within blocks of all divisions', () => {
    fc.assert(
      fc.property(capacities(6), fc.constantFrom([2, 4], [1, 2, 3], [3, 3], [2, 2, 2]), (list, sizes) => {
        const within = (blocks: readonly (readonly number[])[]): number =>
          blocks.reduce((sum, b) => sum + Math.max(...b.map((i) => list[i] as number)) - Math.min(...b.map((i) => list[i] as number)), 0);
        const best = Math.min(...[...divisions(indicesOf(list), sizes)].map(within));
        const found = partitionAlike(list, sizes);
        expect(found?.cost).toBeCloseTo(best, 9);
        expect(found && within(found.blocks)).toBeCloseTo(best, 9);
      }),
      { numRuns: 60 },
    );
  });
});

describe('placeBlocks', () => {
  it('has the least heat of all places of equal blocks and all orders within them', () => {
    const figures = fc.record({
      weights: fc.array(fc.integer({ min: 10, max: 20 }), { minLength: 6, maxLength: 6 }),
      resistances: fc.array(fc.integer({ min: 20, max: 40 }), { minLength: 6, maxLength: 6 }),
    });
    fc.assert(
      fc.property(figures, ({ weights, resistances }) => {
        const sizes = [2, 2, 2];
        const blocks = [[0, 1], [2, 3], [4, 5]]; // prettier-ignore
        const orders = [...divisions([0, 1, 2], [1, 1, 1])].map((o) => o.flat().map((i) => blocks[i] as number[]));
        const turned = orders.flatMap((order) =>
          Array.from({ length: 8 }, (_, bits) => order.map((b, i) => (bits & (1 << i) ? [...b].reverse() : b))),
        );
        const best = Math.min(...turned.map((o) => heatOf(o, { weights, resistances })));
        const found = placeBlocks(blocks, { capacities: [1, 1, 1, 1, 1, 1], weights, resistances, sizes });
        expect(found.cost).toBe(best);
        expect(boundHeat(weights, resistances)).toBeLessThanOrEqual(found.cost);
      }),
      { numRuns: 80 },
    );
  });
});
