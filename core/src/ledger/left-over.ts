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

/** A part that the profile does not know, found on other jobs of the shop. */
export interface FoundElsewhere {
  readonly name: string;
  readonly place: string;
  readonly where: string;
  readonly size: string;
  readonly isHidden: boolean;
}

export interface LikelyHome {
  readonly name: string;
  readonly where: string;
  /** Of all homes together, 0 to 1. */
  readonly share: number;
  /** Pieces of places that are cleared before it and are back already. */
  readonly undoing: number;
  readonly owed: number;
  readonly why: readonly string[];
}

/** How much likelier a sign makes a home. */
const TIMES = { owed: 20, size: 6, otherSize: 0.1, word: 3, hidden: 1.5, foundElsewhere: 3 } as const;
const MOST = 6;

/**
 * @param places ids in the order in which they are cleared; what is cleared first goes back last
 * @param elsewhere what other jobs found that the profile does not know
 */
export function findHomes(
  piece: LeftOverPiece,
  balance: Balance,
  places: readonly string[],
  elsewhere: readonly FoundElsewhere[] = [],
): LikelyHome[] {
  const size = normal(piece.size);
  const words = normal(piece.words)
    .split(' ')
    .filter((w) => w.length > 1);
  const weigh = (home: FoundElsewhere, about: string, owed: number, isElsewhere: boolean): LikelyHome => {
    const known = normal(about).split(' ');
    const hits = words.filter((w) => known.includes(w));
    const isSize = size !== '' && normal(home.size) === size;
    const weight =
      (owed > 0 ? TIMES.owed : 1) *
      (size === '' || home.size === '' ? 1 : isSize ? TIMES.size : TIMES.otherSize) *
      TIMES.word ** hits.length *
      (home.isHidden ? TIMES.hidden : 1) *
      (isElsewhere ? TIMES.foundElsewhere : 1);
    const why = [
      ...(owed > 0 ? [`${owed} still owed there`] : []),
      ...(isSize ? [`size ${home.size}`] : []),
      ...(hits.length > 0 ? [hits.join(', ')] : []),
      ...(isElsewhere ? ['found there on other jobs'] : []),
    ];
    return { name: home.name, where: home.where, share: weight, undoing: undoingAt(home.place, balance, places), owed, why };
  };
  const homes = [
    ...balance.parts
      .filter(({ part }) => part.kind === 'fastener' || part.kind === 'clip')
      .map(({ part, owed }) => weigh(part, `${part.name} ${part.where} ${part.caution} ${part.tool}`, Math.max(0, owed), false)),
    ...elsewhere.map((found) => weigh(found, `${found.name} ${found.where}`, 0, true)),
  ];
  const all = homes.reduce((sum, h) => sum + h.share, 0);
  return homes
    .map((h) => ({ ...h, share: h.share / all }))
    .sort((x, y) => y.share - x.share || x.undoing - y.undoing)
    .slice(0, MOST);
}

/** Pieces that come off again to reach a place: those in place of all that is cleared before it. */
export function countUndoing({ part }: PartBalance, balance: Balance, places: readonly string[]): number {
  return undoingAt(part.place, balance, places);
}

function undoingAt(place: string, balance: Balance, places: readonly string[]): number {
  const at = places.indexOf(place);
  const before = new Set(places.slice(0, Math.max(0, at)));
  return balance.parts.reduce((sum, b) => sum + (before.has(b.part.place) ? Math.max(0, countInPlace(b) ?? 0) : 0), 0);
}

function normal(text: string): string {
  return text
    .toLowerCase()
    .replace(/[^a-z0-9/]+/g, ' ')
    .trim();
}
