import fc from 'fast-check';
import { findLift, type LiftInput } from './niosh.ts';

const POUND = 0.45359237;
const INCH = 2.54;

/** The examples are in pounds and inches: 51 lb against 23 kg (0.6 %), 10/H against 25/H (1.6 %), each multiplier rounded to two digits. */
function manual(load: number, h: number, v: number, d: number, a: number, coupling: LiftInput['coupling'], lifts = 0.2, hours = 1) {
  const found = findLift({
    ...{ loadKilogram: load * POUND, horizontalCentimetre: h * INCH, verticalCentimetre: v * INCH, travelCentimetre: d * INCH },
    ...{ asymmetryDegree: a, liftsPerMinute: lifts, durationHours: hours, coupling },
  });
  if (found.kind === 'refused') throw new Error(found.message);
  return { pound: found.value.recommendedKilogram / POUND, index: found.value.liftingIndex ?? Infinity, ...found.value.multipliers };
}

const BASE: LiftInput = {
  ...{ loadKilogram: 20, horizontalCentimetre: 25, verticalCentimetre: 75, travelCentimetre: 25, asymmetryDegree: 0 },
  ...{ liftsPerMinute: 0.2, durationHours: 1, coupling: 'good' as const },
};

describe('against the examples of the Applications Manual (NIOSH 94-110), from memory', () => {
  it.each([
    // load, H, V, D (inches), A, coupling -> RWL in pounds, LI as printed
    ['1, loading punch press stock, origin', manual(44, 23, 15, 48, 0, 'fair'), 16.3, 2.7],
    ['1, the same, destination', manual(44, 23, 63, 48, 0, 'fair'), 14.5, 3.0],
    ['3, loading bags into a hopper', manual(40, 18, 15, 21, 45, 'fair'), 18.9, 2.1],
  ])('example %s', (_name, found, pound, index) => {
    expect(Math.abs(found.pound - pound) / pound).toBeLessThan(0.05);
    expect(Math.abs(found.index - index) / index).toBeLessThan(0.06);
  });

  it('takes the multipliers of the printed tables', () => {
    const f = (lifts: number, hours: number, v = 50): number => {
      const found = findLift({ ...BASE, liftsPerMinute: lifts, durationHours: hours, verticalCentimetre: v });
      return found.kind === 'answer' ? found.value.multipliers.F : NaN;
    };
    // table 5, frequency
    expect([f(0, 1), f(1, 1), f(5, 2), f(4, 8), f(9, 8), f(9, 8, 80), f(15, 1, 80), f(15, 1), f(16, 1, 80)]).toEqual([
      1, 0.94, 0.6, 0.45, 0, 0.15, 0.28, 0, 0,
    ]);
    // tables 1 to 4: 25/H; 0.78 at the floor; 0.93 at 40 cm; 0.71 at 90 degrees; table 7: coupling
    const at = (change: Partial<LiftInput>) => {
      const found = findLift({ ...BASE, ...change });
      if (found.kind === 'refused') throw new Error(found.message);
      return found.value.multipliers;
    };
    expect(at({ horizontalCentimetre: 50 }).H).toBe(0.5);
    expect(at({ verticalCentimetre: 0 }).V).toBeCloseTo(0.775, 10);
    expect(at({ travelCentimetre: 40 }).D).toBeCloseTo(0.93, 2);
    expect(at({ asymmetryDegree: 90 }).A).toBeCloseTo(0.71, 2);
    expect(at({ coupling: 'fair', verticalCentimetre: 74 }).C).toBe(0.95);
    expect(at({ coupling: 'fair' }).C).toBe(1);
  });
});

it('recommends the load constant of 23 kg in the standard place, and nothing beyond its reach', () => {
  expect(findLift(BASE)).toMatchObject({ value: { recommendedKilogram: 23, liftingIndex: 20 / 23 } });
  for (const beyond of [{ horizontalCentimetre: 64 }, { verticalCentimetre: 176 }, { travelCentimetre: 176 }, { asymmetryDegree: 136 }])
    expect(findLift({ ...BASE, ...beyond })).toMatchObject({ value: { recommendedKilogram: 0, liftingIndex: null } });
});

it.each([
  ['no load', { loadKilogram: 0 }, 'loadKilogram'],
  ['a length that is none', { horizontalCentimetre: -1 }, 'horizontalCentimetre'],
  ['a turn beyond half', { asymmetryDegree: 181 }, 'asymmetryDegree'],
  ['more than a shift', { durationHours: 9 }, 'durationHours'],
  ['no number', { liftsPerMinute: NaN }, 'liftsPerMinute'],
])('refuses %s', (_what, change, path) => {
  expect(findLift({ ...BASE, ...change })).toMatchObject({ kind: 'refused', code: 'impossible', path: [path] });
});

it('never recommends more when the lift gets harder', () => {
  const length = (max: number) => fc.double({ min: 0, max, noNaN: true });
  fc.assert(
    fc.property(length(80), length(120), length(200), length(180), length(20), length(7.9), (h, below, d, a, f, t) => {
      const limit = (input: Partial<LiftInput>): number => {
        const found = findLift({
          ...BASE,
          ...{ horizontalCentimetre: h, verticalCentimetre: Math.min(below, 75), travelCentimetre: d, asymmetryDegree: a },
          ...{ liftsPerMinute: f, durationHours: t + 0.1, coupling: 'fair' },
          ...input,
        });
        return found.kind === 'answer' ? found.value.recommendedKilogram : NaN;
      };
      const base = limit({}) + 1e-9;
      expect(limit({ horizontalCentimetre: h + 1 })).toBeLessThanOrEqual(base);
      expect(limit({ travelCentimetre: d + 1 })).toBeLessThanOrEqual(base);
      expect(limit({ asymmetryDegree: Math.min(180, a + 1) })).toBeLessThanOrEqual(base);
      expect(limit({ liftsPerMinute: f + 0.3 })).toBeLessThanOrEqual(base);
      expect(limit({ coupling: 'poor' })).toBeLessThanOrEqual(base);
    }),
  );
});
