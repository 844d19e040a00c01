/**
 * The truth that the number on the line is held against: a workshop in which one real pack is taken apart. Physics as a plain graph of
 * conductors, written apart from the product: it knows profiles and nothing of how the product folds, joins or exposes.
 */
import type { Profile } from '../src/pack/profile.ts';

/** One thing that a hand did. Any part of a history can be replayed: what is not there cannot come off. */
export type Deed =
  | { kind: 'plug'; isIn: boolean }
  | { kind: 'twelveVolt'; isOff: boolean }
  | { kind: 'cables'; are: 'closed' | 'open' | 'insulated' }
  | { kind: 'outlets'; areBare: boolean }
  | { kind: 'pack'; isOnBench: boolean }
  | { kind: 'relays'; areOut: boolean }
  | { kind: 'case'; isOpen: boolean }
  /** `over`: joints, k from the plus of module k to the minus of the next; every one where it is left out. */
  | { kind: 'covers'; areOff: boolean; over?: readonly number[] }
  | { kind: 'harness'; isOut: boolean }
  | { kind: 'links'; links: readonly number[]; areOpen: boolean }
  | { kind: 'charger'; volt: number | null }
  /** Every module rises to this share of what it can still take. */
  | { kind: 'charge'; share: number }
  | { kind: 'module'; place: number; moduleId: string | null }
  /** Pieces of a part come off, or go back where it is below zero. */
  | { kind: 'pieces'; partId: string; off: number }
  /** Time enough for the DC link to drain, where nothing feeds it. */
  | { kind: 'drained' }
  | { kind: 'nothing' };

/** What was hidden in the car from the first: nobody knows it, and it does not change. */
export interface Hidden {
  /** A contactor that is welded shut. */
  readonly isStuck: boolean;
  /** What the DC link holds, as a share of the string. */
  readonly linkShare: number;
  readonly moduleVolts: ReadonlyMap<string, number>;
}

interface Bench {
  isPlugIn: boolean;
  isTwelveVoltOff: boolean;
  isDrained: boolean;
  cables: 'closed' | 'open' | 'insulated';
  outlets: 'covered' | 'bare' | 'capped';
  isOnBench: boolean;
  areRelaysOut: boolean;
  isCaseOpen: boolean;
  /** Joints under no cover. */
  uncovered: Set<number>;
  isHarnessOut: boolean;
  open: Set<number>;
  charger: number | null;
  volts: Map<string, number>;
  at: (string | null)[];
  pieces: Map<string, number>;
}

export const FULL = 'full';

/** The highest voltage between two bare conductors that are joined, after the deeds in the order given. */
export function trueVolt(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): number {
  return highestBetweenBare(profile, hidden, replay(profile, hidden, moduleIds, deeds));
}

/** Whether the car's side of the cables is dead after the deeds: nothing shut, nothing stored. */
export function isCarDead(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): boolean {
  const bench = replay(profile, hidden, moduleIds, deeds);
  return bench.isDrained;
}

function replay(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): Bench {
  const bench: Bench = {
    ...{
      isPlugIn: true,
      isTwelveVoltOff: false,
      isDrained: false,
      cables: 'closed',
      outlets: 'covered',
      isOnBench: false,
      areRelaysOut: false,
    },
    ...{ isCaseOpen: false, uncovered: new Set(), isHarnessOut: false, open: new Set(), charger: null },
    ...{ volts: new Map(hidden.moduleVolts), at: [...moduleIds], pieces: new Map() },
  };
  for (const deed of deeds) doIt(bench, deed, profile, hidden);
  return bench;
}

