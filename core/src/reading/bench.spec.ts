import { integrateCapacity, type Sample } from './capacity.ts';
import { findResistance } from './resistance.ts';
import { normaliseScanBlocks } from './scan-blocks.ts';

describe('findResistance', () => {
  it('is the step of voltage over the step of current: (7.9 - 7.65) / (10.5 - 0.5) = 25 milliohm', () => {
    const found = findResistance({ ampere: 0.5, volt: 7.9 }, { ampere: 10.5, volt: 7.65 });
    expect(found.kind === 'answer' && found.value).toBeCloseTo(25, 9);
  });
  it('refuses two equal currents', () => {
    expect(findResistance({ ampere: 5, volt: 7.9 }, { ampere: 5, volt: 7.8 })).toMatchObject({ kind: 'refused', code: 'impossible' });
  });
});

describe('integrateCapacity', () => {
  const steady: Sample[] = [
    [0, 2, 8],
    [1800, 2, 7],
    [3600, 2, 6],
  ];
  it('integrates a steady discharge: 2 A for an hour, 14 Wh', () => {
    const found = integrateCapacity(steady, 5);
    expect(found).toMatchObject({ kind: 'answer', value: { reachedCutoff: false, seconds: 3600 } });
    expect(found.kind === 'answer' && found.value.ampereHour).toBeCloseTo(2, 12);
    expect(found.kind === 'answer' && found.value.wattHour).toBeCloseTo(14, 12);
  });
  it('interpolates the last step at the cut-off: 6.5 V falls at 2700 s', () => {
    const found = integrateCapacity(steady, 6.5);
    expect(found).toMatchObject({ kind: 'answer', value: { reachedCutoff: true, seconds: 2700 } });
    expect(found.kind === 'answer' && found.value.ampereHour).toBeCloseTo(1.5, 12);
  });
  it('gives nothing when the first sample lies below the cut-off', () => {
    expect(integrateCapacity([[0, 2, 4]], 5)).toMatchObject({ kind: 'answer', value: { ampereHour: 0, reachedCutoff: true } });
  });
  it('subtracts charge', () => {
    const found = integrateCapacity(
      [
        [0, 2, 8],
        [3600, 2, 8],
        [3601, -2, 8],
        [7201, -2, 8],
      ],
      5,
    );
    expect(found.kind === 'answer' && found.value.ampereHour).toBeCloseTo(0, 3);
  });
  it('refuses times that do not rise, with the place', () => {
    const found = integrateCapacity(
      [
        [0, 1, 8],
        [10, 1, 8],
        [10, 1, 8],
      ],
      5,
    );
    expect(found).toMatchObject({ kind: 'refused', path: ['samples', 2, 0] });
  });
});

describe('normaliseScanBlocks', () => {
  it('calls a pack of unequal blocks good that a plain comparison calls bad', () => {
    const found = normaliseScanBlocks([
      { id: 'b1', volt: 15.7, modules: 2 },
      { id: 'b2', volt: 15.72, modules: 2 },
      { id: 'b3', volt: 31.4, modules: 4 },
      { id: 'b4', volt: 15.69, modules: 2 },
    ]);
    if (found.kind === 'refused') throw new Error(found.message);
    expect(found.value.naiveOutliers).toEqual(['b3']);
    expect(found.value.items.filter((i) => i.outlier)).toEqual([]);
  });
  it('refuses a block of no modules and no blocks', () => {
    expect(normaliseScanBlocks([{ id: 'a', volt: 7, modules: 0 }])).toMatchObject({ kind: 'refused', path: ['blocks', 0, 'modules'] });
    expect(normaliseScanBlocks([])).toMatchObject({ kind: 'refused', code: 'empty' });
  });
});
