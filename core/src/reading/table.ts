/**
 * Tables as benches write them: title lines above the heading, units in the heading or in the cell, any order of columns.
 * Splitting a file into cells is done outside; this file says what the cells mean, and names row and column of each fault.
 * A table with one fault is refused whole.
 */
import { readDecimal } from '../quantity/decimal.ts';

/** Factors to the unit that a column is kept in. */
const UNITS = {
  volt: { v: 1, volt: 1, volts: 1, mv: 1e-3, kv: 1e3 },
  ampereHour: { ah: 1, mah: 1e-3 },
  milliohm: { mω: 1, mohm: 1, milliohm: 1, mohms: 1, ω: 1e3, ohm: 1e3, ohms: 1e3, µω: 1e-3, uohm: 1e-3 },
  millivolt: { mv: 1, v: 1e3 },
  celsius: { '°c': 1, c: 1 },
  text: {},
  label: {},
} as const;

export type Dimension = keyof typeof UNITS;

/** What a column may hold: the words that give it away in a heading and the range a value can have in its own unit. */
export interface ColumnKind {
  readonly key: string;
  readonly name: string;
  readonly dimension: Dimension;
  /** Unit taken where neither heading nor cell names one; also the unit of the answer. */
  readonly unit: string;
  readonly words: RegExp;
  readonly minimum?: number;
  readonly maximum?: number;
}

export interface Column {
  readonly index: number;
  readonly heading: string;
  /** The unit named in the heading, lower case, or null. */
  readonly unit: string | null;
  /** Key of the column kind, or null when the column is left out. */
  readonly key: string | null;
}

export interface TableShape {
  /** 0-based index of the heading row; -1 when the table has none. */
  readonly headingRow: number;
  readonly columns: readonly Column[];
}

/** One thing wrong: row and column counted from 1 as a spreadsheet shows them. Row 0: the table as a whole. */
export interface TableFault {
  readonly row: number;
  readonly column: number;
  readonly heading: string;
  readonly reason: string;
}

export interface TableRecord {
  readonly row: number;
  readonly numbers: Readonly<Record<string, number>>;
  readonly texts: Readonly<Record<string, string>>;
}

export interface TableReading {
  readonly records: readonly TableRecord[];
  readonly faults: readonly TableFault[];
}

type Grid = readonly (readonly string[])[];

const MAXIMUM_FAULTS = 200;
/** A heading is looked for in this many first rows. */
const HEADING_ROWS = 30;

/** Finds the heading row and guesses what each column holds. Each kind is given to one column at most, the first that fits. */
export function describeTable(grid: Grid, kinds: readonly ColumnKind[]): TableShape {
  let best = { row: -1, columns: [] as Column[], known: 0 };
  for (let row = 0; row < Math.min(grid.length, HEADING_ROWS); row++) {
    const columns = guessColumns(grid[row] ?? [], kinds);
    const known = columns.filter((c) => c.key !== null).length;
    if (known > best.known && columns.length >= 2) best = { row, columns, known };
  }
  if (best.row >= 0) return { headingRow: best.row, columns: best.columns };
  const width = Math.max(0, ...grid.slice(0, HEADING_ROWS).map((r) => r.length));
  return {
    headingRow: -1,
    columns: Array.from({ length: width }, (_, index) => ({ index, heading: `column ${index + 1}`, unit: null, key: null })),
  };
}

function guessColumns(cells: readonly string[], kinds: readonly ColumnKind[]): Column[] {
  const taken = new Set<string>();
  return cells.map((cell, index) => {
    const heading = cell.trim();
    const unit = unitIn(heading);
    const kind = kinds.find(
      (k) => !taken.has(k.key) && k.words.test(heading) && (unit === null || k.dimension === 'label' || factor(k, unit) !== null),
    );
    if (kind) taken.add(kind.key);
    return { index, heading, unit, key: kind?.key ?? null };
  });
}

/** The unit a heading names: "(V)", "[mAh]", "/ mV", ", mV" or a last word that is a unit. */
function unitIn(heading: string): string | null {
  const bracketed = /[([]\s*([^)\]]+?)\s*[)\]]\s*$/.exec(heading) ?? /(?:\/|,|\bin)\s*([^\s/,]+)\s*$/.exec(heading);
  const candidate = (bracketed?.[1] ?? /\s(\S+)$/.exec(heading)?.[1] ?? '').toLowerCase().replace(/\u03a9|\u2126/g, 'ω');
  return isUnit(candidate) ? candidate : null;
}

const WRITTEN: Readonly<Record<string, string>> = { v: 'V', ah: 'Ah', ω: 'Ω' };

