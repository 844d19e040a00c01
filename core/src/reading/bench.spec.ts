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
  // the pattern 2,2,4,4,4,4,4,2,2 read as 16 and 33 V: common practice, no source
  const pattern = [2, 2, 4, 4, 4, 4, 4, 2, 2].map((modules, i) => ({ id: `${i + 1}`, modules, volt: modules === 2 ? 16 : 33 }));
  const judge = (blocks: typeof pattern, scale = {}) => {
    const found = normaliseScanBlocks(blocks, scale);
    if (found.kind === 'refused') throw new Error(found.message);
    return found.value;
  };
  it('calls no block of the pattern bad, and says which a reader of equal blocks would', () => {
    const { items, naiveOutliers } = judge(pattern);
    expect(items.some((i) => i.outlier || i.deadCellSuspect)).toBe(false);
    expect(naiveOutliers).toEqual(['1', '2', '8', '9']);
    expect(items[0]?.deficitVolt).toBeCloseTo(16 - 2 * 8.25, 9);
  });
  it('sees one dead cell in a block of two and in one of four alike, by the deficit of the block', () => {
    const lacking = (id: string) => judge(pattern.map((b) => ({ ...b, volt: (b.modules === 2 ? 16.5 : 33) - (b.id === id ? 1.2 : 0) })));
    for (const id of ['2', '5']) {
      const { items } = lacking(id);
      expect(items.filter((i) => i.deadCellSuspect).map((i) => i.id)).toEqual([id]);
      expect(items[Number(id) - 1]?.deficitVolt).toBeCloseTo(-1.2, 9);
    }
    expect(judge(pattern.map((b) => ({ ...b, volt: 16.5 * (b.modules / 2) - (b.id === '2' ? 0.9 : 0) }))).items[1]?.deadCellSuspect).toBe(
      false,
    );
    expect(judge(pattern.map((b) => ({ ...b, volt: 16.5 * (b.modules / 2) - (b.id === '2' ? 1.2 : 0) })), { cellVolt: 3.6 }).items[1]?.deadCellSuspect).toBe(false); // prettier-ignore
  });
  it('takes a step of the display by the modules of the block: the same digit is twice as much a module in a block of two', () => {
    const blocks = [2, 2, 4, 4, 4].map((modules, i) => ({ id: `${i}`, modules, volt: 8 * modules - (i === 0 || i === 2 ? 1 : 0) }));
    const { items } = judge(blocks, { resolution: 1 });
    // both lack one step
    expect(items[0]?.modifiedZ).toBeCloseTo(-1, 9);
    expect(items[2]?.modifiedZ).toBeCloseTo(-1, 9);
  });
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
