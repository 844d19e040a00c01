import { writeUnit } from './table.ts';
import { describeSweepFile, readSweepFile, scaleFigure, type SweepFile, type SweepTarget } from './sweep-file.ts';

const type = { nominalVolt: 7.2, maximumModuleVolt: 9.6, nominalCapacityAh: 6.5, typicalMilliohm: 25 };
const target: SweepTarget = { moduleCount: 28, type };

function read(lines: string[], delimiter = ','): SweepFile {
  const grid = lines.map((l) => l.split(delimiter));
  return readSweepFile(grid, describeSweepFile(grid, target), target);
}

describe('readSweepFile', () => {
  it.each([
    ['Modul Nr;Spannung 1;Spannung 2;Kapazität', ['module', 'openCircuitVolt', 'restVolt', 'capacityAh']],
    ['Module No.;Voltage 1 (V);Voltage 2 (V);R', ['module', 'openCircuitVolt', 'restVolt', 'resistanceMilliohm']],
    ['Modulnummer;U_1;U_2', ['module', 'openCircuitVolt', 'restVolt']],
  ])('guesses the columns of %s', (heading, keys) => {
    const cells = heading.split(';');
    const grid = [cells, ...[1, 2, 3].map((n) => cells.map((_, i) => (i === 0 ? String(n) : '7.8')))];
    expect(describeSweepFile(grid, target).columns.map((c) => c.key)).toEqual(keys);
  });

  it('reads units from the heading into volt', () => {
    expect(read(['Sweep of Tuesday', 'no.\tU1 [mV]\tU2 [mV]', '1\t7845\t7823'], '\t')).toEqual({
      kind: 'read',
      rows: 1,
      questions: [],
      readings: [
        { place: 1, figure: 'openCircuitVolt', value: 7.845 },
        { place: 1, figure: 'restVolt', value: 7.823 },
      ],
    });
  });

  it('takes a blank cell as not measured', () => {
    expect(read(['module,V1,V2', '1,7.8,', '2,,7.7'])).toMatchObject({ readings: [{ place: 1 }, { place: 2, figure: 'restVolt' }] });
  });

  it('names row and column of every fault, and keeps nothing', () => {
    const file = read(['module,V1,V2', '1,7.8,7.7', '2,7.8x,7.7', '2,7.8,7.7', '30,7.8,7.7', '4,786,7.7', '5,7.8']);
    expect(file).toMatchObject({
      kind: 'faulty',
      faults: [
        { row: 3, column: 2 },
        { row: 4, column: 1, reason: expect.stringContaining('stands twice') },
        { row: 5, column: 1, reason: expect.stringContaining('not a module from 1 to 28') },
        { row: 6, column: 2, reason: expect.stringContaining('between -12 and 12') },
        { row: 7, column: 3, reason: expect.stringContaining('ends before') },
      ],
    });
  });

  it('asks about the unit of a column that is a thousandth of what is usual, and scales it when told to', () => {
    const file = read(['module,V1,R', '1,0.0078,25', '2,0.0079,26', '3,0.0077,24']);
    if (file.kind !== 'read') throw new Error('faulty');
    expect(file.questions).toEqual([{ figure: 'openCircuitVolt', factor: 1000, sentence: expect.stringContaining('1000 times') }]);
    const scaled = scaleFigure(file.readings, file.questions[0]!);
    expect(scaled.map((r) => r.value)).toEqual([7.8, 25, 7.9, 26, 7.7, 24]);
    expect(read(['module,V1', '1,7.8'])).toMatchObject({ questions: [] });
  });

  it('refuses a table without a module column or without figures', () => {
    expect(read(['first,second', '1,2'])).toMatchObject({ kind: 'faulty' });
    expect(read(['module,colour', '1,red'])).toMatchObject({ kind: 'faulty', faults: [{ reason: expect.stringContaining('figure') }] });
  });

  it('says what is missing of the table as a whole, with no row', () => {
    const whole = (lines: string[]) => read(lines);
    expect(whole(['V1,R', '7.8,25'])).toEqual({
      kind: 'faulty',
      faults: [{ row: 0, column: 0, heading: '', reason: 'No column is taken as the module number.' }],
    });
    expect(whole(['module,V1', '1,', '2, '])).toEqual({
      kind: 'faulty',
      faults: [{ row: 0, column: 0, heading: '', reason: 'The table holds no value.' }],
    });
  });

  it('sorts faults by row and column, and takes the first and the last module', () => {
    const file = read(['R,module,V1', '25,1,7.8', '25,28,7.8', 'x,29,7.8', '25,0,y', '25,,7.8']);
    expect(file.kind === 'faulty' && file.faults.map((f) => [f.row, f.column])).toEqual([
      [4, 1],
      [4, 2],
      [5, 2],
      [5, 3],
      [6, 2],
    ]);
    expect(read(['module,V1', '1,7.8', '28,7.9'])).toMatchObject({ kind: 'read', rows: 2, readings: [{ place: 1 }, { place: 28 }] });
  });

  it.each(['M1', 'm 1', 'Mod 1', 'mod. 1', 'Modul 1', 'Module 01', 'Nr 1', 'Nr. 1', 'No 1', 'no. 1', '# 1', '001'])(
    'takes %s for module 1',
    (label) => {
      expect(read(['module,V1', `${label},7.8`])).toMatchObject({ readings: [{ place: 1, value: 7.8 }] });
    },
  );
  it.each(['1a', 'x1', '1.5', '-1', 'M', 'module', '11111', 'M 1 2', ''])('takes "%s" for no module', (label) => {
    expect(read(['module,V1', `${label},7.8`, '2,7.8'])).toMatchObject({ kind: 'faulty' });
  });

  it.each([
    ['module,load', 'loadVolt'],
    ['module,under load', 'loadVolt'],
    ['module,unter Last', 'loadVolt'],
    ['module,loaded', 'loadVolt'],
    ['module,after rest', 'restVolt'],
    ['module,nach Ruhe', 'restVolt'],
    ['module,U2', 'restVolt'],
    ['module,OCV', 'openCircuitVolt'],
    ['module,Leerlauf', 'openCircuitVolt'],
    ['module,U', 'openCircuitVolt'],
    ['module,V 1', 'openCircuitVolt'],
    ['module,U_1 (V)', 'openCircuitVolt'],
    ['module,volts', 'openCircuitVolt'],
    ['module,mAh', 'capacityAh'],
    ['module,Ah', 'capacityAh'],
    ['module,C', 'capacityAh'],
    ['module,Q (Ah)', 'capacityAh'],
    ['module,Kapazität', 'capacityAh'],
    ['module,R', 'resistanceMilliohm'],
    ['module,Ri (mΩ)', 'resistanceMilliohm'],
    ['module,Rdc', 'resistanceMilliohm'],
    ['module,mohm', 'resistanceMilliohm'],
    ['module,Widerstand', 'resistanceMilliohm'],
    ['module,colour', null],
    ['module,Comment', null],
    ['module,Rack', null],
    ['module,Quality', null],
    ['module,Unit', null],
  ])('knows the second column of %s', (heading, key) => {
    expect(describeSweepFile([heading.split(','), ['1', '7']], target).columns[1]?.key ?? null).toBe(key);
  });
  const firstKey = (heading: string) =>
    describeSweepFile(
      [heading, '1'].map((cell) => [cell, 'volt']),
      target,
    ).columns[0]?.key;
  it.each(['Module', 'Modul Nr.', 'module no', 'No.', 'Nummer', 'ID', 'Platz', 'pos.', '#', 'Module-ID', 'mod. position'])(
    'knows %s for the module',
    (heading) => {
      expect(firstKey(heading)).toBe('module');
    },
  );
  it.each(['Model', 'Identity', 'notes', 'Module colour', 'repositioned'])('does not take %s for the module', (heading) => {
    expect(firstKey(heading)).not.toBe('module');
  });

  it('reads labels as people write them', () => {
    expect(read(['module,V1', 'M07,7.8', 'module 8,7.8', '#9,7.8'])).toMatchObject({
      readings: [{ place: 7 }, { place: 8 }, { place: 9 }],
    });
  });
});

it.each([
  ['v', 'V'],
  ['mv', 'mV'],
  ['mah', 'mAh'],
  ['mω', 'mΩ'],
  ['volt', 'volt'],
])('writes the unit %s of a heading as %s', (unit, written) => {
  expect(writeUnit(unit)).toBe(written);
});
