import fc from 'fast-check';
import { median as referenceMedian, medianAbsoluteDeviation } from 'simple-statistics';
import { describeCrowd, findOutliers, median } from './robust.ts';

const named = (values: readonly number[]) => values.map((value, i) => ({ id: String(i + 1), value }));
const finite = fc.double({ min: -1e6, max: 1e6, noNaN: true });

describe('findOutliers', () => {
  it('agrees with a worked example', () => {
    // by hand: median 4.0, deviations 1.9 0.8 0.1 0 0.1 0.2 6 -> sorted 0 0.1 0.1 0.2 0.8 1.9 6, MAD 0.2
    const found = findOutliers(named([2.1, 3.2, 3.9, 4, 4.1, 4.2, 10]));
    if (found.kind === 'refused') throw new Error(found.message);
    expect(found.value.median).toBe(4);
    expect(found.value.mad).toBeCloseTo(0.2, 12);
    expect(found.value.items[6]?.modifiedZ).toBeCloseTo((6 * 0.6745) / 0.2, 9);
    expect(found.value.items.filter((i) => i.outlier).map((i) => i.id)).toEqual(['1', '7']);
  });

  it('falls back to the mean absolute deviation where more than half are the same', () => {
    const found = findOutliers(named([5, 5, 5, 5, 9]));
    if (found.kind === 'refused') throw new Error(found.message);
    expect(found.value.mad).toBe(0);
    expect(found.value.scale).toBeCloseTo(1.253314 * 0.8, 9);
    expect(found.value.items[4]?.modifiedZ).toBeCloseTo(4 / (1.253314 * 0.8), 9);
  });

  it('gives z of 0 to all when all are the same, and to one or two values', () => {
    for (const values of [[3, 3, 3, 3], [1], [1, 100]]) {
      const found = findOutliers(named(values));
      expect(found.kind === 'answer' && found.value.items.every((i) => i.modifiedZ === 0 && !i.outlier)).toBe(true);
    }
  });

  it('calls one last digit of the instrument no outlier', () => {
    const values = [7.84, 7.84, 7.84, 7.84, 7.84, 7.85];
    const without = findOutliers(named(values));
    const withResolution = findOutliers(named(values), 3.5, 0.01);
    expect(without.kind === 'answer' && without.value.items[5]?.outlier).toBe(true);
    expect(withResolution.kind === 'answer' && withResolution.value.items[5]?.outlier).toBe(false);
  });

  it('refuses nothing', () => {
    expect(findOutliers([])).toMatchObject({ kind: 'refused', code: 'empty' });
  });

  it('does not care where zero is', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 3, maxLength: 30 }),
        fc.integer({ min: -500, max: 500 }),
        (values, shift) => {
          const a = findOutliers(named(values));
          const b = findOutliers(named(values.map((v) => v + shift)));
          expect(a.kind === 'answer' && a.value.items.map((i) => i.outlier)).toEqual(
            b.kind === 'answer' && b.value.items.map((i) => i.outlier),
          );
        },
      ),
    );
  });
});

describe('against simple-statistics', () => {
  it('has the same median and MAD', () => {
    fc.assert(
      fc.property(fc.array(finite, { minLength: 1, maxLength: 60 }), (values) => {
        expect(median(values)).toBeCloseTo(referenceMedian(values), 6);
        const { mad } = describeCrowd(values);
        const reference = medianAbsoluteDeviation(values);
        if (reference > 1e-6) expect(mad / reference).toBeCloseTo(1, 9);
      }),
    );
  });
});
