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
