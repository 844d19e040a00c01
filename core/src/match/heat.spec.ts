import { divisions } from '../../test/divisions.ts';
import { createGenerator, shuffle } from '../random/generator.ts';
import { boundHeat, coolBlocks, heatOf, placeBlocks, type HeatInput } from './heat.ts';
import { placesOf, rangeOfBlocks, SAME_RANGE } from './partition.ts';

/** Figures that repeat: weights and resistances in coarse steps, capacities as asked. */
function inputOf(seed: number, sizes: readonly number[], capacityOf: (module: number, below: (n: number) => number) => number): HeatInput {
  const random = createGenerator(seed);
  const count = sizes.reduce((a, b) => a + b, 0);
  const list = (of: (i: number) => number): number[] => Array.from({ length: count }, (_, i) => of(i));
  const below = (n: number): number => random.below(n);
  return {
    sizes,
    weights: list(() => 1 + below(50) / 50),
    resistances: list(() => 20 + below(100) / 10),
    capacities: list((i) => capacityOf(i, below)),
  };
}

/** What holds of every plan: nothing lost, blocks of their sizes, no wider than before, and the heat that it says. */
function check(input: HeatInput, start = placesOf(input.sizes)) {
  const plan = coolBlocks(start, input);
  expect(plan.blocks.map((b) => b.length)).toEqual(input.sizes);
  expect(plan.blocks.flat().sort((a, b) => a - b)).toEqual(input.capacities.map((_, i) => i));
  expect(rangeOfBlocks(input.capacities, plan.blocks)).toBeLessThanOrEqual(rangeOfBlocks(input.capacities, start) + SAME_RANGE + 1e-12);
  expect(plan.cost).toBe(heatOf(plan.blocks, input));
  expect(plan.cost).toBeGreaterThanOrEqual(boundHeat(input.weights, input.resistances) - 1e-9);
  expect(plan.cost).toBeLessThanOrEqual(placeBlocks(start, input).cost + 1e-12);
  return plan;
}

const PAIRS = Array<number>(8).fill(2);
const SHAPES = [PAIRS, [4, 4, 4, 4], [2, 4, 2, 4, 2, 2], [1, 3, 5, 7], [16]];

describe('the coolest order', () => {
  // with nothing in the way the rearrangement inequality is reached (Hardy, Littlewood and Polya, Inequalities, 1934)
  it.each(SHAPES.map((sizes) => [sizes]))('of modules of one capacity is the bound, in blocks of %j', (sizes) => {
    for (const seed of [1, 2, 3]) {
      const input = inputOf(seed, sizes, () => 5.5);
      const bound = boundHeat(input.weights, input.resistances);
      expect(check(input).cost).toBeLessThanOrEqual(bound * (1 + 1e-4));
    }
  });

  it.each([1, 2, 3, 4, 5, 6])(
    'is no warmer than any of thousands of orders that may be, where only like may change with like, %#',
    (seed) => {
      // in each pair one of 5 and one of 6 Ah: every other division is wider
      const input = inputOf(seed, PAIRS, (i) => 5 + (i % 2));
      const { cost, blocks } = check(input);
      for (const block of blocks) expect(block.reduce((sum, m) => sum + (input.capacities[m] ?? 0), 0)).toBe(11);
      const random = createGenerator(100 + seed);
      const [weak, strong] = [0, 1].map((odd) => input.capacities.flatMap((_, i) => (i % 2 === odd ? [i] : []))) as [number[], number[]];
      for (let trial = 0; trial < 3000; trial++) {
        const [a, b] = [shuffle(weak, random), shuffle(strong, random)];
        const order = PAIRS.map((_, i) => {
          const pair = [a[i] as number, b[i] as number];
          return random.below(2) === 0 ? pair : pair.reverse();
        });
        expect(cost).toBeLessThanOrEqual(heatOf(order, input) + 1e-9);
      }
    },
  );

  it.each([1, 2, 3])('leaves a division within its range though wider ones would be cooler, %#', (seed) => {
    const input = inputOf(seed, [2, 4, 2, 4, 2, 2], (_, below) => 5 + below(200) / 100);
    const before = placeBlocks(placesOf(input.sizes), input);
    const bound = boundHeat(input.weights, input.resistances);
    const { cost } = check(input);
    // swaps within the range take most of what can be had
    expect(cost - bound).toBeLessThan(0.35 * (before.cost - bound));
  });

  it.each([[[2, 2, 2, 2]], [[1, 2, 3]], [[4, 4]], [[3, 3, 2]]])(
    'of few modules is found by weighing every division, in blocks of %j',
    (sizes) => {
      for (const seed of [1, 2, 3]) {
        // in steps of half an Ah many divisions are alike
        const input = inputOf(seed, sizes, (_, below) => 5 + below(3) / 2);
        const start = placesOf(sizes);
        const limit = rangeOfBlocks(input.capacities, start) + SAME_RANGE;
        const best = Math.min(
          ...[
            ...divisions(
              input.capacities.map((_, i) => i),
              sizes,
            ),
          ]
            .filter((blocks) => rangeOfBlocks(input.capacities, blocks) <= limit)
            .map((blocks) => placeBlocks(blocks, input).cost),
        );
        expect(check(input, start).cost).toBeCloseTo(best, 9);
      }
    },
  );
});
