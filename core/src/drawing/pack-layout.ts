/** Where each module and each link of a pack lies on the drawing, from the profile and the width at hand. */
import { plusSide, type Profile } from '../pack/profile.ts';

export const SLAB_HEIGHT = 156;
const ROW_GAP = 44;
const POST = 12;
const TOP = 20;
/** Between two bays of a pack that lie apart. */
const BAY_GAP = 14;

export interface Slab {
  readonly place: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly row: number;
  /** Sign of the post at the top (far side) of the slab. */
  readonly topSign: '+' | '−';
  readonly bottomSign: '+' | '−';
}

export interface Bar {
  readonly link: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly side: 'near' | 'far';
  readonly isPlug: boolean;
}

export interface PackLayout {
  readonly width: number;
  readonly height: number;
  readonly perRow: number;
  readonly slabs: readonly Slab[];
  readonly bars: readonly Bar[];
}

/** Modules in one row: all on a bench screen, half on a tablet, seven on a phone. */
function modulesPerRow(count: number, width: number): number {
  if (width >= 24 * count) return count;
  return width >= 480 ? Math.ceil(count / 2) : 7;
}

/** The longest row that still shows slabs of a width to aim at. */
const NARROWEST = 24;

/**
 * How many modules each row holds, in string order. No row crosses from one bay into the next: a bay is a row of its own, or some rows of
 * about the same length.
 */
function rowLengths({ moduleCount: count, bays }: Pick<Profile, 'moduleCount' | 'bays'>, width: number): number[] {
  const most = modulesPerRow(count, width);
  if (most === count) return [count];
  const parts = bays.length > 0 ? bays.map(({ from, to }) => to - from + 1) : [count];
  // a bay fills the width by itself where its slabs stay wide enough
  const longest = bays.length > 0 ? Math.max(7, Math.floor(width / NARROWEST)) : most;
  return parts.flatMap((part) => {
    const rows = Math.ceil(part / longest);
    const each = bays.length > 0 ? Math.ceil(part / rows) : longest;
    return Array.from({ length: rows }, (_, i) => Math.min(each, part - i * each));
  });
}

/**
 * Serpentine: every second row runs back, so that neighbours stay neighbours.
 * @param isTurnedOver bottom up, turned about its long axis: the first end stays where it is, the sides change places
 */
export function layOutPack(profile: Profile, width: number, extraRowHeight = 0, isTurnedOver = false): PackLayout {
  const count = profile.moduleCount;
  const lengths = rowLengths(profile, width);
  const perRow = Math.max(...lengths);
  // on one row the bays lie apart as they do in the vehicle; in a serpentine the rows part them already
  const starts = lengths.length === 1 ? profile.bays.slice(1).map((b) => b.from) : [];
  const pitch = (width - starts.length * BAY_GAP) / perRow;
  const bayOffset = (place: number): number => starts.filter((from) => from <= place).length * BAY_GAP;
  const gap = Math.min(4, pitch * 0.08);
  const rowHeight = SLAB_HEIGHT + ROW_GAP + extraRowHeight;
  const spots = spotsOf(lengths, perRow);
  const slabs = spots.map(({ row, column }, index): Slab => {
    const isPlusBelow = (plusSide(profile, index + 1) === 'near') !== isTurnedOver;
    return {
      place: index + 1,
      x: column * pitch + gap / 2 + bayOffset(index + 1),
      y: TOP + row * rowHeight,
      width: pitch - gap,
      row,
      topSign: isPlusBelow ? '−' : '+',
      bottomSign: isPlusBelow ? '+' : '−',
    };
  });
  const bars = Array.from({ length: count - 1 }, (_, index): Bar => {
    const a = slabs[index] as Slab;
    const b = slabs[index + 1] as Slab;
    const side = plusSide(profile, index + 1);
    const left = Math.min(a.x, b.x) + a.width / 2 - POST / 2;
    const sameRow = a.row === b.row;
    const isAbove = (side === 'far') !== isTurnedOver;
    const top = isAbove ? a.y - POST : a.y + SLAB_HEIGHT;
    return {
      link: index + 1,
      x: left,
      y: sameRow || isAbove ? top : a.y + SLAB_HEIGHT,
      width: sameRow ? Math.abs(b.x - a.x) + POST : POST,
      height: sameRow ? POST : ROW_GAP,
      side,
      isPlug: profile.plug.opensLink === index + 1,
    };
  });
  return { width, height: TOP + lengths.length * rowHeight, perRow, slabs, bars };
}

/** Row and column of each place; a row begins under the end of the one before it. */
function spotsOf(lengths: readonly number[], perRow: number): { readonly row: number; readonly column: number }[] {
  let end = 0;
  return lengths.flatMap((length, row) => {
    const isBack = row % 2 === 1;
    const from = isBack ? Math.max(end, length - 1) : Math.min(end, perRow - length);
    end = isBack ? from - length + 1 : from + length - 1;
    return Array.from({ length }, (_, i) => ({ row, column: isBack ? from - i : from + i }));
  });
}

/** The place whose slab lies nearest to a point, so that narrow slabs need no aim. */
export function nearestPlace(layout: PackLayout, x: number, y: number): number {
  let best = { place: 1, off: Infinity };
  for (const slab of layout.slabs) {
    const dx = Math.max(slab.x - x, 0, x - slab.x - slab.width);
    const dy = Math.max(slab.y - y, 0, y - slab.y - SLAB_HEIGHT);
    const off = dx * dx + dy * dy;
    if (off < best.off) best = { place: slab.place, off };
  }
  return best.place;
}

/** The link whose bar lies nearest, when the point is on the rims where bars lie; null in the middle of the slabs. */
export function nearestLink(layout: PackLayout, x: number, y: number): number | null {
  let best: { link: number; off: number } | null = null;
  for (const bar of layout.bars) {
    const dx = Math.max(bar.x - x, 0, x - bar.x - bar.width);
    const dy = Math.max(bar.y - y, 0, y - bar.y - bar.height);
    const off = dx * dx + dy * dy;
    if (dy <= 24 && off < (best?.off ?? Infinity)) best = { link: bar.link, off };
  }
  return best?.link ?? null;
}
