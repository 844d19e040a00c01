import { describeStockFile, readStockFile } from './stock-file.ts';

function read(lines: string[]) {
  const grid = lines.map((l) => l.split(';'));
  return readStockFile(grid, describeStockFile(grid), 'nimh-6-prismatic');
}

describe('readStockFile', () => {
  it('reads labels, figures with units, and where each lies', () => {
    expect(read(['label;capacity [mAh];resistance [mOhm];rest drop [mV];voltage [V];shelf', 'A-1;5750;26,5;21;7,84;Rack A'])).toEqual({
      kind: 'read',
      modules: [
        {
          ...{ moduleId: 'A-1', label: 'A-1', typeId: 'nimh-6-prismatic', capacityAh: 5.75, resistanceMilliohm: 26.5 },
          ...{ restDropMillivolt: 21, ocvVolt: 7.84, bin: 'Rack A' },
        },
      ],
    });
  });
  it('names a label that stands twice and one that cannot be', () => {
    expect(read(['label;capacity [Ah]', 'A-1;5', 'A-1;5', 'no such label!;5'])).toMatchObject({
      kind: 'faulty',
      faults: [
        { row: 3, column: 1 },
        { row: 4, column: 1 },
      ],
    });
  });
});
