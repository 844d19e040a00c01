import type { StockRow } from '@estuarine/contract';
import { testProfile } from '../../test/profile.ts';
import { splitShelf } from '../job/plan/shelf.ts';
import { filterStock, sortStock, whereIs } from './stock-list.ts';

const row = (moduleId: string, change: Partial<StockRow> = {}): StockRow => ({
  ...{ moduleId, label: moduleId, typeId: 'nimh-6-prismatic', capacityAh: 5, resistanceMilliohm: 25, restDropMillivolt: 20, ocvVolt: 7.8 },
  ...{ bin: 'Rack A', quarantine: null, reservedBy: null, inJob: null, place: null },
  ...change,
});
const rows = [
  row('S10', { capacityAh: 5.5 }),
  row('S9', { capacityAh: null }),
  row('S2', { reservedBy: 3 }),
  row('S3', { quarantine: 'bulged' }),
  row('1-04', { inJob: 1, place: 4 }),
];

describe('filterStock', () => {
  it.each([
    ['shelf', ['S10', 'S9']],
    ['reserved', ['S2']],
    ['quarantine', ['S3']],
    ['inPack', ['1-04']],
    ['all', ['S10', 'S9', 'S2', 'S3', '1-04']],
  ] as const)('shows %s', (standing, ids) => {
    expect(filterStock(rows, { text: '', standing, minCapacityAh: null }).map((r) => r.moduleId)).toEqual(ids);
  });
  it('finds by label and by place, and by least capacity', () => {
    expect(filterStock(rows, { text: 'job 1, place 4', standing: 'all', minCapacityAh: null })).toHaveLength(1);
    expect(filterStock(rows, { text: '', standing: 'all', minCapacityAh: 5.2 }).map((r) => r.moduleId)).toEqual(['S10']);
  });
});

describe('sortStock', () => {
  it('counts in labels, and puts what was not measured last in both directions', () => {
    expect(sortStock(rows.slice(0, 3), 'moduleId', false).map((r) => r.moduleId)).toEqual(['S2', 'S9', 'S10']);
    expect(sortStock(rows.slice(0, 3), 'capacityAh', false).map((r) => r.moduleId)).toEqual(['S2', 'S10', 'S9']);
    expect(sortStock(rows.slice(0, 3), 'capacityAh', true).map((r) => r.moduleId)).toEqual(['S10', 'S2', 'S9']);
  });
  it('says where a module is', () => {
    expect(rows.map(whereIs)).toEqual(['Rack A', 'Rack A', 'Rack A', 'Rack A', 'job 1, place 4']);
  });
});

describe('splitShelf', () => {
  it('leaves out another type, quarantine and reservations of others, and says how many', () => {
    const shelf = splitShelf([...rows, row('X1', { typeId: 'other' })], testProfile(), 7);
    expect(shelf.free.map((m) => m.id)).toEqual(['S10', 'S9']);
    expect(shelf.left).toEqual(['1 of another type', '1 in quarantine', '1 reserved by other jobs']);
    expect(splitShelf(rows, testProfile(), 3).free.map((m) => m.id)).toContain('S2');
  });
});
