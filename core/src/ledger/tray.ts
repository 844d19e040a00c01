/** The tray laid out like the vehicle or the pack: which cell suits what comes off a place. */
import { PLAN, type Layer, type Zone } from '../pack/parts.ts';
import { TRAY } from './spot.ts';

export interface CellContent {
  readonly cell: string;
  readonly partIds: readonly string[];
}

/** All cells, row by row. */
export function trayCells(): string[] {
  return Array.from({ length: TRAY.rows }, (_, row) => Array.from(TRAY.columns, (column) => `${column}${row + 1}`)).flat();
}

/**
 * The free cell that lies in the tray as the place lies in the vehicle: the nearest to the middle of its zone; for a layer of the
 * pack the next one from the last row up. Null where the tray is full.
 * @param taken cells that hold something else
 */
export function suggestCell(place: string, zones: readonly Zone[], layers: readonly Layer[], taken: ReadonlySet<string>): string | null {
  const free = trayCells().filter((cell) => !taken.has(cell));
  const zone = zones.find((z) => z.id === place);
  const layer = layers.findIndex((l) => l.id === place);
  const columns = TRAY.columns.length;
  const [x, y] = zone
    ? [
        ((zone.area.x + zone.area.length / 2) / PLAN.length) * columns - 0.5,
        ((zone.area.y + zone.area.width / 2) / PLAN.width) * TRAY.rows - 0.5,
      ]
    : [layer % columns, TRAY.rows - 1];
  let best: { cell: string; off: number } | null = null;
  for (const cell of free) {
    const off = (TRAY.columns.indexOf(cell.charAt(0)) - x) ** 2 + (Number(cell.slice(1)) - 1 - y) ** 2;
    if (off < (best?.off ?? Infinity) - 1e-9) best = { cell, off };
  }
  return best?.cell ?? null;
}
