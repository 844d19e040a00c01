/**
 * A piece is left over: where it belongs most likely, and what going back for it costs. Weighed by what is still owed, size, thread, and
 * the words of the profile; jobs of the shop that forgot it before count too. Common practice, no source.
 */
import { countInPlace, type Balance, type PartBalance } from './ledger.ts';

export interface LeftOverPiece {
  /** Across flats, such as `10 mm`; empty where nobody measured. */
  readonly size: string;
  /** What is seen of it: thread, length, washer, colour, shoulder. */
  readonly words: string;
}

export interface LikelyHome {
  readonly part: PartBalance['part'];
  /** Of all homes together, 0 to 1. */
  readonly share: number;
  /** Pieces of places that are cleared before it and are back already. */
  readonly undoing: number;
  readonly owed: number;
  readonly why: readonly string[];
}

/** How much likelier a sign makes a home. */
const TIMES = { owed: 20, size: 6, otherSize: 0.1, word: 3, hidden: 1.5, forgotten: 3 } as const;
const MOST = 6;

/**
 * @param places ids in the order in which they are cleared; what is cleared first goes back last
 * @param forgotten ids of parts that other jobs of the profile left over
 */
export function findHomes(
  piece: LeftOverPiece,
  balance: Balance,
  places: readonly string[],
  forgotten: readonly string[] = [],
): LikelyHome[] {
  const size = normal(piece.size);
  const words = normal(piece.words).split(' ').filter((w) => w.length > 1); // prettier-ignore
  const weighed = balance.parts
    .filter((b) => b.part.kind === 'fastener' || b.part.kind === 'clip')
    .map((b) => {
      const { part } = b;
      const about = normal(`${part.name} ${part.where} ${part.caution} ${part.tool}`);
      const hits = words.filter((w) => about.split(' ').includes(w));
      const isSize = size !== '' && normal(part.size) === size;
      const why = [
        ...(b.owed > 0 ? [`${b.owed} still owed there`] : []),
        ...(isSize ? [`size ${part.size}`] : []),
        ...(hits.length > 0 ? [hits.join(', ')] : []),
        ...(forgotten.includes(part.id) ? ['left over on other jobs'] : []),
      ];
      const weight =
        (b.owed > 0 ? TIMES.owed : 1) *
        (size === '' || part.size === '' ? 1 : isSize ? TIMES.size : TIMES.otherSize) *
        TIMES.word ** hits.length *
        (part.isHidden ? TIMES.hidden : 1) *
        (forgotten.includes(part.id) ? TIMES.forgotten : 1);
      return { b, weight, why };
    });
  const all = weighed.reduce((sum, w) => sum + w.weight, 0);
  return weighed
    .map(({ b, weight, why }) => ({ part: b.part, share: weight / all, undoing: countUndoing(b, balance, places), owed: b.owed, why }))
    .sort((x, y) => y.share - x.share || x.undoing - y.undoing)
    .slice(0, MOST);
}

/** Pieces that come off again to reach a place: those in place of all that is cleared before it. */
export function countUndoing({ part }: PartBalance, balance: Balance, places: readonly string[]): number {
  const at = places.indexOf(part.place);
  const before = new Set(places.slice(0, Math.max(0, at)));
  return balance.parts.reduce((sum, b) => sum + (before.has(b.part.place) ? Math.max(0, countInPlace(b) ?? 0) : 0), 0);
}

function normal(text: string): string {
  return text
    .toLowerCase()
    .replace(/[^a-z0-9/]+/g, ' ')
    .trim();
}
