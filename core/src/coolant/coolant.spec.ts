import { linearRegression } from 'simple-statistics';
import { createGenerator } from '../random/generator.ts';
import { fitLeak, type LeakInput } from './leak.ts';
import { findPaste } from './paste.ts';

const limits = { mostLostKilopascal: 2, testMinute: 10 };
const line = (at: (minute: number) => number, step = 1) =>
  Array.from({ length: Math.floor(10 / step) + 1 }, (_, i) => ({ minute: i * step, kilopascal: at(i * step) }));
const fit = (readings: LeakInput['readings']) => {
  const found = fitLeak({ readings, ...limits });
  if (found.kind === 'refused') throw new Error(found.message);
  return found.value;
};

describe('fitLeak', () => {
  it('is the least squares line (simple-statistics)', () => {
    const random = createGenerator(3);
    const readings = line((m) => 150 - 0.13 * m + 0.4 * (random.next() - 0.5));
    const { m } = linearRegression(readings.map((r) => [r.minute, r.kilopascal]));
    expect(fit(readings).kilopascalPerMinute).toBeCloseTo(m, 10);
    expect(fit(readings).lostKilopascal).toBeCloseTo(-10 * m, 9);
  });
  it('has the band of a handbook example, by hand: slope -0.072, error 0.00653, three degrees of freedom', () => {
    const readings = [150, 149.8, 149.7, 149.4, 149.3].map((kilopascal, i) => ({ minute: 2.5 * i, kilopascal }));
    expect(fit(readings).lostKilopascal).toBeCloseTo(0.72, 9);
    expect(fit(readings).bandKilopascal).toBeCloseTo(3.182 * Math.sqrt(0.008 / 3 / 62.5) * 10, 6);
    // beyond the table 2.2 is kept
    const many = line((m) => 150 + (m % 1 === 0 ? 0.1 : -0.1), 0.5);
    const rest = many.reduce((sum, r) => sum + (r.kilopascal - 150 - 0.1 / 21 - fit(many).kilopascalPerMinute * (r.minute - 5)) ** 2, 0);
    const xx = many.reduce((sum, r) => sum + (r.minute - 5) ** 2, 0);
    expect(fit(many).bandKilopascal).toBeCloseTo(2.2 * Math.sqrt(rest / 19 / xx) * 10, 9);
  });
  it('takes four readings, from any minute on, over nine tenths of the time', () => {
    const at = (from: number, to: number) => [0, 1, 2, 3].map((i) => ({ minute: from + (i * (to - from)) / 3, kilopascal: 150 - 0.1 * i }));
    expect(fit(at(0, 10)).verdict).toBe('tight');
    expect(fit(at(3, 12)).verdict).toBe('tight');
    expect(fitLeak({ readings: at(8, 13), ...limits })).toMatchObject({
      kind: 'refused',
      message: '5.0 min were watched, 10 are asked for.',
    });
  });
  it('takes a steady fall for a leak, however it is cut in halves, and a rise for none', () => {
    expect(fit(line((m) => 150 - m)).verdict).toBe('leaking');
    expect(fit(line((m) => 150 - m - 0.05 * m * m)).verdict).toBe('leaking');
    expect(fit(line((m) => 150 + 0.5 * m)).verdict).toBe('tight');
    expect(fit(line((m) => (m <= 5 ? 150 : 150 - 3 * (m - 5)))).verdict).not.toBe('settling');
  });
  it('covers the truth in some 95 of 100 tests', () => {
    const random = createGenerator(5);
    const gauss = () => Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next());
    let covered = 0;
    for (let i = 0; i < 400; i++) {
      const { lostKilopascal, bandKilopascal } = fit(line((m) => 150 - 0.1 * m + 0.2 * gauss(), 1.25));
      if (Math.abs(lostKilopascal - 1) <= bandKilopascal) covered++;
    }
    expect(covered).toBeGreaterThan(365);
    expect(covered).toBeLessThan(396);
  });
  it.each([
    ['tight', (m: number) => 150 - 0.05 * m],
    ['leaking', (m: number) => 150 - 0.6 * m],
    ['settling', (m: number) => 140 + 10 * Math.exp(-m / 2)],
    ['unclear', (m: number) => 150 - 0.19 * m + (m % 2 === 0 ? 0.6 : -0.6)],
  ] as const)('says %s', (verdict, at) => {
    expect(fit(line(at)).verdict).toBe(verdict);
  });
  it.each<[string, LeakInput['readings'], object]>([
    ['three readings', line(() => 150, 5), { code: 'empty', path: ['readings'] }],
    [
      'a time that stands still',
      [...line(() => 150), { minute: 10, kilopascal: 150 }],
      { path: ['readings', 11, 'minute'], message: expect.stringMatching(/^Reading 12: 10 min/) },
    ],
    [
      'a time that goes back',
      [...line(() => 150), { minute: 9, kilopascal: 150 }],
      { code: 'impossible', path: ['readings', 11, 'minute'] },
    ],
    [
      'a pressure below nothing',
      [...line(() => 150), { minute: 11, kilopascal: -1 }],
      { code: 'impossible', path: ['readings', 11, 'kilopascal'] },
    ],
    ['a test cut short', line(() => 150).slice(0, 6), { code: 'mismatch', path: ['readings'] }],
  ])('refuses %s', (_what, readings, refusal) => {
    expect(fitLeak({ readings, ...limits })).toMatchObject({ kind: 'refused', ...refusal });
  });
});

it('weighs paste by area, thickness and density: half a millimetre on 420 cm² at 2.4 g/cm³ is 50.4 g', () => {
  const need = findPaste({ areaSquareCentimetre: 420, thicknessMillimetre: 0.5, gramPerCubicCentimetre: 2.4 });
  expect(need.gram).toBeCloseTo(50.4, 9);
  expect([need.leastGram, need.mostGram].map((g) => g.toFixed(2))).toEqual(['45.36', '63.00']);
});
