/** Sweeps from a table: one row a module, one column a figure. Builds on `table.ts`; all or nothing. */
import { askUnit, possibleRange, scaleBy, type ModuleFigurePlan, type UnitQuestion } from '../quantity/module-quantities.ts';
import { describeTable, readTable, type Column, type ColumnKind, type TableFault, type TableRecord, type TableShape } from './table.ts';

/** The figures one sweep file may carry, with the unit each is kept in. */
export const SWEEP_FIGURES = ['openCircuitVolt', 'restVolt', 'loadVolt', 'recoveredVolt', 'capacityAh', 'resistanceMilliohm'] as const;
export type SweepFigure = (typeof SWEEP_FIGURES)[number];

/** What a table is read for: so many modules of a type. */
export interface SweepTarget {
  readonly moduleCount: number;
  readonly type: ModuleFigurePlan;
}

export interface SweepFileReading {
  readonly place: number;
  readonly figure: SweepFigure;
  readonly value: number;
}

export type SweepFile =
  | {
      readonly kind: 'read';
      readonly readings: readonly SweepFileReading[];
      readonly rows: number;
      /** Figures whose whole column seems to be in another unit: to be asked before they are kept. */
      readonly questions: readonly UnitQuestion<SweepFigure>[];
    }
  | { readonly kind: 'faulty'; readonly faults: readonly TableFault[] };

/** The columns a sweep table may have. Words are those of common English and German headings (common practice, no source). */
export function sweepColumns({ type }: SweepTarget): ColumnKind[] {
  const range = (figure: SweepFigure): { minimum: number; maximum: number } => {
    const { least, most } = possibleRange(figure, type);
    return { minimum: Number(least.toFixed(2)), maximum: Number(most.toFixed(2)) };
  };
  const volt = { dimension: 'volt', unit: 'V', ...range('openCircuitVolt') } as const;
  return [
    {
      key: 'module',
      name: 'module number',
      dimension: 'label',
      unit: '',
      words: /^\s*(module|modul|mod\.?)?[\s_-]*(module|modul|mod\.?|nr\.?|no\.?|number|nummer|id|place|platz|position|pos\.?|#)\s*$/i,
    },
    { key: 'recoveredVolt', name: 'recovered voltage', ...volt, words: /recover|erhol/i },
    { key: 'loadVolt', name: 'voltage under load', ...volt, words: /(under|unter|on|loaded)?\s*(load|last)\b|\bloaded\b/i },
    {
      key: 'restVolt',
      name: 'voltage after rest',
      ...volt,
      words: /after|rest|nach|ruhe|second|zweite|\b[UV]_?2\b|(voltage|spannung|volt)\s*_?2\b/i,
    },
    {
      key: 'openCircuitVolt',
      name: 'open-circuit voltage',
      ...volt,
      words: /open|ocv|leerlauf|first|erste|voltage|spannung|^\s*[UV][\s_]*1?\s*($|[/([,])|\bvolts?\b/i,
    },
    {
      key: 'capacityAh',
      name: 'capacity',
      dimension: 'ampereHour',
      unit: 'Ah',
      ...range('capacityAh'),
      words: /capa|kapa|\bm?ah\b|^\s*[CQ]\s*($|[/([,])/i,
    },
    {
      key: 'resistanceMilliohm',
      name: 'resistance',
      dimension: 'milliohm',
      unit: 'mΩ',
      ...range('resistanceMilliohm'),
      words: /resist|widerstand|impedan|^\s*R(i|dc)?\s*($|[/([,])|ohm|[Ωω\u2126]/i,
    },
  ];
}

/** Finds the heading and guesses the columns of a sweep table. */
export function describeSweepFile(grid: readonly (readonly string[])[], target: SweepTarget): TableShape {
  return describeTable(grid, sweepColumns(target));
}

/** Reads a sweep table by a mapping that a person may have changed. Faults name row and column; one fault refuses the table. */
export function readSweepFile(grid: readonly (readonly string[])[], shape: TableShape, target: SweepTarget): SweepFile {
  const { moduleCount } = target;
  const table = readTable(grid, shape, sweepColumns(target));
  const faults = [...table.faults];
  const moduleColumn = shape.columns.find((c) => c.key === 'module');
  if (!moduleColumn && faults.length === 0)
    faults.push({ row: 0, column: 0, heading: '', reason: 'No column is taken as the module number.' });
  if (!shape.columns.some((c) => c.key !== null && c.key !== 'module') && faults.length === 0)
    faults.push({ row: 0, column: 0, heading: '', reason: 'No column is taken as a figure, such as a voltage.' });
  if (!moduleColumn) return { kind: 'faulty', faults: sortFaults(faults) };

  const readings: SweepFileReading[] = [];
  const rowOfPlace = new Map<number, number>();
  // labels are checked on every row, also when a number elsewhere is at fault, so that all faults show at once
  const rows = table.records.length > 0 ? table.records : labelRows(grid, shape, moduleColumn);
  for (const record of rows) {
    const at = { row: record.row, column: moduleColumn.index + 1, heading: moduleColumn.heading };
    const place = readPlace(record.texts.module ?? '');
    if (place === null || place < 1 || place > moduleCount) {
      faults.push({ ...at, reason: `"${record.texts.module ?? ''}" is not a module from 1 to ${moduleCount}.` });
      continue;
    }
    const earlier = rowOfPlace.get(place);
    if (earlier !== undefined) faults.push({ ...at, reason: `Module ${place} stands twice, also in row ${earlier}.` });
    else rowOfPlace.set(place, record.row);
    for (const figure of SWEEP_FIGURES) {
      const value = record.numbers[figure];
      if (value !== undefined) readings.push({ place, figure, value });
    }
  }
  if (faults.length > 0) return { kind: 'faulty', faults: sortFaults(faults) };
  if (readings.length === 0) return { kind: 'faulty', faults: [{ row: 0, column: 0, heading: '', reason: 'The table holds no value.' }] };
  return { kind: 'read', readings, rows: rowOfPlace.size, questions: askUnits(readings, target) };
}

function sortFaults(faults: readonly TableFault[]): TableFault[] {
  return [...faults].sort((a, b) => a.row - b.row || a.column - b.column);
}

function askUnits(readings: readonly SweepFileReading[], { type }: SweepTarget): UnitQuestion<SweepFigure>[] {
  return SWEEP_FIGURES.flatMap((figure) => {
    const values = readings.filter((r) => r.figure === figure).map((r) => r.value);
    return askUnit(figure, figure, values, type) ?? [];
  });
}

/** The readings with one figure so many times as large: its column was in another unit. */
export function scaleFigure(
  readings: readonly SweepFileReading[],
  { figure, factor }: Pick<UnitQuestion, 'figure' | 'factor'>,
): SweepFileReading[] {
  return readings.map((r) => (r.figure === figure ? { ...r, value: scaleBy(r.value, factor) } : r));
}

function labelRows(grid: readonly (readonly string[])[], shape: TableShape, column: Column): TableRecord[] {
  return grid.flatMap((cells, i) => {
    const isBelow = i > shape.headingRow && cells.some((c) => c.trim() !== '');
    return isBelow ? [{ row: i + 1, numbers: {}, texts: { module: (cells[column.index] ?? '').trim() } }] : [];
  });
}

/** "7", "07", "M07", "module 7", "Nr. 7" are place 7. */
function readPlace(label: string): number | null {
  const digits = /^(?:m|mod\.?|module|modul|nr\.?|no\.?|#)?\s*0*(\d{1,4})$/i.exec(label)?.[1];
  return digits === undefined ? null : Number(digits);
}
