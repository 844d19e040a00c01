/** Mends of a doubted row: common practice, no source; checked by spoiling a true row and mending it. */
import fc from 'fast-check';
import { doubtAgainst, type Row } from './doubt.ts';
import { mendRow, type Mend } from './mend.ts';

const BEFORE = [7.845, 7.861, 7.832, 7.878, 7.891, 7.852, 7.867, 7.839, 7.902, 7.857];
const AFTER = BEFORE.map((v, i) => Number((v - 0.02 - 0.001 * (i % 2)).toFixed(3)));
const rowOf = (values: readonly (number | null)[]): Map<number, number> =>
  new Map(values.flatMap((v, i) => (v === null ? [] : [[i + 1, v] as const])));
const apply = (row: Row, { moves, anew }: Mend): Map<number, number> => {
  const mended = new Map(row);
  for (const place of anew) mended.delete(place);
  for (const { from, to } of moves) mended.set(to, row.get(from) as number);
  return mended;
};
const doubtOf = (before: Row, after: Row) => {
  const [doubt] = doubtAgainst(before, after, 0.001);
  if (!doubt) throw new Error('nothing is doubted');
  return doubt;
};

it('exchanges two neighbours, and nothing has to be read again', () => {
  const spoilt = rowOf(AFTER.with(3, AFTER[4] as number).with(4, AFTER[3] as number));
  const mend = mendRow(spoilt, 10, 'later', doubtOf(rowOf(BEFORE), spoilt)) as Mend;
  expect(mend.anew).toEqual([]);
  expect(apply(spoilt, mend)).toEqual(rowOf(AFTER));
});

it('moves the rest of a row from which one module was left out; that one is read anew', () => {
  // module 3 was passed over: its place holds module 4's, and the last place was never reached
  const spoilt = rowOf([...AFTER.slice(0, 2), ...AFTER.slice(3), null]);
  const mend = mendRow(spoilt, 10, 'later', doubtOf(rowOf(BEFORE), spoilt)) as Mend;
  expect(mend.anew).toEqual([3]);
  expect(apply(spoilt, mend)).toEqual(rowOf(AFTER.map((v, i) => (i === 2 ? null : v))));
});

it('moves back the rest of a row in which one module stands twice; the last is read anew', () => {
  const spoilt = rowOf([...AFTER.slice(0, 3), AFTER[2] as number, ...AFTER.slice(3, 9)]);
  const mend = mendRow(spoilt, 10, 'later', doubtOf(rowOf(BEFORE), spoilt)) as Mend;
  expect(mend.anew).toEqual([10]);
  expect(apply(spoilt, mend)).toEqual(rowOf([...AFTER.slice(0, 9), null]));
});

it.each([
  ['left out', [...BEFORE.slice(0, 2), ...BEFORE.slice(3), null], 3],
  ['doubled', [...BEFORE.slice(0, 3), BEFORE[2] as number, ...BEFORE.slice(3, 9)], 10],
] as const)('mends the earlier row as well, where that is the one at fault: one %s', (_, spoiltBefore, anew) => {
  const spoilt = rowOf(spoiltBefore);
  const mend = mendRow(spoilt, 10, 'earlier', doubtOf(spoilt, rowOf(AFTER))) as Mend;
  expect(mend.anew).toEqual([anew]);
  expect(apply(spoilt, mend)).toEqual(rowOf(BEFORE.map((v, i) => (i === anew - 1 ? null : v))));
});

it('knows no mend of a stuck meter', () => {
  expect(mendRow(rowOf([7.8]), 1, 'later', { kind: 'stuckMeter', places: [1], sentence: '' })).toBeNull();
});

it('knows no mend of a doubt that names no place, or a slip without its way', () => {
  const doubt = { places: [], sentence: '' } as const;
  expect(mendRow(rowOf([7.8, 7.9]), 2, 'later', { ...doubt, kind: 'swappedNeighbours' })).toBeNull();
  expect(mendRow(rowOf([7.8, 7.9]), 2, 'later', { ...doubt, kind: 'swappedNeighbours', places: [1] })).toBeNull();
  expect(mendRow(rowOf([7.8, 7.9]), 2, 'later', { ...doubt, kind: 'rowShifted', places: [1] })).toBeNull();
  expect(mendRow(rowOf([7.8, 7.9]), 2, 'later', { ...doubt, kind: 'repeatedValue', places: [1, 2], slip: 1 })).toBeNull();
  expect(mendRow(rowOf([7.8, 7.9]), 2, 'later', { ...doubt, kind: 'rowShifted', places: [2], slip: 1 })).toBeNull();
});

it('moves in order of place, never below the first nor beyond the last', () => {
  const row: Row = new Map([3, 1, 2, 4].map((place) => [place, place]));
  const back = mendRow(row, 4, 'later', { kind: 'rowShifted', places: [1], sentence: '', slip: -1 });
  expect(back).toEqual({ moves: [2, 3, 4].map((from) => ({ from, to: from - 1 })), anew: [4] });
  const on = mendRow(row, 4, 'later', { kind: 'rowShifted', places: [1], sentence: '', slip: 1 });
  expect(on).toEqual({ moves: [1, 2, 3].map((from) => ({ from, to: from + 1 })), anew: [1] });
});

it('never invents a reading, and never leaves two of one place', () => {
  fc.assert(
    fc.property(
      fc.array(fc.option(fc.integer({ min: 7000, max: 9000 }), { nil: null }), { minLength: 6, maxLength: 30 }),
      fc.nat(29),
      fc.constantFrom(1 as const, -1 as const),
      fc.constantFrom('earlier' as const, 'later' as const),
      (values, first, slip, which) => {
        const row = rowOf(values);
        const places = [(first % values.length) + 1];
        const mend = mendRow(row, values.length, which, { kind: 'rowShifted', places, sentence: '', slip });
        if (!mend) return;
        const targets = mend.moves.map((m) => m.to);
        expect(new Set(targets).size).toBe(targets.length);
        for (const { from, to } of mend.moves) {
          expect(row.has(from)).toBe(true);
          expect(to).toBeGreaterThanOrEqual(1);
          expect(to).toBeLessThanOrEqual(values.length);
        }
        for (const place of mend.anew) expect(targets).not.toContain(place);
      },
    ),
  );
});
