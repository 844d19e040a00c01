/** Stock from a table: one row a module. Builds on the table reader; all or nothing, with row and column of every fault. */
import { describeTable, readTable, type ColumnKind, type TableFault, type TableShape } from '../reading/table.ts';
import { MAXIMUM_IMPORT_ROWS, stockModuleSchema, type StockModule } from './act.ts';

export type StockFile =
  { readonly kind: 'read'; readonly modules: readonly StockModule[] } | { readonly kind: 'faulty'; readonly faults: readonly TableFault[] };

const volt = { dimension: 'volt', unit: 'V', minimum: 0, maximum: 1000 } as const;

/** The columns a stock table may have, in the order a heading is tried against them. */
export const STOCK_COLUMNS: readonly ColumnKind[] = [
  {
    key: 'moduleId',
    name: 'module label',
    dimension: 'label',
    unit: '',
    words: /^\s*(module|modul|label|id|serial|nr\.?|no\.?|#)\s*(id|nr\.?|no\.?)?\s*$/i,
  },
  { key: 'bin', name: 'where it lies', dimension: 'text', unit: '', words: /\b(bin|shelf|where|place|box|regal|fach|lager)/i },
  { key: 'capacityAh', name: 'capacity', dimension: 'ampereHour', unit: 'Ah', minimum: 0, maximum: 1000, words: /capa|kapa|\bm?ah\b/i },
  {
    key: 'resistanceMilliohm',
    name: 'resistance',
    dimension: 'milliohm',
    unit: 'mΩ',
    minimum: 0,
    maximum: 100_000,
    words: /resist|widerstand|impedan|ohm|[Ωω\u2126]/i,
  },
  {
    key: 'restDropMillivolt',
    name: 'rest drop',
    dimension: 'millivolt',
    unit: 'mV',
    minimum: -5000,
    maximum: 100_000,
    words: /drop|abfall|self|leak/i,
  },
  { key: 'ocvVolt', name: 'voltage', ...volt, words: /volt|ocv|spannung|^\s*[UV]\b/i },
];

/** Finds the heading and guesses the columns of a stock table. */
export function describeStockFile(grid: readonly (readonly string[])[]): TableShape {
  return describeTable(grid, STOCK_COLUMNS);
}

/** Reads a stock table; `typeId` is the module type that the person said the file holds. */
export function readStockFile(grid: readonly (readonly string[])[], shape: TableShape, typeId: string): StockFile {
  const table = readTable(grid, shape, STOCK_COLUMNS);
  const faults = [...table.faults];
  const idColumn = shape.columns.find((c) => c.key === 'moduleId');
  if (!idColumn && faults.length === 0) faults.push({ row: 0, column: 0, heading: '', reason: 'No column is taken as the module label.' });
  if (table.records.length > MAXIMUM_IMPORT_ROWS)
    faults.push({ row: 0, column: 0, heading: '', reason: `${table.records.length} rows are more than ${MAXIMUM_IMPORT_ROWS}.` });
  const modules: StockModule[] = [];
  const rowOf = new Map<string, number>();
  for (const { row, texts, numbers } of table.records) {
    const at = { row, column: (idColumn?.index ?? 0) + 1, heading: idColumn?.heading ?? '' };
    const label = texts.moduleId ?? '';
    const module = stockModuleSchema.safeParse({
      moduleId: label,
      label,
      typeId,
      capacityAh: numbers.capacityAh ?? null,
      resistanceMilliohm: numbers.resistanceMilliohm ?? null,
      restDropMillivolt: numbers.restDropMillivolt ?? null,
      ocvVolt: numbers.ocvVolt ?? null,
      bin: texts.bin ?? '',
    });
    const earlier = rowOf.get(label);
    if (!module.success) faults.push({ ...at, reason: `"${label}" cannot be a module label: ${module.error.issues[0]?.message ?? ''}.` });
    else if (earlier !== undefined) faults.push({ ...at, reason: `Module "${label}" stands twice, also in row ${earlier}.` });
    else modules.push(module.data);
    rowOf.set(label, row);
  }
  return faults.length > 0 ? { kind: 'faulty', faults: faults.sort((a, b) => a.row - b.row).slice(0, 200) } : { kind: 'read', modules };
}