function doIt(bench: Bench, deed: Deed, profile: Profile, hidden: Hidden): void {
  switch (deed.kind) {
    case 'plug':
      bench.isPlugIn = deed.isIn;
      return;
    case 'twelveVolt':
      bench.isTwelveVoltOff = deed.isOff;
      if (!deed.isOff) bench.isDrained = false;
      return;
    case 'cables':
      // insulated, the posts they sat on are covered with them, as long as the pack sits in the car
      bench.outlets = deed.are === 'open' ? 'bare' : 'covered';
      bench.cables = deed.are;
      movePieces(bench, profile, deed.are !== 'closed', (e) => e.kind === 'bares' && e.what === 'carSide');
      return;
    case 'outlets':
      bench.outlets = deed.areBare ? 'bare' : 'capped';
      movePieces(bench, profile, deed.areBare, (e) => e.kind === 'bares' && e.what === 'outletPosts');
      return;
    case 'pack':
      bench.isOnBench = deed.isOnBench;
      if (deed.isOnBench) movePieces(bench, profile, true, (e) => e.kind === 'partsMounting');
      return;
    case 'relays':
      bench.areRelaysOut = deed.areOut;
      return;
    case 'case':
      bench.isCaseOpen = deed.isOpen;
      movePieces(bench, profile, deed.isOpen, (e) => e.kind === 'bares' && e.what === 'case');
      return;
    case 'covers':
      uncover(bench, profile, deed.areOff, deed.over);
      movePieces(
        bench,
        profile,
        deed.areOff,
        (e) => e.kind === 'bares' && e.what === 'covers' && (!deed.over || (e.over?.every((k) => deed.over?.includes(k)) ?? false)),
      );
      return;
    case 'harness':
      bench.isHarnessOut = deed.isOut;
      movePieces(bench, profile, deed.isOut, (e) => e.kind === 'partsHarness');
      return;
    case 'links':
      for (const k of deed.links)
        if (deed.areOpen) bench.open.add(k);
        else bench.open.delete(k);
      movePieces(
        bench,
        profile,
        deed.areOpen,
        (e) => linksOfPart(profile, e).length > 0 && linksOfPart(profile, e).every((k) => deed.links.includes(k)),
      );
      return;
    case 'charger':
      bench.charger = deed.volt;
      return;
    case 'charge':
      for (const [id, volt] of bench.volts)
        bench.volts.set(id, Math.sign(volt) * (Math.abs(volt) + deed.share * (profile.moduleType.maximumModuleVolt - Math.abs(volt))));
      return;
    case 'module': {
      // it cannot be at two places; what lies where it was is not known to anybody: the worst
      const { place, moduleId } = deed;
      bench.at = bench.at.map((id, i) => (i === place - 1 ? moduleId : id !== null && id === moduleId ? FULL : id));
      return;
    }
    case 'pieces': {
      const total = profile.parts.find((p) => p.id === deed.partId)?.count ?? 0;
      bench.pieces.set(deed.partId, Math.min(total, Math.max(0, (bench.pieces.get(deed.partId) ?? 0) + deed.off)));
      settleParts(bench, deed.partId, profile);
      return;
    }
    case 'drained':
      if (bench.isTwelveVoltOff && !hidden.isStuck) bench.isDrained = true;
      return;
    case 'nothing':
      return;
  }
}

function linksOfPart(profile: Profile, effect: Profile['parts'][number]['effects'][number]): readonly number[] {
  if (effect.kind === 'partsLinks') return effect.links;
  return effect.kind === 'partsFrame' ? (profile.frames.find((f) => f.id === effect.frame)?.links ?? []) : [];
}

/** Pieces of each part that are off after the deeds. */
export function piecesAfter(
  profile: Profile,
  hidden: Hidden,
  moduleIds: readonly string[],
  deeds: readonly Deed[],
): ReadonlyMap<string, number> {
  return replay(profile, hidden, moduleIds, deeds).pieces;
}

/** A hand that did a whole thing moved all of its pieces. */
function movePieces(
  bench: Bench,
  profile: Profile,
  isOff: boolean,
  isMeant: (effect: Profile['parts'][number]['effects'][number]) => boolean,
): void {
  for (const part of profile.parts) if (part.effects.some(isMeant)) bench.pieces.set(part.id, isOff ? (part.count ?? 0) : 0);
}

function uncover({ uncovered }: Bench, { moduleCount }: Profile, areOff: boolean, over?: readonly number[]): void {
  for (let k = 0; k <= moduleCount; k++) {
    if (over && !over.includes(k)) continue;
    if (areOff) uncovered.add(k);
    else uncovered.delete(k);
  }
}

/** What pieces off or back do to the pack, by the plain sense of the profile's words. */
function settleParts(bench: Bench, partId: string, profile: Profile): void {
  const part = profile.parts.find((p) => p.id === partId);
  for (const effect of part?.effects ?? []) {
    const kin = profile.parts.filter((p) => p.effects.some((e) => JSON.stringify(e) === JSON.stringify(effect)));
    const off = kin.map((p) => bench.pieces.get(p.id) ?? 0);
    const isAnyOff = off.some((n) => n > 0);
    const areAllOff = kin.every((p, i) => (off[i] ?? 0) >= (p.count ?? Infinity));
    if (effect.kind === 'bares') {
      if (effect.what === 'carSide') {
        if (isAnyOff && bench.cables === 'closed') bench.outlets = 'bare';
        if (!isAnyOff) bench.outlets = 'covered';
        bench.cables = !isAnyOff ? 'closed' : bench.cables === 'insulated' ? 'insulated' : 'open';
      }
      if (effect.what === 'case') bench.isCaseOpen = isAnyOff;
      if (effect.what === 'covers') uncover(bench, profile, isAnyOff, effect.over);
      if (effect.what === 'outletPosts') bench.outlets = isAnyOff ? 'bare' : 'capped';
    }
    if (effect.kind === 'partsHarness') bench.isHarnessOut = areAllOff;
    for (const k of linksOfPart(profile, effect))
      if (areAllOff) bench.open.add(k);
      else bench.open.delete(k);
    if (effect.kind === 'partsMounting' && !areAllOff) bench.isOnBench = false;
  }
}

