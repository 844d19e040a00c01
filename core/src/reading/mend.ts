/**
 * How a doubted row is put right without reading all of it again: neighbours exchanged, or the rest of the row moved by one. Common
 * practice, no source. Which of the two rows laid side by side is at fault they do not tell: either can be mended.
 */
import type { Doubt, Row } from './doubt.ts';

export interface Mend {
  /** Readings that belong to another place than they were written at. */
  readonly moves: readonly { readonly from: number; readonly to: number }[];
  /** Places for which nothing is left: to be read anew. */
  readonly anew: readonly number[];
}

/**
 * The mend of one of two rows that a doubt speaks of; null where none is known or nothing would move.
 * @param placeCount places that there are
 * @param which the row to be mended: the later, whose readings the doubt tells of, or the earlier that they were laid against
 */
export function mendRow(row: Row, placeCount: number, which: 'earlier' | 'later', { kind, places, slip }: Doubt): Mend | null {
  const [first, second] = places;
  if (first === undefined) return null;
  if (kind === 'swappedNeighbours' && second !== undefined)
    return {
      moves: [
        { from: first, to: second },
        { from: second, to: first },
      ],
      anew: [],
    };
  if (kind !== 'rowShifted' || slip === undefined) return null;
  // what the later row holds at p is of p + slip; if the earlier one slipped, what it holds at p + slip is of p
  const begin = which === 'later' ? first : first + slip;
  const by = which === 'later' ? slip : -slip;
  const moves = [...row.keys()]
    .filter((p) => p >= begin && p + by >= 1 && p + by <= placeCount)
    .sort((a, b) => a - b)
    .map((p) => ({ from: p, to: p + by }));
  const filled = new Set(moves.map((m) => m.to));
  const anew = [...new Set(moves.map((m) => m.from))].filter((p) => !filled.has(p));
  return moves.length === 0 ? null : { moves, anew };
}
