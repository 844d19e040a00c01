/** All that comes off at one place, in one act of the hand: what goes with it, what is taken by itself, and where the pieces go. */
import type { Layer, Part, Zone } from '../pack/parts.ts';
import { countInPlace, type Balance, type PartBalance } from './ledger.ts';
import type { Spot } from './spot.ts';
import { suggestCell } from './tray.ts';

/** Pieces of one group from where they sit to where they go. */
export interface WholeMove {
  readonly partId: string;
  readonly count: number;
  readonly from: Spot;
  readonly to: Spot;
  readonly condition: 'good';
}

/**
 * Where the pieces of a group go when nobody says otherwise: covers, ducts and cables stay with their part, clips go to a bag, all else to
 * the tray (common practice, no source).
 * @param cell of the tray that is free for them; null where it is full, then they go to a bag
 */
export function usualSpot({ kind, name }: Part, cell: string | null): Spot {
  if (kind === 'cover' || kind === 'duct' || kind === 'cable') return { kind: 'onPart' };
  return kind === 'clip' || cell === null ? { kind: 'bag', label: name } : { kind: 'tray', cell };
}

/** Whether a group is taken by itself, after its own caution: it bares or parts something, or it is a cable. */
function isAlone({ kind, effects }: Part): boolean {
  return effects.length > 0 || kind === 'cable';
}

/** The groups of a place of which pieces are still in. */
export function listStillIn(parts: readonly PartBalance[]): PartBalance[] {
  return parts.filter((view) => (countInPlace(view) ?? 1) > 0);
}

/**
 * The groups that may come off by one press; what nobody counted is left out. Of a zone those before the first that is taken by itself, in
 * the order of the profile. Of a layer all: what it bares is what it is about, and is said beside it before it comes off.
 */
export function listTakenTogether(parts: readonly PartBalance[], isLayer = false): PartBalance[] {
  const inside = listStillIn(parts);
  const alone = isLayer ? -1 : inside.findIndex((view) => isAlone(view.part));
  return (alone < 0 ? inside : inside.slice(0, alone)).filter((view) => view.part.count !== null);
}

/**
 * The moves that take the groups off in full, each to a cell of its own.
 * @param chosen ids of the groups that came off as the profile says
 * @param taken cells of the tray that hold something already
 */
export function takeOffWhole(
  parts: readonly PartBalance[],
  chosen: ReadonlySet<string>,
  { zones, layers, taken }: { readonly zones: readonly Zone[]; readonly layers: readonly Layer[]; readonly taken: ReadonlySet<string> },
): WholeMove[] {
  const held = new Set(taken);
  const isLayer = layers.some((l) => l.id === parts[0]?.part.place);
  return listTakenTogether(parts, isLayer).flatMap((view): WholeMove[] => {
    const { part } = view;
    const count = countInPlace(view);
    if (count === null || !chosen.has(part.id)) return [];
    const to = usualSpot(part, suggestCell(part.place, zones, layers, held));
    if (to.kind === 'tray') held.add(to.cell);
    return [{ partId: part.id, count, from: { kind: 'inPlace' }, to, condition: 'good' }];
  });
}

/** Cells of the tray that hold something. */
export function findTakenCells(balance: Balance): Set<string> {
  return new Set(balance.parts.flatMap(({ lots }) => lots.flatMap((l) => (l.spot.kind === 'tray' && l.count > 0 ? [l.spot.cell] : []))));
}