/** A unit of a {@link Column} as it is usually written: `mah` is mAh. */
export function writeUnit(unit: string): string {
  return unit.replace(/(?<=^[mkuµ]?)(v|ah|ω)$/, (sign) => WRITTEN[sign] ?? sign);
}

function isUnit(text: string): boolean {
  return Object.values(UNITS).some((table) => Object.hasOwn(table, text));
}

function factor(kind: ColumnKind, unit: string): number | null {
  const table: Record<string, number> = UNITS[kind.dimension];
  return Object.hasOwn(table, unit) ? (table[unit] ?? null) : null;
}

/**
 * Reads every row below the heading. Blank rows are passed over; a blank cell in a number column is "not measured".
 * Every fault is listed (up to 200); when there is one, the caller keeps nothing.
 */
export function readTable(grid: Grid, shape: TableShape, kinds: readonly ColumnKind[]): TableReading {
  const faults: TableFault[] = [];
  const mapped: { column: Column; kind: ColumnKind }[] = [];
  for (const column of shape.columns) {
    if (column.key === null) continue;
    const kind = kinds.find((k) => k.key === column.key);
    const whole = { row: 0, column: column.index + 1, heading: column.heading };
    if (!kind) faults.push({ ...whole, reason: `"${column.key}" is not something this table can hold.` });
    else if (mapped.some((m) => m.kind === kind)) faults.push({ ...whole, reason: `Two columns are both taken as ${kind.name}.` });
    else if (column.unit !== null && kind.dimension !== 'label' && kind.dimension !== 'text' && factor(kind, column.unit) === null)
      faults.push({ ...whole, reason: `${kind.name} cannot be in "${column.unit}".` });
    else mapped.push({ column, kind });
  }
  if (mapped.length === 0 && faults.length === 0)
    faults.push({ row: 0, column: 0, heading: '', reason: 'No column was recognised. Say what each column holds.' });

  const records: TableRecord[] = [];
  for (let index = shape.headingRow + 1; index < grid.length && faults.length < MAXIMUM_FAULTS; index++) {
    const cells = grid[index] ?? [];
    if (cells.every((c) => c.trim() === '')) continue;
    records.push(readRow(cells, index + 1, mapped, shape.columns.length, faults));
  }
  if (records.length === 0 && faults.length === 0)
    faults.push({ row: 0, column: 0, heading: '', reason: 'The table holds no rows below its heading.' });
  return { records: faults.length > 0 ? [] : records, faults };
}

function readRow(
  cells: readonly string[],
  row: number,
  mapped: readonly { column: Column; kind: ColumnKind }[],
  width: number,
  faults: TableFault[],
): TableRecord {
  const numbers: Record<string, number> = {};
  const texts: Record<string, string> = {};
  const surplus = cells.findIndex((c, i) => i >= width && c.trim() !== '');
  if (surplus >= 0)
    faults.push({ row, column: surplus + 1, heading: '', reason: `The row has ${cells.length} cells, the heading ${width}.` });
  for (const { column, kind } of mapped) {
    const at = { row, column: column.index + 1, heading: column.heading };
    const text = cells[column.index];
    if (text === undefined) {
      faults.push({ ...at, reason: `The row ends before its column "${column.heading}".` });
    } else if (kind.dimension === 'text' || kind.dimension === 'label') {
      texts[kind.key] = text.trim();
    } else if (text.trim() !== '') {
      const value = readCell(text, column, kind);
      if (typeof value === 'string') faults.push({ ...at, reason: value });
      else numbers[kind.key] = value;
    }
  }
  return { row, numbers, texts };
}

/** A number in the kind's own unit, or the reason why not. */
function readCell(text: string, column: Column, kind: ColumnKind): number | string {
  const [, digits = '', suffix = ''] = /^\s*(.*?[\d.,])\s*([^\d.,\s]*)\s*$/.exec(text) ?? [null, text, ''];
  const named = suffix.toLowerCase().replace(/\u03a9|\u2126/g, 'ω');
  const cellFactor = named === '' ? factor(kind, column.unit ?? kind.unit.toLowerCase()) : factor(kind, named);
  if (cellFactor === null) return `"${text.trim()}" is not a number in ${kind.unit}.`;
  const read = readDecimal(digits);
  if (read.kind === 'refused') return read.message;
  const value = Number((read.value * cellFactor).toPrecision(12));
  const { minimum = -Infinity, maximum = Infinity } = kind;
  if (value < minimum || value > maximum)
    return `${text.trim()} gives ${value} ${kind.unit}; ${kind.name} lies between ${minimum} and ${maximum} ${kind.unit}.`;
  return value;
}