/** A conductor with its neighbours: to `to`, which stands `volt` above it. */
interface Wire {
  readonly a: number;
  readonly b: number;
  readonly volt: number;
}

function highestBetweenBare(profile: Profile, hidden: Hidden, bench: Bench): number {
  const n = profile.moduleCount;
  const minus = (k: number): number => 2 * (k - 1);
  const plus = (k: number): number => 2 * (k - 1) + 1;
  const [carPlus, carMinus, outPlus, outMinus] = [2 * n, 2 * n + 1, 2 * n + 2, 2 * n + 3];
  const wires: Wire[] = [];
  const volts = bench.at.map((id) =>
    id === null ? null : id === FULL ? profile.moduleType.maximumModuleVolt : (bench.volts.get(id) ?? null),
  );
  for (let k = 1; k <= n; k++) {
    const volt = volts[k - 1];
    if (volt != null) wires.push({ a: minus(k), b: plus(k), volt });
    const isShut = k === profile.plug.opensLink ? bench.isPlugIn : !bench.open.has(k);
    // plugged in, the harness leads the voltage of one island to the next
    if (k < n && (isShut || !bench.isHarnessOut)) wires.push({ a: plus(k), b: minus(k + 1), volt: 0 });
  }
  const string = volts.reduce<number>((sum, v) => sum + (v ?? 0), 0);
  const isFed = !bench.areRelaysOut && (hidden.isStuck || !bench.isTwelveVoltOff);
  const isJoined = !bench.isOnBench && bench.cables !== 'insulated';
  if (isFed) wires.push({ a: minus(1), b: outMinus, volt: 0 }, { a: plus(n), b: outPlus, volt: 0 });
  if (isJoined) wires.push({ a: outMinus, b: carMinus, volt: 0 }, { a: outPlus, b: carPlus, volt: 0 });
  const at = new Map<number, { island: number; volt: number }>();
  const settle = (): void => {
    at.clear();
    const near = new Map<number, { to: number; volt: number }[]>();
    const join = (from: number, to: number, volt: number): void => void near.set(from, [...(near.get(from) ?? []), { to, volt }]);
    for (const { a, b, volt } of wires) {
      join(a, b, volt);
      join(b, a, -volt);
    }
    for (let start = 0; start < 2 * n + 4; start++) {
      if (at.has(start)) continue;
      const queue = [start];
      at.set(start, { island: start, volt: 0 });
      for (let here = queue.pop(); here !== undefined; here = queue.pop())
        for (const { to, volt } of near.get(here) ?? [])
          if (!at.has(to)) {
            at.set(to, { island: start, volt: (at.get(here)?.volt ?? 0) + volt });
            queue.push(to);
          }
    }
  };
  /** Something outside that holds two conductors at a voltage; within one island it can only be as high itself. */
  const sources: Wire[] = [];
  const tie = (a: number, b: number, volt: number): void => {
    settle();
    if (at.get(a)?.island === at.get(b)?.island) sources.push({ a, b, volt });
    else wires.push({ a, b, volt });
  };
  // the DC link holds a share of the string while contactors feed it, or fed it last; proven dead it holds nothing
  tie(carMinus, carPlus, bench.isDrained ? 0 : hidden.linkShare * Math.max(0, string));
  if (bench.charger !== null) tie(minus(1), plus(n), bench.charger);
  settle();
  const bare = new Set<number>();
  if (bench.isCaseOpen)
    for (const k of bench.uncovered) {
      if (k > 0) bare.add(plus(k));
      if (k < n) bare.add(minus(k + 1));
    }
  // on the bench they are bare until they are capped, whatever was said of the cables
  if (bench.outlets === 'bare' || (bench.isOnBench && bench.outlets !== 'capped')) for (const post of [outPlus, outMinus]) bare.add(post);
  if (!bench.isOnBench && bench.cables === 'open') for (const post of [carPlus, carMinus]) bare.add(post);
  if (bench.isHarnessOut) {
    let next = 1;
    for (const size of profile.blocks) {
      const from = next;
      next += size;
      if (profile.sense.by === 'block') bare.add(minus(from)).add(plus(next - 1));
      else for (let k = from; k < next; k++) bare.add(minus(k)).add(plus(k));
    }
  }
  const range = new Map<number, { low: number; high: number }>();
  let highest = 0;
  for (const post of bare) {
    const { island, volt } = at.get(post) as { island: number; volt: number };
    const r = range.get(island);
    if (r) Object.assign(r, { low: Math.min(r.low, volt), high: Math.max(r.high, volt) });
    else range.set(island, { low: volt, high: volt });
  }
  for (const { low, high } of range.values()) highest = Math.max(highest, high - low);
  for (const { a, b, volt } of sources) if (bare.has(a) && bare.has(b)) highest = Math.max(highest, Math.abs(volt));
  return highest;
}
