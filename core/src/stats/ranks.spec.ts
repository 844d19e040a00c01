import { sampleRankCorrelation } from 'simple-statistics';
import { createGenerator, shuffle } from '../random/generator.ts';
import { findRankAgreement } from './ranks.ts';

it('is 1 for the same order, -1 for the other way round, and nothing where nothing varies', () => {
  expect(findRankAgreement([[1, 10], [2, 20], [9, 21]])).toBeCloseTo(1, 12); // prettier-ignore
  expect(findRankAgreement([[1, 3], [2, 2], [3, 1]])).toBeCloseTo(-1, 12); // prettier-ignore
  expect(findRankAgreement([[1, 3], [1, 2], [1, 1]])).toBeNull(); // prettier-ignore
  expect(findRankAgreement([[1, 3], [2, 2]])).toBeNull(); // prettier-ignore
});
it('agrees with simple-statistics where no two are alike', () => {
  const random = createGenerator(4);
  for (let i = 0; i < 50; i++) {
    const x = Array.from({ length: 4 + i }, (_, k) => k);
    const y = shuffle(x, random);
    expect(findRankAgreement(x.map((v, k) => [v, y[k] ?? 0]))).toBeCloseTo(sampleRankCorrelation(x, [...y]), 9);
  }
});
it('gives ties their mean rank', () => {
  // ranks 1, 2.5, 2.5, 4 against 1, 2, 3, 4, by hand: 4.5 / sqrt(4.5 x 5)
  expect(findRankAgreement([[1, 1], [2, 2], [2, 3], [5, 4]])).toBeCloseTo(4.5 / Math.sqrt(4.5 * 5), 12); // prettier-ignore
});
