/**
 * The ledger of what came off, kept as double entry: each movement takes pieces from one spot and puts them at another, so that out,
 * back, owed and to order are sums over the movements and no order of events can lose a piece. A movement says what a person saw and
 * is never refused; where two people counted the same pieces twice, the sums show it.
 */
import type { Part } from '../pack/parts.ts';
import { isAtHand, isFit, spotKey, type Condition, type Spot } from './spot.ts';

export interface Movement {
  readonly partId: string;
  readonly count: number;
  readonly from: Spot;
  readonly to: Spot;
  readonly condition: Condition;
  /** Number of the event, rising. */
  readonly number: number;
}

/** Pieces left off knowingly, with who answers for it. */
export interface LeftOff {
  readonly partId: string;
  readonly count: number;
}

/** Pieces of one condition at one spot. */
export interface Lot {
  readonly spot: Spot;
  readonly condition: Condition;
  readonly count: number;
}

export interface PartBalance {
  readonly part: Part;
  /** Came off. */
  readonly out: number;
  /** Were not there on arrival. */
  readonly absent: number;
  /** Put in, old or new. */
  readonly back: number;
  readonly leftOff: number;
  /** Pieces of an earlier hand that came off beyond what the place holds: nothing goes back for them. */
  readonly foreign: number;
  /** Still to go in: out + absent - back - left off - foreign. Below zero more went in than came off. */
  readonly owed: number;
  /** Of the owed, those for which no fit piece is at hand. */
  readonly toOrder: number;
  /** Where the pieces are now; a count below zero was taken from where none were. */
  readonly lots: readonly Lot[];
  /** Pieces that came off beyond what the place holds and that nobody said to be an earlier hand's: extra ones, or counted twice. */
  readonly surplus: number;
  /** Numbers of the last movements out of its place and into it; 0 for none. */
  readonly lastOut: number;
  readonly lastIn: number;
}

export interface Balance {
  readonly parts: readonly PartBalance[];
  readonly out: number;
  readonly back: number;
  readonly absent: number;
  readonly leftOff: number;
  readonly owed: number;
  readonly toOrder: number;
}

/**
 * What is out, back, owed and to order, part by part and in all.
 * @param parts those of the profile and those found in the work; movements of others are passed over
 * @param movements in the order kept
 */
export function balanceLedger(parts: readonly Part[], movements: readonly Movement[], leftOff: readonly LeftOff[] = []): Balance {
  const moved = groupBy(movements);
  const left = groupBy(leftOff);
  const balances = parts.map((part) => balancePart(part, moved.get(part.id) ?? [], left.get(part.id) ?? []));
  const sum = (figure: (b: PartBalance) => number): number => balances.reduce((total, b) => total + figure(b), 0);
  return {
    parts: balances,
    out: sum((b) => b.out),
    back: sum((b) => b.back),
    absent: sum((b) => b.absent),
    leftOff: sum((b) => b.leftOff),
    owed: sum((b) => Math.max(0, b.owed)),
    toOrder: sum((b) => b.toOrder),
  };
}

function groupBy<T extends { readonly partId: string }>(list: readonly T[]): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of list) {
    const group = groups.get(item.partId);
    if (group) group.push(item);
    else groups.set(item.partId, [item]);
  }
  return groups;
}

/** No lot is kept of these: what the place holds is known by what left it; what was never there or is new comes from outside. */
function isOutside({ kind }: Spot): boolean {
  return kind === 'inPlace' || kind === 'absent' || kind === 'new';
}

function balancePart(part: Part, movements: readonly Movement[], left: readonly LeftOff[]): PartBalance {
  const lots = new Map<string, { spot: Spot; condition: Condition; count: number }>();
  const add = (spot: Spot, condition: Condition, count: number): void => {
    const key = `${spotKey(spot)}/${condition}`;
    const lot = lots.get(key);
    if (lot) lot.count += count;
    else lots.set(key, { spot, condition, count });
  };
  let [out, back, absent, added, foreign, lastOut, lastIn] = [0, 0, 0, 0, 0, 0, 0];
  let inPlace = part.count ?? 0;
  for (const { from, to, count, condition, number } of movements) {
    if (!isOutside(from)) add(from, condition, -count);
    if (!isOutside(to)) add(to, condition, count);
    if (from.kind === to.kind) continue;
    if (from.kind === 'inPlace') {
      inPlace -= count;
      if (to.kind === 'absent') absent += count;
      else out += count;
      if (to.kind !== 'absent' && condition === 'added') added += count;
      lastOut = Math.max(lastOut, number);
    }
    if (to.kind === 'inPlace') {
      inPlace += count;
      if (from.kind === 'absent') absent -= count;
      else back += count;
      lastIn = Math.max(lastIn, number);
    }
    const isNotOfPlace = part.count === null ? added - foreign : Math.min(Math.max(0, -inPlace), added - foreign);
    foreign += isNotOfPlace;
    inPlace += isNotOfPlace;
  }
  const leftOff = left.reduce((total, l) => total + l.count, 0);
  const owed = out + absent - back - leftOff - foreign;
  const rest = [...lots.values()].filter((lot) => lot.count !== 0);
  const fit = rest.reduce((total, lot) => total + (isAtHand(lot.spot) && isFit(lot.condition) ? Math.max(0, lot.count) : 0), 0);
  const surplus = part.count === null ? 0 : Math.max(0, -inPlace);
  const toOrder = Math.max(0, owed - fit);
  return { part, out, absent, back, leftOff, foreign, owed, toOrder, lots: rest, surplus, lastOut, lastIn };
}

/** What goes back next: what came off last, first. */
export function listBackwards(balance: Balance): PartBalance[] {
  return balance.parts.filter((b) => b.owed > 0).sort((a, b) => b.lastOut - a.lastOut);
}

/** How many pieces still sit in place by the count of the profile; null where it gives none. */
export function countInPlace({ part, out, back, absent, foreign }: PartBalance): number | null {
  return part.count === null ? null : part.count - out - absent + back + foreign;
}

/** A part that can be taken for another: of its size and kind, by another name. */
export interface LookAlike {
  readonly part: Part;
  readonly other: Part;
}

/** Fasteners of one size and kind under two names: their pieces are kept apart. */
export function findLookAlikes(parts: readonly Part[]): LookAlike[] {
  const found: LookAlike[] = [];
  const loose = parts.filter((p) => p.kind === 'fastener' && p.size !== '');
  for (const [i, part] of loose.entries())
    for (const other of loose.slice(i + 1)) if (part.size === other.size && part.name !== other.name) found.push({ part, other });
  return found;
}

/** Cells of the tray that hold look-alikes, with the names of both. */
export function findMixedCells(balance: Balance): { readonly cell: string; readonly names: readonly [string, string] }[] {
  const held = new Map<string, Part[]>();
  for (const { part, lots } of balance.parts)
    for (const { spot, count } of lots) if (spot.kind === 'tray' && count > 0) held.set(spot.cell, [...(held.get(spot.cell) ?? []), part]);
  return [...held].flatMap(([cell, parts]) =>
    findLookAlikes(parts).map(({ part, other }) => ({ cell, names: [part.name, other.name] as const })),
  );
}
