import fc from 'fast-check';
import highsLoader from 'highs';
import { toProgram } from '../../bench/program.ts';
import { createGenerator } from '../random/generator.ts';
import { arrangeModules, type Arrangement, type ArrangeInput } from './arrange.ts';
import type { ArrangeModule } from './module.ts';

function arrangementOf(input: ArrangeInput): Arrangement {
  const found = arrangeModules(input, { now: () => performance.now() });
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
}

function makeModules(count: number, seed: number): ArrangeModule[] {
  const generator = createGenerator(seed);
  return Array.from({ length: count }, (_, i) => ({
    id: `m${i}`,
    capacityAh: Math.round(generator.normal(5.7, 0.25) * 1000) / 1000,
    resistanceMilliohm: Math.round(generator.normal(27, 2) * 10) / 10,
  }));
}

function* permutations<T>(items: readonly T[]): Generator<T[]> {
  if (items.length === 0) yield [];
  for (let i = 0; i < items.length; i++)
    for (const rest of permutations([...items.slice(0, i), ...items.slice(i + 1)])) yield [items[i] as T, ...rest];
}

function measure(order: readonly ArrangeModule[], sizes: readonly number[], weights: readonly number[]): { range: number; heat: number } {
  let at = 0;
  const means = sizes.map((size) => {
    const block = order.slice(at, at + size);
    at += size;
    return block.reduce((sum, m) => sum + m.capacityAh, 0) / size;
  });
  return {
    range: Math.max(...means) - Math.min(...means),
    heat: order.reduce((sum, m, i) => sum + (weights[i] as number) * m.resistanceMilliohm, 0),
  };
}

