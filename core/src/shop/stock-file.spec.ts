import { shippedProfile } from '../../test/job-fixture.ts';
import { describeStockFile, readStockFile, refuseStock, scaleStock } from './stock-file.ts';

const type = shippedProfile('dunlin-28').moduleType;

function read(lines: string[]) {
  const grid = lines.map((l) => l.split(';'));
  return readStockFile(grid, describeStockFile(grid, type), type);
}

describe('readStockFile', () => {
  it('reads labels, figures with units, and where each lies', () => {
    expect(read(['label;capacity [mAh];resistance [mOhm];rest drop [mV];voltage [V];shelf', 'A-1;5750;26,5;21;7,84;Rack A'])).toEqual({
      kind: 'read',
      questions: [],
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

  it('asks about a whole column in another unit, and takes it so many times as large when told', () => {
    const table = read(['label;capacity', 'A-1;0,0057', 'A-2;0,0056', 'A-3;']);
    if (table.kind !== 'read') throw new Error('faulty');
    const [question] = table.questions;
    expect(question).toMatchObject({ figure: 'capacityAh', factor: 1000 });
    expect(question && scaleStock(table.modules, question).map((m) => m.capacityAh)).toEqual([5.7, 5.6, null]);
  });

  it('names row and column of a figure that no module of the type can have', () => {
    expect(read(['label;capacity [Ah];voltage [V]', 'A-1;5,7;7,8', 'A-2;5700;7,8'])).toMatchObject({
      kind: 'faulty',
      faults: [{ row: 3, column: 2 }],
    });
  });
});

describe('refuseStock', () => {
  const module = {
    moduleId: 'A',
    label: 'A',
    typeId: type.id,
    capacityAh: 5.7,
    resistanceMilliohm: 27,
    restDropMillivolt: 3,
    ocvVolt: 7.8,
    bin: '',
  };
  const find = (id: string) => (id === type.id ? type : null);

  it('names the module and the figure that cannot be, and lets a type that nobody knows be', () => {
    expect(refuseStock([module, { ...module, capacityAh: null }], find)).toBeNull();
    expect(refuseStock([module, { ...module, ocvVolt: 780 }], find)).toMatchObject({
      code: 'impossible',
      path: ['body', 'modules', 1, 'ocvVolt'],
      message: expect.stringContaining('Did you mean 7.8 V?') as unknown,
    });
    expect(refuseStock([{ ...module, typeId: 'other', ocvVolt: 780 }], find)).toBeNull();
  });
});
