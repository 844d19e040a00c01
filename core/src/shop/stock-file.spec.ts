import { shippedProfile } from '../../test/job-fixture.ts';
import { MAXIMUM_IMPORT_ROWS } from './act.ts';
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

  it('knows its columns by the headings that benches write', () => {
    const keyOf = (heading: string) => {
      const grid = [['label', heading], ['A-1', '5']]; // prettier-ignore
      return describeStockFile(grid, type).columns.find((c) => c.index === 1)?.key;
    };
    for (const heading of ['mAh', 'Ah', 'Kapazität', 'cap. (capacity)']) expect([heading, keyOf(heading)]).toEqual([heading, 'capacityAh']);
    for (const heading of ['Ω', 'Innenwiderstand', 'impedance']) expect([heading, keyOf(heading)]).toEqual([heading, 'resistanceMilliohm']);
    for (const heading of ['U', ' V', 'OCV', 'Spannung']) expect([heading, keyOf(heading)]).toEqual([heading, 'ocvVolt']);
    for (const heading of ['self discharge', 'Abfall']) expect([heading, keyOf(heading)]).toEqual([heading, 'restDropMillivolt']);
    for (const heading of ['Fach', 'box']) expect([heading, keyOf(heading)]).toEqual([heading, 'bin']);
    for (const heading of ['Ahead', 'Universe', 'Ventil']) expect([heading, keyOf(heading)]).not.toEqual([heading, 'ocvVolt']);
    const labelOf = (heading: string) => {
      const grid = [[heading, 'Ah'], ['A-1', '5']]; // prettier-ignore
      return describeStockFile(grid, type).columns.find((c) => c.index === 0)?.key;
    };
    for (const heading of ['label', ' Modul Nr. ', 'module id', 'No.', 'nr', '#', 'serial no', 'Nr ']) expect([heading, labelOf(heading)]).toEqual([heading, 'moduleId']); // prettier-ignore
    for (const heading of ['labelled by', 'my id', 'module temperature']) expect([heading, labelOf(heading)]).not.toEqual([heading, 'moduleId']); // prettier-ignore
  });

  it('is refused without labels, with too many rows, and tells the first 200 faults in the order of the rows', () => {
    expect(read(['capacity [Ah];voltage [V]', '5,7;7,8'])).toMatchObject({ kind: 'faulty', faults: [{ row: 0, column: 0 }, { row: 2 }] });
    const many = (count: number, label: (i: number) => string) => read(['label;voltage [V]', ...Array.from({ length: count }, (_, i) => `${label(i)};7,8`)]); // prettier-ignore
    expect(many(MAXIMUM_IMPORT_ROWS, (i) => `A-${i}`).kind).toBe('read');
    expect(many(MAXIMUM_IMPORT_ROWS + 1, (i) => `A-${i}`)).toMatchObject({ kind: 'faulty', faults: [{ row: 0 }] });
    const table = many(300, () => 'A-1');
    const rows = table.kind === 'faulty' ? table.faults.map((f) => f.row) : [];
    expect(rows).toEqual(Array.from({ length: 200 }, (_, i) => i + 3));
  });

  it('takes no module that reads the wrong way round, and any drop that a meter shows', () => {
    expect(read(['label;voltage [V]', 'A-1;-7,8'])).toMatchObject({ kind: 'faulty', faults: [{ row: 2, column: 2 }] });
    expect(read(['label;rest drop [mV]', 'A-1;-2'])).toMatchObject({ kind: 'read', modules: [{ restDropMillivolt: -2 }] });
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
