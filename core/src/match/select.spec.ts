import fc from 'fast-check';
import type { PoolModule } from './module.ts';
import { selectModules, type SelectInput, type Selection } from './select.ts';

function selectionOf(input: SelectInput): Selection {
  const found = selectModules(input);
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
}
const module = (id: string, capacityAh: number, resistanceMilliohm: number): PoolModule => ({ id, capacityAh, resistanceMilliohm });

function* combinations<T>(items: readonly T[], count: number): Generator<T[]> {
  if (count === 0) {
    yield [];
    return;
  }
  for (let i = 0; i + count <= items.length; i++)
    for (const rest of combinations(items.slice(i + 1), count - 1)) yield [items[i] as T, ...rest];
}
const spread = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);

describe('selectModules', () => {
  it('takes the strongest, ties by least resistance, then by id', () => {
    const pool = [module('d', 5, 20), module('c', 5, 22), module('b', 6, 30), module('a', 5, 20)];
    expect(selectionOf({ pool, count: 3, objective: 'strongest' }).ids).toEqual(['a', 'b', 'd']);
  });

  it('says why a module is left out and how many are missing', () => {
    const pool = [module('a', 4, 20), { id: 'b', capacityAh: null, resistanceMilliohm: 20 }, module('c', 6, 90)];
    const found = selectionOf({ pool, count: 2, objective: 'strongest', limits: { minCapacityAh: 5, maxResistanceMilliohm: 40 } });
    expect(found).toMatchObject({
      ids: [],
      shortfall: 2,
      excluded: [
        { id: 'a', reasons: ['minCapacityAh'] },
        { id: 'b', reasons: ['missing'] },
        { id: 'c', reasons: ['maxResistanceMilliohm'] },
      ],
    });
  });

  it.each([
    [{ pool: [], count: 0, objective: 'strongest' }, ['count']],
    [{ pool: [module('a', 5, 20), module('a', 5, 20)], count: 1, objective: 'strongest' }, ['pool', 1, 'id']],
    [{ pool: [], count: 1, objective: 'balanced', lambda: -1 }, ['lambda']],
  ] as const)('refuses %#', (input, path) => {
    expect(selectModules(input)).toMatchObject({ kind: 'refused', path });
  });

  it('balances as well as trying every choice', () => {
    const pools = fc.array(fc.tuple(fc.integer({ min: 500, max: 600 }), fc.integer({ min: 20, max: 40 })), { minLength: 4, maxLength: 9 });
    fc.assert(
      fc.property(pools, fc.integer({ min: 1, max: 4 }), fc.constantFrom(0, 0.02, 0.5), (figures, count, lambda) => {
        const pool = figures.map(([c, r], i) => module(`m${i}`, c / 100, r));
        const best = Math.min(
          ...[...combinations(pool, count)].map(
            (set) => spread(set.map((m) => m.capacityAh as number)) + lambda * spread(set.map((m) => m.resistanceMilliohm as number)),
          ),
        );
        const found = selectionOf({ pool, count, objective: 'balanced', lambda });
        expect(found.objectiveValue).toBeCloseTo(best, 9);
        expect(found.ids).toHaveLength(count);
        expect(found.proven).toBe(true);
      }),
      { numRuns: 200 },
    );
  });
});
