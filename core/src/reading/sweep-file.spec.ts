import { describeSweepFile, readSweepFile, type ModuleBounds, type SweepFile } from './sweep-file.ts';

const bounds: ModuleBounds = { moduleCount: 28, minimumVolt: 0, maximumVolt: 11.5, maximumCapacityAh: 13, maximumMilliohm: 1000 };

function read(lines: string[], delimiter = ','): SweepFile {
  const grid = lines.map((l) => l.split(delimiter));
  return readSweepFile(grid, describeSweepFile(grid, bounds), bounds);
}

describe('readSweepFile', () => {
  it('reads units from the heading into volt', () => {
    expect(read(['Sweep of Tuesday', 'no.\tU1 [mV]\tU2 [mV]', '1\t7845\t7823'], '\t')).toEqual({
      kind: 'read',
      rows: 1,
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
        { row: 6, column: 2, reason: expect.stringContaining('between 0 and 11.5') },
        { row: 7, column: 3, reason: expect.stringContaining('ends before') },
      ],
    });
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
