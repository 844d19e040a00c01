import fc from 'fast-check';
import { assign } from './assignment.ts';

function* orders(items: readonly number[]): Generator<number[]> {
  if (items.length === 0) yield [];
  for (const [i, item] of items.entries()) for (const rest of orders([...items.slice(0, i), ...items.slice(i + 1)])) yield [item, ...rest];
}

describe('assign', () => {
  it('solves a textbook case: rows to columns 2, 1, 0 at a cost of 5', () => {
    // C. H. Papadimitriou, K. Steiglitz, Combinatorial Optimization, ch. 11, in the manner of its example (figures from memory)
    const cost = [
      [7, 5, 1],
      [5, 2, 6],
      [2, 8, 9],
    ];
    const columns = assign(cost);
    expect(columns).toEqual([2, 1, 0]);
  });

  it('gives each row a column of its own, at the least cost of all orders', () => {
    const matrices = fc
      .integer({ min: 1, max: 6 })
      .chain((n) => fc.array(fc.array(fc.integer({ min: 0, max: 50 }), { minLength: n, maxLength: n }), { minLength: n, maxLength: n }));
    fc.assert(
      fc.property(matrices, (cost) => {
        const columns = assign(cost);
        const sum = (order: readonly number[]): number => order.reduce((total, column, row) => total + (cost[row]?.[column] ?? NaN), 0);
        expect([...columns].sort((a, b) => a - b)).toEqual(cost.map((_, i) => i));
        expect(sum(columns)).toBe(Math.min(...[...orders(cost.map((_, i) => i))].map(sum)));
      }),
      { numRuns: 150 },
    );
  });
});