describe('arrangeModules', () => {
  it('folds pairs: strongest with weakest', () => {
    const modules = [5, 6, 7, 8].map((capacityAh, i) => ({ id: `m${i}`, capacityAh, resistanceMilliohm: 25 }));
    const found = arrangementOf({ modules, blockSizes: [2, 2] });
    expect(found).toMatchObject({ rangeAh: 0, lowerBoundAh: 0, proven: true });
    expect(found.blocks.map((b) => [...b].sort())).toEqual(
      expect.arrayContaining([
        ['m0', 'm3'],
        ['m1', 'm2'],
      ]),
    );
  });

  it('puts the lowest resistance where the stack runs hottest', () => {
    const modules = [30, 20, 25].map((resistanceMilliohm, i) => ({ id: `m${i}`, capacityAh: 5, resistanceMilliohm }));
    const found = arrangementOf({ modules, blockSizes: [1, 1, 1], heatWeights: [1, 2, 1.5] });
    expect(found.blocks.flat()).toEqual(['m0', 'm1', 'm2']);
    expect(found.heatCost).toBeCloseTo(30 + 40 + 37.5, 9);
    expect(found.heatCost).toBeCloseTo(found.heatLowerBound, 9);
  });

  it('pairs like with like at the least sum of ranges within blocks', () => {
    const modules = [5, 9, 5.1, 9.2].map((capacityAh, i) => ({ id: `m${i}`, capacityAh, resistanceMilliohm: 25 }));
    const found = arrangementOf({ modules, blockSizes: [2, 2], pairing: 'alike' });
    expect(found.alikeCostAh).toBeCloseTo(0.3, 9);
    expect(found.alikeLowerBoundAh).toBeCloseTo(0.3, 9);
  });

  it.each([
    [{ modules: [], blockSizes: [] }, 'empty', ['modules']],
    [{ modules: makeModules(3, 1), blockSizes: [2] }, 'mismatch', ['blockSizes']],
    [{ modules: makeModules(2, 1), blockSizes: [2, 0] }, 'impossible', ['blockSizes', 1]],
    [{ modules: makeModules(2, 1), blockSizes: [2], heatWeights: [1] }, 'mismatch', ['heatWeights']],
    [{ modules: makeModules(129, 1), blockSizes: [129] }, 'tooLarge', ['modules']],
  ] as const)('refuses %#', (input, code, path) => {
    expect(arrangeModules(input)).toMatchObject({ kind: 'refused', code, path });
  });

  it.each([[[2, 2]], [[2, 2, 2]], [[1, 2, 3]], [[3, 3]], [[2, 4]], [[1, 1, 2, 2]]])(
    'agrees with trying every order, in range and in heat, in blocks of %j',
    (blockSizes) => {
      fc.assert(
        fc.property(fc.integer({ min: 1, max: 10_000 }), (seed) => {
          const count = blockSizes.reduce((a, b) => a + b, 0);
          const modules = makeModules(count, seed);
          const heatWeights = Array.from({ length: count }, (_, i) => 1 + ((i * 7) % 5) / 5);
          const all = [...permutations(modules)].map((order) => measure(order, blockSizes, heatWeights));
          const range = Math.min(...all.map((m) => m.range));
          const heat = Math.min(...all.filter((m) => m.range <= range + 1e-9).map((m) => m.heat));
          const found = arrangementOf({ modules, blockSizes, heatWeights });
          expect(found.rangeAh).toBeCloseTo(range, 9);
          expect(found.proven).toBe(true);
          // of so few modules every division is weighed
          expect(found.heatCost).toBeCloseTo(heat, 9);
        }),
        { numRuns: 5 },
      );
    },
  );

  it('agrees with a general integer programming solver on unequal blocks', async () => {
    const highs = await highsLoader();
    for (const [seed, sizes] of [
      [11, [2, 2, 4]],
      [12, [2, 4, 4]],
      [13, [3, 2, 4]],
    ] as const) {
      const modules = makeModules(
        sizes.reduce<number>((a, b) => a + b, 0),
        seed,
      );
      const solved = highs.solve(toProgram(modules, sizes));
      expect(solved.Status).toBe('Optimal');
      const found = arrangementOf({ modules, blockSizes: sizes });
      expect(found.proven).toBe(true);
      expect(found.rangeAh).toBeCloseTo(solved.ObjectiveValue, 5);
    }
  }, 60_000);

  it('does not blow up on equal capacities, one block, equal modules or 96 modules in blocks of 4 and 8', () => {
    const equal = Array.from({ length: 28 }, (_, i) => ({ id: `m${i}`, capacityAh: 5.5, resistanceMilliohm: 25 }));
    expect(arrangementOf({ modules: equal, blockSizes: Array<number>(14).fill(2) })).toMatchObject({ rangeAh: 0, proven: true });
    expect(arrangementOf({ modules: equal, blockSizes: [28] })).toMatchObject({ rangeAh: 0, proven: true });
    const sizes = [...Array<number>(8).fill(4), ...Array<number>(8).fill(8)];
    const large = arrangementOf({ modules: makeModules(96, 5), blockSizes: sizes, timeLimitMillisecond: 300 });
    expect(large.lowerBoundAh).toBeLessThanOrEqual(large.rangeAh);
    expect(new Set(large.blocks.flat()).size).toBe(96);
  });

  it.each([1, 2, 3, 4])('never loses a module and never claims less than its bound, %#', (part) => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const modules = makeModules(28, seed);
        const found = arrangementOf({ modules, blockSizes: Array<number>(14).fill(2), heatWeights: modules.map((_, i) => 1 + i / 28) });
        expect([...found.blocks.flat()].sort()).toEqual(modules.map((m) => m.id).sort());
        expect(found.rangeAh).toBeGreaterThanOrEqual(found.lowerBoundAh - 1e-12);
        expect(found.heatCost).toBeGreaterThanOrEqual(found.heatLowerBound - 1e-9);
      }),
      { numRuns: 5, seed: part },
    );
  });

  it('stops when it is told to', () => {
    const input = { modules: makeModules(28, 3), blockSizes: [2, 2, 2, 4, 4, 4, 2, 2, 2, 4] };
    expect(arrangeModules(input, { now: () => performance.now(), isCancelled: () => true })).toMatchObject({
      kind: 'refused',
      code: 'cancelled',
    });
  });
});
