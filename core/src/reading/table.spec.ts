/** Tables as benches write them: no standard speaks of them; the ways of writing are common practice, no source. */
import { describeTable, readTable, type ColumnKind, type TableShape } from './table.ts';

const KINDS: readonly ColumnKind[] = [
  { key: 'id', name: 'the name', dimension: 'label', unit: '', words: /module|name/i },
  { key: 'volt', name: 'the voltage', dimension: 'volt', unit: 'V', words: /volt|\bu\b/i, minimum: -12, maximum: 12 },
  { key: 'capacity', name: 'the capacity', dimension: 'ampereHour', unit: 'Ah', words: /cap/i },
  { key: 'note', name: 'the note', dimension: 'text', unit: '', words: /note/i },
];
const gridOf = (...lines: string[]): string[][] => lines.map((line) => line.split(';'));
const read = (...lines: string[]) => readTable(gridOf(...lines), describeTable(gridOf(...lines), KINDS), KINDS);
const shapeOf = (...keys: (string | null)[]): TableShape => ({
  headingRow: 0,
  columns: keys.map((key, index) => ({ index, heading: `h${index}`, unit: null, key })),
});

describe('the heading of a table', () => {
  it('is the row that names most columns, the first of equals, and never a line of one cell', () => {
    expect(describeTable(gridOf('Volt readings of the name', 'name;volt', 'name;volt', '1;2'), KINDS).headingRow).toBe(1);
    expect(describeTable(gridOf('name;x', 'name;volt;cap', '1;2;3'), KINDS).headingRow).toBe(1);
    expect(describeTable(gridOf('volt', '7.8'), KINDS).headingRow).toBe(-1);
  });
  it('is looked for in the first thirty rows, and not below', () => {
    const titles = (count: number) => Array.from({ length: count }, (_, i) => `line;${i}`);
    expect(describeTable(gridOf(...titles(29), 'name;volt'), KINDS).headingRow).toBe(29);
    expect(describeTable(gridOf(...titles(30), 'name;volt'), KINDS).headingRow).toBe(-1);
  });
  it('is missing where no cell says anything: the columns have numbers then, as wide as the widest of the first rows', () => {
    expect(describeTable(gridOf('1;2', '3;4;5', '6'), KINDS)).toEqual({
      headingRow: -1,
      columns: [1, 2, 3].map((n) => ({ index: n - 1, heading: `column ${n}`, unit: null, key: null })),
    });
    expect(describeTable([], KINDS)).toEqual({ headingRow: -1, columns: [] });
  });
  it('gives each kind to one column, and none to a column in a unit that it cannot have', () => {
    const keys = (heading: string) => describeTable(gridOf(heading, '1;2;3'), KINDS).columns.map((c) => c.key);
    expect(keys('name;volt;volt 2')).toEqual(['id', 'volt', null]);
    expect(keys('name;volt (Ah);cap')).toEqual(['id', null, 'capacity']);
    // a label has no unit, so that one in its heading is a word like any other
    expect(keys('module (V);volt;x')).toEqual(['id', 'volt', null]);
  });
  it.each([
    ['volt (mV)', 'mv'],
    ['volt [ mV ] ', 'mv'],
    ['volt / mV', 'mv'],
    ['volt,mV', 'mv'],
    ['volt in mV', 'mv'],
    ['volt mV', 'mv'],
    ['volt kV', 'kv'],
    ['volt', null],
    ['volt (mV) of the second', null],
    ['volt (second)', null],
    ['resistance (Ω)', 'ω'],
    ['resistance m\u2126', 'mω'],
  ])('reads the unit of %s', (heading, unit) => {
    expect(describeTable([[heading, 'name']], KINDS).columns[0]?.unit ?? null).toBe(unit);
  });
});

