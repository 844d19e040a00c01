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
    ['three readings', line(() => 150).slice(0, 3), { code: 'empty' }],
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
    ['a test cut short', line(() => 150).slice(0, 6), { code: 'mismatch' }],
  ])('refuses %s', (_what, readings, refusal) => {
    expect(fitLeak({ readings, ...limits })).toMatchObject({ kind: 'refused', ...refusal });
  });
});

it('weighs paste by area, thickness and density: half a millimetre on 420 cm² at 2.4 g/cm³ is 50.4 g', () => {
  const need = findPaste({ areaSquareCentimetre: 420, thicknessMillimetre: 0.5, gramPerCubicCentimetre: 2.4 });
  expect(need.gram).toBeCloseTo(50.4, 9);
  expect([need.leastGram < need.gram, need.mostGram > need.gram]).toEqual([true, true]);
});
