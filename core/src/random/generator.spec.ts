import { createGenerator, shuffle } from './generator.ts';

describe('createGenerator', () => {
  it('gives the same numbers for the same seed, and others for another', () => {
    const [a, b, c] = [createGenerator(7), createGenerator(7), createGenerator(8)];
    const five = (g: ReturnType<typeof createGenerator>): number[] => Array.from({ length: 5 }, () => g.next());
    const first = five(a);
    expect(five(b)).toEqual(first);
    expect(five(c)).not.toEqual(first);
    expect(first.every((v) => v >= 0 && v < 1)).toBe(true);
  });

  it('draws a normal distribution: mean and deviation within five standard errors of 20,000 draws', () => {
    const generator = createGenerator(42);
    const draws = Array.from({ length: 20_000 }, () => generator.normal(5, 2));
    const mean = draws.reduce((s, v) => s + v, 0) / draws.length;
    const deviation = Math.sqrt(draws.reduce((s, v) => s + (v - mean) ** 2, 0) / draws.length);
    expect(Math.abs(mean - 5)).toBeLessThan((5 * 2) / Math.sqrt(20_000));
    expect(Math.abs(deviation - 2)).toBeLessThan((5 * 2) / Math.sqrt(40_000));
  });

  it('shuffles without losing anything or touching what it was given', () => {
    const items = [1, 2, 3, 4, 5, 6, 7, 8];
    const mixed = shuffle(items, createGenerator(3));
    expect(items).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    expect(mixed).not.toEqual(items);
    expect([...mixed].sort((a, b) => a - b)).toEqual(items);
  });
});
