/** Stock from a table: one row a module. Builds on the table reader; all or nothing, with row and column of every fault. */
import { describeTable, readTable, type ColumnKind, type TableFault, type TableShape } from '../reading/table.ts';
import {
  askUnit,
  possibleRange,
  refuseImpossible,
  scaleBy,
  type ModuleFigurePlan,
  type ModuleQuantity,
  type UnitQuestion,
} from '../quantity/module-quantities.ts';
import type { Refusal } from '../result.ts';
import { MAXIMUM_IMPORT_ROWS, stockModuleSchema, type StockModule } from './act.ts';

/** The measured figures of a module on the shelf, with what each is a figure of. */
const STOCK_FIGURES = {
  capacityAh: 'capacityAh',
  resistanceMilliohm: 'resistanceMilliohm',
  restDropMillivolt: 'restDropMillivolt',
  ocvVolt: 'openCircuitVolt',
} as const satisfies Partial<Record<keyof StockModule, ModuleQuantity>>;
type StockFigure = keyof typeof STOCK_FIGURES;
const figures = Object.entries(STOCK_FIGURES) as [StockFigure, ModuleQuantity][];

/** The module type that all rows of a table are of. */
export interface StockTarget extends ModuleFigurePlan {
  readonly id: string;
}

export type StockFile =
  | {
      readonly kind: 'read';
      readonly modules: readonly StockModule[];
      /** Figures whose whole column seems to be in another unit: to be asked before they are kept. */
      readonly questions: readonly UnitQuestion<StockFigure>[];
    }
  | { readonly kind: 'faulty'; readonly faults: readonly TableFault[] };

/** The columns a stock table may have, in the order a heading is tried against them. */
export function stockColumns(type: ModuleFigurePlan): ColumnKind[] {
  const range = (figure: StockFigure): { minimum: number; maximum: number } => {
    const { least, most } = possibleRange(STOCK_FIGURES[figure], type);
    // a module that reads the wrong way round is for the scrap bin, not for the shelf
    return { minimum: figure === 'restDropMillivolt' ? Number(least.toFixed(2)) : 0, maximum: Number(most.toFixed(2)) };
  };
  return [
    {
      key: 'moduleId',
      name: 'module label',
      dimension: 'label',
      unit: '',
      words: /^\s*(module|modul|label|id|serial|nr\.?|no\.?|#)\s*(id|nr\.?|no\.?)?\s*$/i,
    },
    { key: 'bin', name: 'where it lies', dimension: 'text', unit: '', words: /\b(bin|shelf|where|place|box|regal|fach|lager)/i },
    { key: 'capacityAh', name: 'capacity', dimension: 'ampereHour', unit: 'Ah', ...range('capacityAh'), words: /capa|kapa|\bm?ah\b/i },
    {
      key: 'resistanceMilliohm',
      name: 'resistance',
      dimension: 'milliohm',
      unit: 'mΩ',
      ...range('resistanceMilliohm'),
      words: /resist|widerstand|impedan|ohm|[Ωω\u2126]/i,
    },
    {
      key: 'restDropMillivolt',
      name: 'rest drop',
      dimension: 'millivolt',
      unit: 'mV',
      ...range('restDropMillivolt'),
      words: /drop|abfall|self|leak/i,
    },
    { key: 'ocvVolt', name: 'voltage', dimension: 'volt', unit: 'V', ...range('ocvVolt'), words: /volt|ocv|spannung|^\s*[UV]\b/i },
  ];
}

/** Finds the heading and guesses the columns of a stock table. */
export function describeStockFile(grid: readonly (readonly string[])[], type: ModuleFigurePlan): TableShape {
  return describeTable(grid, stockColumns(type));
}

/** Reads a stock table; `type` is the module type that the person said the file holds. */
export function readStockFile(grid: readonly (readonly string[])[], shape: TableShape, type: StockTarget): StockFile {
  const table = readTable(grid, shape, stockColumns(type));
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
      typeId: type.id,
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
  return faults.length > 0
    ? { kind: 'faulty', faults: faults.sort((a, b) => a.row - b.row).slice(0, 200) }
    : { kind: 'read', modules, questions: askUnits(modules, type) };
}

function askUnits(modules: readonly StockModule[], type: ModuleFigurePlan): UnitQuestion<StockFigure>[] {
  return figures.flatMap(([figure, quantity]) => {
    const values = modules.map((m) => m[figure]).filter((v) => v !== null);
    return askUnit(figure, quantity, values, type) ?? [];
  });
}

/** The modules with one figure so many times as large: its column was in another unit. */
export function scaleStock(modules: readonly StockModule[], { figure, factor }: UnitQuestion<StockFigure>): StockModule[] {
  return modules.map((m) => ({ ...m, [figure]: m[figure] === null ? null : scaleBy(m[figure], factor) }));
}

/** The first figure that no module of its type can have, with its place in the list; null where all can be, or the type is not known. */
export function refuseStock(modules: readonly StockModule[], findType: (typeId: string) => ModuleFigurePlan | null): Refusal | null {
  for (const [i, module] of modules.entries()) {
    const type = findType(module.typeId);
    for (const [figure, quantity] of type ? figures : []) {
      const value = module[figure];
      const refusal = value === null || !type ? null : refuseImpossible(quantity, value, type, ['body', 'modules', i, figure]);
      if (refusal) return refusal;
    }
  }
  return null;
}
