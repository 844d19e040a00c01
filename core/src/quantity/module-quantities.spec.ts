import { shippedProfile, SHIPPED } from '../../test/job-fixture.ts';
import {
  guessFactor,
  guessMeant,
  isWithin,
  likelyRange,
  MODULE_QUANTITIES,
  possibleRange,
  QUANTITIES,
  sayImpossible,
  sayUnlikely,
  showQuantity,
} from './module-quantities.ts';

const type = shippedProfile('dunlin-28').moduleType;

it.each(SHIPPED)('holds what is likely of a %s within what is possible, and its nominal figures likely', (id) => {
  const { moduleType } = shippedProfile(id);
  for (const quantity of MODULE_QUANTITIES) {
    const [likely, possible] = [likelyRange(quantity, moduleType), possibleRange(quantity, moduleType)];
    expect(likely.least).toBeLessThan(likely.most);
    expect(possible.least).toBeLessThanOrEqual(likely.least);
    expect(possible.most).toBeGreaterThanOrEqual(likely.most);
  }
  expect(isWithin(likelyRange('openCircuitVolt', moduleType), moduleType.nominalVolt)).toBe(true);
  expect(isWithin(likelyRange('capacityAh', moduleType), moduleType.nominalCapacityAh)).toBe(true);
  expect(isWithin(likelyRange('resistanceMilliohm', moduleType), moduleType.typicalMilliohm)).toBe(true);
});

describe('a value that cannot be', () => {
  it.each([
    ['openCircuitVolt', 7505, 'Did you mean 7.505 V?'],
    ['openCircuitVolt', -7505, null],
    ['capacityAh', 5600, 'Did you mean 5.6 Ah?'],
    ['capacityAh', -5.6, 'Did you mean 5.6 Ah?'],
    ['resistanceMilliohm', -1, null],
    ['resistanceMilliohm', -27, 'Did you mean 27 mΩ?'],
    ['loadVolt', Number.MAX_VALUE, null],
  ] as const)('%s of %p is refused with what was probably meant', (quantity, value, meant) => {
    const why = sayImpossible(quantity, value, type);
    expect(why).toContain('cannot be');
    if (meant) expect(why).toContain(meant);
    else expect(why).not.toContain('Did you mean');
  });

  it('is neither zero, a module the wrong way round, nor one on charge', () => {
    for (const volt of [0, -7.8, type.maximumModuleVolt * 1.2]) expect(sayImpossible('openCircuitVolt', volt, type)).toBeNull();
    expect(sayImpossible('capacityAh', 0, type)).toBeNull();
  });
});

describe('a value that is not likely', () => {
  it('is asked about with what was meant by a slip of the hand', () => {
    expect(sayUnlikely('openCircuitVolt', 0.78, type)).toMatch(/^0.78 V is an unusual open-circuit voltage/);
    expect(sayUnlikely('resistanceMilliohm', 0.027, type)).toContain('Did you mean 27 mΩ?');
    expect(sayUnlikely('openCircuitVolt', 7.8, type)).toBeNull();
    expect(guessMeant('capacityAh', 57, type)).toBe(5.7);
    // a dead module is dead: nothing near zero is meant by it
    expect(guessMeant('openCircuitVolt', 0, type)).toBeNull();
  });
});

describe('a column', () => {
  it('that is a thousandfold or a thousandth off is told by its middle, one that fits is left alone', () => {
    expect(guessFactor('openCircuitVolt', [7790, 7810, 7805, 12], type)).toBe(0.001);
    expect(guessFactor('capacityAh', [0.0056, 0.0055, 0.0057], type)).toBe(1000);
    expect(guessFactor('openCircuitVolt', [7.79, 7.81, 0.2], type)).toBeNull();
    expect(guessFactor('openCircuitVolt', [1, 1, 1], type)).toBeNull();
    expect(guessFactor('openCircuitVolt', [], type)).toBeNull();
  });
});

it('shows a value in its digits and unit, and what would read as zero with more digits', () => {
  expect(showQuantity('openCircuitVolt', 7.80512)).toBe('7.805 V');
  expect(showQuantity('capacityAh', 0.0004)).toBe('0.0004 Ah');
  expect(showQuantity('resistanceMilliohm', 0)).toBe('0.0 mΩ');
});

it('knows the bad side of each: less of a voltage or a capacity, more of a resistance or a drop', () => {
  const bad = MODULE_QUANTITIES.map((q) => [q, QUANTITIES[q].bad]);
  expect(Object.fromEntries(bad)).toEqual({
    ...{ openCircuitVolt: -1, restVolt: -1, loadVolt: -1, recoveredVolt: -1, capacityAh: -1 },
    ...{ resistanceMilliohm: 1, restDropMillivolt: 1, loadDropMillivolt: 1 },
  });
});
