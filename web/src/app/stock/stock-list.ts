/** Filtering and sorting the stock; plain functions, quick over ten thousand rows. */
import type { StockRow } from '@estuarine/contract';

export type Standing = 'shelf' | 'reserved' | 'quarantine' | 'inPack' | 'all';
export type SortKey = 'moduleId' | 'capacityAh' | 'resistanceMilliohm' | 'restDropMillivolt' | 'ocvVolt' | 'where';

export interface StockFilter {
  readonly text: string;
  readonly standing: Standing;
  readonly minCapacityAh: number | null;
}

/** Where a module is, in words. */
export function whereIs(row: StockRow): string {
  if (row.inJob !== null) return `job ${row.inJob}, place ${row.place ?? '?'}`;
  return row.bin === '' ? 'shelf' : row.bin;
}

function standingOf(row: StockRow): Exclude<Standing, 'all'> {
  if (row.inJob !== null) return 'inPack';
  if (row.quarantine !== null) return 'quarantine';
  return row.reservedBy !== null ? 'reserved' : 'shelf';
}

export function filterStock(rows: readonly StockRow[], { text, standing, minCapacityAh }: StockFilter): StockRow[] {
  const wanted = text.trim().toLowerCase();
  return rows.filter(
    (row) =>
      (standing === 'all' || standingOf(row) === standing) &&
      (minCapacityAh === null || (row.capacityAh ?? -1) >= minCapacityAh) &&
      (wanted === '' || row.label.toLowerCase().includes(wanted) || whereIs(row).toLowerCase().includes(wanted)),
  );
}

const collator = new Intl.Collator('en', { numeric: true });

/** Rows without the figure come last in both directions. */
export function sortStock(rows: readonly StockRow[], key: SortKey, isDown: boolean): StockRow[] {
  const sign = isDown ? -1 : 1;
  return [...rows].sort((a, b) => {
    if (key === 'moduleId') return sign * collator.compare(a.moduleId, b.moduleId);
    if (key === 'where') return sign * collator.compare(whereIs(a), whereIs(b)) || collator.compare(a.moduleId, b.moduleId);
    const [x, y] = [a[key], b[key]];
    if (x === null || y === null) return (x === null ? 1 : 0) - (y === null ? 1 : 0);
    return sign * (x - y) || collator.compare(a.moduleId, b.moduleId);
  });
}
