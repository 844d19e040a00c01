import { judgeAuxiliary } from './twelve-volt.ts';

const flooded = { kind: 'flooded', celsius: 21.1 } as const;

describe('the 12 V battery', () => {
  // Battery Council International, service manual: rest voltages at 27 °C, and the load test by temperature (from memory)
  it.each([
    [12.65, 100],
    [12.45, 75],
    [12.24, 50],
    [12.06, 25],
    [11.89, 0],
    [13.4, 100],
  ])('stands at %f V: %i %%', (restVolt, percent) => {
    expect(judgeAuxiliary({ ...flooded, restVolt, loadVolt: null }).chargePercent).toBeCloseTo(percent, 6);
  });
  it.each([
    [21.1, 9.6],
    [10, 9.4],
    [-1.1, 9.1],
    [-17.8, 8.5],
    [40, 9.6],
    [-30, 8.5],
  ])('at %f °C holds %f V or more under load', (celsius, volt) => {
    const found = judgeAuxiliary({ ...flooded, celsius, restVolt: 12.6, loadVolt: volt });
    expect(found).toMatchObject({ leastLoadVolt: volt, verdict: 'fit' });
    expect(judgeAuxiliary({ ...flooded, celsius, restVolt: 12.6, loadVolt: volt - 0.01 }).verdict).toBe('replace');
  });
  it.each([
    ['rest alone says nothing of what it holds', 12.6, null, 'loadIt'],
    ['a flat one is charged before it is judged', 12.1, 8.9, 'charge'],
    ['a flat one that holds is charged', 12.1, 9.9, 'charge'],
    ['flat and never loaded', 12.1, null, 'charge'],
    ['a shorted cell', 10.5, null, 'replace'],
  ] as const)('%s', (_what, restVolt, loadVolt, verdict) => {
    expect(judgeAuxiliary({ ...flooded, restVolt, loadVolt }).verdict).toBe(verdict);
  });
  it('of glass mat stands higher for the same charge', () => {
    expect(judgeAuxiliary({ ...flooded, kind: 'glassMat', restVolt: 12.65, loadVolt: null }).chargePercent).toBeCloseTo(75, 6);
  });
});
