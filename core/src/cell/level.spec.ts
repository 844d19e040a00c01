import { findCellVolt, PUBLISHED_PARAMETERS } from './battery-model.ts';
import { findLevelCharge } from './level.ts';

const parameters = PUBLISHED_PARAMETERS.nimh;
const restVolt = (drawn: number): number => {
  const found = findCellVolt(parameters, 0, drawn);
  return found.kind === 'answer' ? found.value : Number.NaN;
};
const level = (fromVolt: number, toVolt: number) => {
  const found = findLevelCharge({ parameters, fromVolt, toVolt });
  return found.kind === 'answer' ? found.value : Number.NaN;
};

it.each([
  [0, 1],
  [1, 0],
  [3.25, 0.5],
  [6.4, 6.3],
  [2, 2],
])('gives back the charge between the voltages at %d and %d Ah drawn, within 1e-9 Ah', (from, to) => {
  expect(Math.abs(level(restVolt(from), restVolt(to)) - (from - to))).toBeLessThan(1e-9);
});

it('is positive for charging, and the way back is the same the other way', () => {
  expect(level(1.25, 1.3)).toBeGreaterThan(0);
  expect(level(1.3, 1.25)).toBeCloseTo(-level(1.25, 1.3), 12);
});

it('refuses a voltage that the cell does not reach, and a model that does not fall', () => {
  expect(findLevelCharge({ parameters, fromVolt: 1.25, toVolt: 1.5 })).toMatchObject({ kind: 'refused', path: ['toVolt'] });
  expect(findLevelCharge({ parameters, fromVolt: 1.5, toVolt: 1.25 })).toMatchObject({ path: ['fromVolt'] });
  expect(findLevelCharge({ parameters: { ...parameters, K: 0 }, fromVolt: 1.29, toVolt: 1 })).toMatchObject({ path: ['toVolt'] });
  expect(findLevelCharge({ parameters: { ...parameters, K: 0, A: 0 }, fromVolt: 1, toVolt: 1 })).toMatchObject({ path: ['parameters'] });
});
