import { createGenerator } from '../random/generator.ts';
import { fitWeibull, type LifeUnit } from './weibull.ts';

function value<T>(result: { kind: 'answer'; value: T } | { kind: 'refused'; message: string }): T {
  if (result.kind === 'refused') throw new Error(result.message);
  return result.value;
}
const units = (failed: readonly number[], running: readonly number[] = []): LifeUnit[] => [
  ...failed.map((month) => ({ month, failed: true })),
  ...running.map((month) => ({ month, failed: false })),
];
/** The logarithm of the likelihood, from the density and the survival themselves. */
function likelihood(list: readonly LifeUnit[], shape: number, scale: number): number {
  return list.reduce((sum, { month, failed }) => {
    const survival = Math.exp(-((month / scale) ** shape));
    return sum + Math.log(failed ? (shape / scale) * (month / scale) ** (shape - 1) * survival : survival);
  }, 0);
}

it('is where the likelihood is greatest: no step in either direction finds more', () => {
  const random = createGenerator(6);
  for (let trial = 0; trial < 30; trial++) {
    const list = units(
      Array.from({ length: 5 }, () => 1 + 100 * random.next()),
      Array.from({ length: random.below(6) }, () => 120 * random.next()),
    );
    const { shape, scaleMonth, logLikelihood } = value(fitWeibull(list));
    expect(logLikelihood).toBeCloseTo(likelihood(list, shape, scaleMonth), 9);
    for (const [a, b] of [
      [1.002, 1],
      [0.998, 1],
      [1, 1.002],
      [1, 0.998],
    ] as const)
      expect(likelihood(list, shape * a, scaleMonth * b)).toBeLessThan(logLikelihood);
  }
});

it('comes back to the shape and scale that a large sample was drawn from', () => {
  const random = createGenerator(8);
  const lives = Array.from({ length: 20_000 }, () => 72 * (-Math.log(1 - random.next())) ** (1 / 2.5));
  const list = lives.map((life): LifeUnit => (life < 80 ? { month: life, failed: true } : { month: 80, failed: false }));
  const { shape, scaleMonth } = value(fitWeibull(list));
  expect(shape).toBeCloseTo(2.5, 1);
  expect(scaleMonth / 72).toBeCloseTo(1, 1);
});

it('does not hang on the unit of time, and overflows nowhere', () => {
  const [a, b] = [1, 1e6].map((unit) => value(fitWeibull(units([20, 34, 51].map((m) => m * unit), [60 * unit])))); // prettier-ignore
  expect(b?.shape).toBeCloseTo(a?.shape ?? 0, 9);
  expect((b?.scaleMonth ?? 0) / (a?.scaleMonth ?? 1)).toBeCloseTo(1e6, 0);
  expect(value(fitWeibull(units([99.9, 100]))).shape).toBeGreaterThan(1000);
});

it('refuses one failure time, and times that cannot be', () => {
  expect(fitWeibull(units([20, 20], [50]))).toMatchObject({ kind: 'refused', path: ['units'] });
  expect(fitWeibull([])).toMatchObject({ kind: 'refused' });
  expect(fitWeibull(units([20, 0]))).toMatchObject({ path: ['units', 1, 'month'] });
  expect(fitWeibull(units([20, 30], [-1]))).toMatchObject({ path: ['units', 2, 'month'] });
  expect(fitWeibull(units([20, 30], [0]))).toMatchObject({ kind: 'answer' });
});
