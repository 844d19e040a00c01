import { integrateCapacity, type Sample } from './capacity.ts';
import { findResistance } from './resistance.ts';
import { normaliseScanBlocks } from './scan-blocks.ts';

describe('findResistance', () => {
  it('is the step of voltage over the step of current: (7.9 - 7.65) / (10.5 - 0.5) = 25 milliohm', () => {
    const found = findResistance({ ampere: 0.5, volt: 7.9 }, { ampere: 10.5, volt: 7.65 });
    expect(found.kind === 'answer' && found.value).toBeCloseTo(25, 9);
  });
  it('refuses two equal currents', () => {
    const refused = findResistance({ ampere: 5, volt: 7.9 }, { ampere: 5, volt: 7.8 });
    expect(refused).toMatchObject({ kind: 'refused', code: 'impossible', path: expect.arrayContaining([expect.any(String)]) });
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
  it('counts the time from the first sample, whenever that was', () => {
    const later = steady.map(([s, a, v]): Sample => [s + 600, a, v]);
    expect(integrateCapacity(later, 5)).toMatchObject({ value: { seconds: 3600 } });
    expect(integrateCapacity(later, 6.5)).toMatchObject({ value: { seconds: 2700, reachedCutoff: true } });
  });
  it('ends at the sample that lies on the cut-off, and interpolates current and voltage alike', () => {
    expect(integrateCapacity([...steady, [7200, 2, 5]], 6)).toMatchObject({ value: { seconds: 3600, reachedCutoff: true } });
    expect(
      integrateCapacity(
        [
          [0, 2, 6],
          [10, 2, 5],
        ],
        6,
      ),
    ).toMatchObject({ value: { ampereHour: 0, reachedCutoff: true } });
    // from 8 V and 2 A to 4 V and 6 A in 400 s; 6 V after half of it, at 4 A: 3 A x 200 s
    const falling = integrateCapacity(
      [
        [0, 2, 8],
        [400, 6, 4],
      ],
      6,
    );
    expect(falling.kind === 'answer' && falling.value.ampereHour * 3600).toBeCloseTo(600, 9);
    expect(falling.kind === 'answer' && falling.value.wattHour * 3600).toBeCloseTo(((2 * 8 + 4 * 6) / 2) * 200, 9);
    // 2.5 V a step: a quarter of it, not four times
    const quarter = integrateCapacity(
      [
        [0, 4, 8],
        [100, 4, 5.5],
      ],
      7.375,
    );
    expect(quarter).toMatchObject({ value: { seconds: 25 } });
  });
  it('refuses no samples at all', () => {
    expect(integrateCapacity([], 5)).toMatchObject({ kind: 'refused', code: 'empty', path: ['samples'] });
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

describe('normaliseScanBlocks, at its edges', () => {
  const blocksOf = (...volts: number[]) => volts.map((volt, i) => ({ id: `${i + 1}`, modules: 2, volt }));
  const judge = (blocks: ReturnType<typeof blocksOf>, scale = {}) => {
    const found = normaliseScanBlocks(blocks, scale);
    if (found.kind === 'refused') throw new Error(found.message);
    return found.value;
  };
  it('refuses none at all, and a block of no module, with its place', () => {
    expect(normaliseScanBlocks([])).toMatchObject({ code: 'empty', path: ['blocks'] });
    const odd = [...blocksOf(16), { id: 'x', modules: 0, volt: 3 }];
    expect(normaliseScanBlocks(odd)).toMatchObject({
      code: 'impossible',
      path: ['blocks', 1, 'modules'],
      message: expect.stringContaining('Block 2'),
    });
    expect(normaliseScanBlocks([{ id: 'x', modules: 1, volt: 8 }])).toMatchObject({ kind: 'answer' });
  });
  it('gives the voltage of a module, and calls a cell dead from 0.8 of its voltage on', () => {
    const { items } = judge(blocksOf(16, 16, 16, 16 - 0.96, 16 - 0.95));
    expect(items.map((i) => i.voltPerModule)).toEqual([8, 8, 8, (16 - 0.96) / 2, (16 - 0.95) / 2]);
    expect(items.map((i) => i.deadCellSuspect)).toEqual([false, false, false, true, false]);
    expect(judge(blocksOf(16, 16, 16, 16 - 2.9), { cellVolt: 3.6 }).items[3]?.deadCellSuspect).toBe(true);
    expect(judge(blocksOf(16, 16, 16, 16 - 2.8), { cellVolt: 3.6 }).items[3]?.deadCellSuspect).toBe(false);
  });
  it('lets no step of the display make an outlier, and spreads it over the modules of its own block', () => {
    const volts = [16, 16, 16, 16, 16.1];
    expect(judge(blocksOf(...volts), { resolution: 0.1 }).items.at(-1)?.outlier).toBe(false);
    // five steps are beyond 3.5 of them
    const far = judge(blocksOf(16, 16, 16, 16, 16.5), { resolution: 0.1 }).items.at(-1);
    expect(far).toMatchObject({ outlier: true });
    expect(far?.modifiedZ).toBeCloseTo(0.25 / 0.05, 6);
    const wide = [...blocksOf(16, 16, 16, 16), { id: 'w', modules: 4, volt: 33 }];
    expect(judge(wide, { resolution: 0.1 }).items.at(-1)?.modifiedZ).toBeCloseTo(0.25 / 0.025, 6);
    // two blocks are no crowd
    expect(judge(blocksOf(16, 18), { resolution: 0.1 }).items.map((i) => i.modifiedZ)).toEqual([0, 0]);
  });
  it('takes the reading with most others within a twentieth for the common one, the lowest of equals', () => {
    expect(judge(blocksOf(10, 10.5, 30, 31, 31.5)).naiveOutliers).toEqual(['1', '2']);
    expect(judge(blocksOf(10, 30)).naiveOutliers).toEqual(['2']);
    expect(judge(blocksOf(30, 10)).naiveOutliers).toEqual(['1']);
    // a tenth off is still common
    expect(judge(blocksOf(10, 10, 11)).naiveOutliers).toEqual([]);
    expect(judge(blocksOf(10, 10, 11.01)).naiveOutliers).toEqual(['3']);
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