describe('the rows of a table', () => {
  it('are read in the unit of the cell, else of the heading, else of the kind; text is trimmed, blank is not measured', () => {
    expect(read('name;volt (mV);cap;note', ' m1 ;7845;6.5; dented ', '', ' ; ; ; ', 'm2;7.9 V;6500mAh;', 'm3; ;;').records).toEqual([
      { row: 2, numbers: { volt: 7.845, capacity: 6.5 }, texts: { id: 'm1', note: 'dented' } },
      { row: 5, numbers: { volt: 7.9, capacity: 6.5 }, texts: { id: 'm2', note: '' } },
      { row: 6, numbers: {}, texts: { id: 'm3', note: '' } },
    ]);
  });
  it('may lie on the ends of what a kind can be, and not beyond', () => {
    expect(read('name;volt', 'a;12', 'b;-12')).toMatchObject({
      faults: [],
      records: [{ numbers: { volt: 12 } }, { numbers: { volt: -12 } }],
    });
    expect(read('name;volt', ' a; 12.1 ', 'b;-12.1').faults).toEqual([
      { row: 2, column: 2, heading: 'volt', reason: '12.1 gives 12.1 V; the voltage lies between -12 and 12 V.' },
      { row: 3, column: 2, heading: 'volt', reason: '-12.1 gives -12.1 V; the voltage lies between -12 and 12 V.' },
    ]);
    // a kind without ends takes what a number can be
    expect(read('name;cap', 'a;-1e9').faults).toEqual([]);
  });
  it('are told by row, column and reason where a cell is no number, in no unit of its kind, missing or one too many', () => {
    expect(read('name;volt', ' a ; x ', 'b;7.8 Ah', 'c', 'd;7.8; ;more', 'e;7.8;', 'f;1.234,5').faults).toEqual([
      { row: 2, column: 2, heading: 'volt', reason: '"x" is not a number. Write digits with a point or a comma.' },
      { row: 3, column: 2, heading: 'volt', reason: '"7.8 Ah" is not a number in V.' },
      { row: 4, column: 2, heading: 'volt', reason: 'The row ends before its column "volt".' },
      { row: 5, column: 4, heading: '', reason: 'The row has 4 cells, the heading 2.' },
      { row: 7, column: 2, heading: 'volt', reason: expect.any(String) },
    ]);
  });
  it('are kept all or none, and two hundred faults are enough', () => {
    const bad = readTable(gridOf('name;volt', ...Array.from({ length: 300 }, () => 'a;x')), shapeOf('id', 'volt'), KINDS);
    expect([bad.records.length, bad.faults.length]).toEqual([0, 200]);
    expect(read('name;volt', 'a;7.8', 'b;x').records).toEqual([]);
  });
});

describe('a table as a whole', () => {
  const whole = (shape: TableShape, ...lines: string[]) => readTable(gridOf(...lines), shape, KINDS).faults;
  it('is refused where a column is taken for what there is not, twice for the same, or in no unit of it', () => {
    expect(whole(shapeOf('id', 'colour'), 'a;b', '1;2')).toEqual([
      { row: 0, column: 2, heading: 'h1', reason: '"colour" is not something this table can hold.' },
    ]);
    expect(whole(shapeOf('volt', 'id', 'volt'), 'a;b;c', '1;2;3')).toEqual([
      { row: 0, column: 3, heading: 'h2', reason: 'Two columns are both taken as the voltage.' },
    ]);
    const inAh = { headingRow: 0, columns: [{ index: 0, heading: 'u', unit: 'ah', key: 'volt' }] };
    expect(whole(inAh, 'u', '1')).toEqual([{ row: 0, column: 1, heading: 'u', reason: 'the voltage cannot be in "ah".' }]);
    const label = { headingRow: 0, columns: [{ index: 0, heading: 'u', unit: 'ah', key: 'id' }] };
    expect(whole(label, 'u', '1')).toEqual([]);
    expect(whole({ headingRow: 0, columns: [{ index: 0, heading: 'u', unit: 'ah', key: 'note' }] }, 'u', '1')).toEqual([]);
  });
  it('is refused without a column that is known, and without a row below its heading', () => {
    expect(whole(shapeOf(null, null), 'a;b', '1;2')).toEqual([
      { row: 0, column: 0, heading: '', reason: 'No column was recognised. Say what each column holds.' },
    ]);
    expect(whole(shapeOf('id', 'volt'), 'a;b', ' ; ')).toEqual([
      { row: 0, column: 0, heading: '', reason: 'The table holds no rows below its heading.' },
    ]);
  });
});
