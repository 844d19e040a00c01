import { SHIPPED, shippedProfile } from '../../test/job-fixture.ts';
import { blockVoltsOf, chargePercentOf, codesOf, figureOf, readinessOf, type HiddenCar } from './hidden-car.ts';

const A = shippedProfile('dunlin-28');
const REST = { ampere: 0, second: 0 };

function carOf(change: Partial<HiddenCar> = {}): HiddenCar {
  const none = A.blocks.map(() => null);
  return {
    ...{ moduleVolts: none, moduleMilliohm: none, moduleAh: none, isPlugLatched: true, isAuxiliaryLow: false },
    ...{ weakBlocks: [], wasCleared: false, wasDriven: false },
    ...change,
  };
}
const withVolt = (place: number, volt: number): (number | null)[] => A.heatWeights.map((_, i) => (i + 1 === place ? volt : null));

describe('the hidden car', () => {
  it.each(SHIPPED)('of %s stands at the sum of its modules, and lower under load by its resistance', (id) => {
    const profile = shippedProfile(id);
    const rest = blockVoltsOf(carOf(), profile, REST);
    const loaded = blockVoltsOf(carOf(), profile, { ampere: 60, second: 0 });
    for (const [i, size] of profile.blocks.entries()) {
      expect((rest[i] ?? 0) / size / profile.moduleType.nominalVolt).toBeCloseTo(1.09, 6);
      expect((rest[i] ?? 0) - (loaded[i] ?? 0)).toBeCloseTo((60 * size * (profile.moduleType.typicalMilliohm + 0.4)) / 1000, 6);
    }
    expect(figureOf(carOf(), profile, REST, 'celsius', 1)).toBeGreaterThan(20);
    expect(figureOf(carOf(), profile, REST, 'packVolt', 1)).toBeCloseTo(
      rest.reduce((a, b) => a + b, 0),
      6,
    );
    expect(figureOf(carOf(), profile, REST, 'blockVolt', 999)).toBe(0);
  });
  it('is drained by what was drawn, a weak module first', () => {
    const load = { ampere: 6.5, second: 1800 };
    const weak = carOf({ moduleAh: A.heatWeights.map((_, i) => (i === 4 ? 2.5 : null)) });
    const volts = blockVoltsOf(weak, A, load);
    expect(Math.min(...volts)).toBe(volts[2]);
    expect(chargePercentOf(A, load)).toBeCloseTo(72 - 50, 6);
    expect(chargePercentOf(A, { ampere: 100, second: 3600 })).toBe(0);
  });
  it('shows the code of a block that lags, with the one that comes with it', () => {
    const car = carOf({ moduleVolts: withVolt(9, 6.6) });
    expect(codesOf(car, A, 'pending')).toEqual(['P1E05', 'P0A80']);
    // found pending first, stored once it was cleared and driven into again
    expect(codesOf({ ...car, wasCleared: true }, A, 'stored')).toEqual([]);
    expect(codesOf({ ...car, wasCleared: true, wasDriven: true }, A, 'stored')).toEqual(['P1E05', 'P0A80']);
  });
  it('keeps a permanent code through a clearing until a drive finds it gone', () => {
    const came = carOf({ weakBlocks: [3] });
    expect(codesOf(came, A, 'stored')).toEqual(['P1E03', 'P0A80']);
    expect(codesOf({ ...came, wasCleared: true }, A, 'stored')).toEqual([]);
    expect(codesOf({ ...came, wasCleared: true }, A, 'permanent')).toEqual(['P1E03', 'P0A80']);
    expect(codesOf({ ...came, wasCleared: true, wasDriven: true }, A, 'permanent')).toEqual([]);
    expect(readinessOf({ ...came, wasCleared: true }, A)).toEqual({
      isLampOn: false,
      codeCount: 0,
      incomplete: ['catalyst', 'oxygen sensor'],
    });
    expect(readinessOf(came, A)).toMatchObject({ isLampOn: true, codeCount: 2, incomplete: [] });
  });
  it('says that the interlock is open, or the 12 V low, as long as it is', () => {
    expect(codesOf(carOf({ isPlugLatched: false, isAuxiliaryLow: true }), A, 'stored')).toEqual(['P0A0D', 'P0562']);
    expect(codesOf(carOf({ isPlugLatched: false, wasCleared: true, wasDriven: true }), A, 'stored')).toEqual(['P0A0D']);
  });
});
