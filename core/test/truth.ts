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
  /** The relay block is out, or in with its contactors shut or as the 12 V has them. */
  | { kind: 'relays'; areOut: boolean; areShut?: boolean }
  /**
   * The car was awake for a moment, or its 12 V touched: contactors were shut, the DC link is full again, and every module rose to this
   * share of what it can still take.
   */
  | { kind: 'awake'; share: number }
  /** A meter is laid to these posts, or they are covered again. */
  | { kind: 'probed'; posts: 'car' | 'outlet'; areAtHand: boolean }
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
  areContactorsShut: boolean;
  probed: Set<'car' | 'outlet'>;
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

/** How the workshop stands after the deeds, as far as somebody who looks can tell it. */
export interface Sight {
  readonly isPlugIn: boolean;
  readonly cables: 'closed' | 'open' | 'insulated';
  readonly areOutletsBare: boolean;
  readonly isOnBench: boolean;
  readonly areRelaysOut: boolean;
  readonly areContactorsShut: boolean;
  readonly isCaseOpen: boolean;
  readonly isHarnessOut: boolean;
  readonly charger: number | null;
  readonly uncovered: ReadonlySet<number>;
  readonly open: ReadonlySet<number>;
  readonly at: readonly (string | null)[];
}

export function seeAfter(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): Sight {
  const bench = replay(profile, hidden, moduleIds, deeds);
  return { ...bench, areOutletsBare: bench.outlets === 'bare' };
}

/** Whether the contactors join the pack to its posts after the deeds. */
export function areContactorsShut(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): boolean {
  return isFed(replay(profile, hidden, moduleIds, deeds), hidden);
}

function isFed(bench: Bench, hidden: Hidden): boolean {
  return !bench.areRelaysOut && (hidden.isStuck || bench.areContactorsShut || !bench.isTwelveVoltOff);
}

/** What a meter reads across the pack's own posts after the deeds. */
export function outletVolt(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): number {
  const { at, outPlus, outMinus } = wire(profile, hidden, replay(profile, hidden, moduleIds, deeds));
  const [plus, minus] = [at.get(outPlus), at.get(outMinus)];
  return plus && plus.island === minus?.island ? plus.volt - minus.volt : 0;
}

/** What a meter reads across the car's side of the cables after the deeds. */
export function carVolt(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): number {
  const { at, carPlus, carMinus } = wire(profile, hidden, replay(profile, hidden, moduleIds, deeds));
  const [plus, minus] = [at.get(carPlus), at.get(carMinus)];
  return plus && plus.island === minus?.island ? plus.volt - minus.volt : 0;
}

function replay(profile: Profile, hidden: Hidden, moduleIds: readonly string[], deeds: readonly Deed[]): Bench {
  const bench = benchAtStart(hidden, moduleIds);
  for (const deed of deeds) doIt(bench, deed, profile, hidden);
  return bench;
}

function benchAtStart(hidden: Hidden, moduleIds: readonly string[]): Bench {
  return {
    ...{
      isPlugIn: true,
      isTwelveVoltOff: false,
      isDrained: false,
      cables: 'closed',
      outlets: 'covered',
      isOnBench: false,
      areRelaysOut: false,
      areContactorsShut: false,
      probed: new Set(),
    },
    ...{ isCaseOpen: false, uncovered: new Set(), isHarnessOut: false, open: new Set(), charger: null },
    ...{ volts: new Map(hidden.moduleVolts), at: [...moduleIds], pieces: new Map() },
  };
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
      bench.probed.clear();
      movePieces(bench, profile, deed.are !== 'closed', (e) => e.kind === 'bares' && e.what === 'carSide');
      return;
    case 'outlets':
      bench.outlets = deed.areBare ? 'bare' : 'capped';
      bench.probed.delete('outlet');
      movePieces(bench, profile, deed.areBare, (e) => e.kind === 'bares' && e.what === 'outletPosts');
      return;
    case 'pack':
      bench.isOnBench = deed.isOnBench;
      if (deed.isOnBench) movePieces(bench, profile, true, (e) => e.kind === 'partsMounting');
      return;
    case 'relays':
      bench.areRelaysOut = deed.areOut;
      bench.areContactorsShut = deed.areShut ?? false;
      if (deed.areShut) bench.isDrained = false;
      return;
    case 'awake':
      bench.isDrained = false;
      charge(bench, deed.share, profile);
      return;
    case 'probed':
      if (deed.areAtHand) bench.probed.add(deed.posts);
      else bench.probed.delete(deed.posts);
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
      charge(bench, deed.share, profile);
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
      if (bench.isTwelveVoltOff && !hidden.isStuck && !bench.areContactorsShut) bench.isDrained = true;
      return;
    case 'nothing':
      return;
  }
}

function charge({ volts }: Bench, share: number, { moduleType }: Profile): void {
  for (const [id, volt] of volts)
    volts.set(id, Math.sign(volt) * (Math.abs(volt) + share * (moduleType.maximumModuleVolt - Math.abs(volt))));
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
        if (!isAnyOff) {
          bench.outlets = 'covered';
          // as whoever says that the cables are on
          bench.probed.clear();
        }
        bench.cables = !isAnyOff ? 'closed' : bench.cables === 'insulated' ? 'insulated' : 'open';
      }
      if (effect.what === 'case') bench.isCaseOpen = isAnyOff;
      if (effect.what === 'covers') uncover(bench, profile, isAnyOff, effect.over);
      if (effect.what === 'outletPosts') {
        bench.outlets = isAnyOff ? 'bare' : 'capped';
        if (!isAnyOff) bench.probed.delete('outlet');
      }
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

/** Conductors that are joined, each with its voltage above the first of its island. */
interface Net {
  readonly at: ReadonlyMap<number, { readonly island: number; readonly volt: number }>;
  /** What holds two conductors from outside that are joined already. */
  readonly sources: readonly Wire[];
  readonly carPlus: number;
  readonly carMinus: number;
  readonly outPlus: number;
  readonly outMinus: number;
}

const minus = (k: number): number => 2 * (k - 1);
const plus = (k: number): number => 2 * (k - 1) + 1;

function wire(profile: Profile, hidden: Hidden, bench: Bench): Net {
  const n = profile.moduleCount;
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
  const isJoined = !bench.isOnBench && bench.cables !== 'insulated';
  if (isFed(bench, hidden)) wires.push({ a: minus(1), b: outMinus, volt: 0 }, { a: plus(n), b: outPlus, volt: 0 });
  if (isJoined) wires.push({ a: outMinus, b: carMinus, volt: 0 }, { a: outPlus, b: carPlus, volt: 0 });
  const at = new Map<number, { island: number; volt: number }>();
  const settle = (): void => {
    at.clear();
    const near = Array.from({ length: 2 * n + 4 }, (): { to: number; volt: number }[] => []);
    const join = (from: number, to: number, volt: number): void => void near[from]?.push({ to, volt });
    for (const { a, b, volt } of wires) {
      join(a, b, volt);
      join(b, a, -volt);
    }
    for (let start = 0; start < 2 * n + 4; start++) {
      if (at.has(start)) continue;
      const queue = [start];
      at.set(start, { island: start, volt: 0 });
      for (let here = queue.pop(); here !== undefined; here = queue.pop())
        for (const { to, volt } of near[here] ?? [])
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
  return { at, sources, carPlus, carMinus, outPlus, outMinus };
}

function highestBetweenBare(profile: Profile, hidden: Hidden, bench: Bench): number {
  const n = profile.moduleCount;
  const { at, sources, carPlus, carMinus, outPlus, outMinus } = wire(profile, hidden, bench);
  const bare = new Set<number>();
  if (bench.isCaseOpen)
    for (const k of bench.uncovered) {
      if (k > 0) bare.add(plus(k));
      if (k < n) bare.add(minus(k + 1));
    }
  // on the bench they are bare until they are capped, whatever was said of the cables
  if (bench.outlets === 'bare' || (bench.isOnBench && bench.outlets !== 'capped')) for (const post of [outPlus, outMinus]) bare.add(post);
  if (bench.probed.has('outlet')) for (const post of [outPlus, outMinus]) bare.add(post);
  if (!bench.isOnBench && (bench.cables === 'open' || bench.probed.has('car'))) for (const post of [carPlus, carMinus]) bare.add(post);
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
  // a conductor that nothing parts from the one a source sits on is at hand with it
  const isAtHand = (end: number): boolean => {
    const { island, volt } = at.get(end) as { island: number; volt: number };
    return [...bare].some((post) => at.get(post)?.island === island && Math.abs((at.get(post)?.volt ?? 0) - volt) < 1e-9);
  };
  for (const { a, b, volt } of sources) if (isAtHand(a) && isAtHand(b)) highest = Math.max(highest, Math.abs(volt));
  return highest;
}

/** A deed as it is known: when it was said to be done, as far as the clock that said so can be trusted. */
export interface Word {
  readonly deed: Deed;
  readonly device: number;
  readonly turn: number;
  /** By the clock of its device; null where that clock tells nothing. */
  readonly saidAt: number | null;
  /** Null while it waits on its device. */
  readonly keptAt: number | null;
  readonly trueAt: number;
}

/** What two clocks that are kept may be off from each other's truth. */
const CLOCKS_OFF = 2000;

/** Whether one word was certainly said after another. */
export function isCertainlyAfter(a: Word, b: Word): boolean {
  if (a.device === b.device) return a.turn > b.turn;
  const earliest = a.saidAt === null ? -Infinity : a.saidAt - CLOCKS_OFF;
  const kept = b.keptAt ?? Infinity;
  return earliest > (b.saidAt === null ? kept : Math.min(b.saidAt + CLOCKS_OFF, kept));
}

/** One thing of the workshop and how a word leaves it. */
interface Standing {
  readonly word: Word | null;
  readonly put: (bench: Bench) => void;
  readonly text: string;
}

/** What is asked of the worst world beside the words. */
export interface Known {
  /** A proof of dead that stands: at the car's side, and at the pack's own posts. */
  readonly isCarProven: boolean;
  readonly isOutletProven: boolean;
  /** Of a module by its readings since the last charge; null where it has none. */
  readonly volt: (moduleId: string) => number | null;
}

/**
 * The highest voltage in any world that the words honestly allow: of each thing what was said last, or may have been; contactors shut
 * unless a proof stands or the relay block is out; modules that were not measured at their maximum. Nothing else is assumed.
 */
export function worstVolt(profile: Profile, moduleIds: readonly string[], words: readonly Word[], known: Known): number {
  const most = profile.moduleType.maximumModuleVolt;
  const ids = new Set([...moduleIds, ...words.flatMap(({ deed }) => (deed.kind === 'module' && deed.moduleId ? [deed.moduleId] : []))]);
  const moduleVolts = new Map([...ids].map((id): [string, number] => [id, known.volt(id) ?? most]));
  const hidden: Hidden = { isStuck: !known.isOutletProven, linkShare: 1, moduleVolts };
  const things = listStandings(profile, hidden, moduleIds, words);
  const bench = (): Bench => ({ ...benchAtStart(hidden, moduleIds), isTwelveVoltOff: true, isDrained: known.isCarProven });
  const voltOf = (picked: ReadonlyMap<string, Standing>): number => {
    const world = bench();
    for (const standing of picked.values()) standing.put(world);
    world.isDrained = known.isCarProven;
    if (world.charger !== null) for (const id of world.volts.keys()) world.volts.set(id, Math.max(most, world.volts.get(id) ?? 0));
    return highestBetweenBare(profile, hidden, world);
  };
  const open = [...things].filter(([, list]) => list.length > 1);
  let highest = 0;
  // from several beginnings, since what is worst of one thing hangs on the others
  for (const wished of [/^$/, /bare|open|shut|in$/, /bare|open|shut|out$/, /bare|open|shut|bench/, /bare|open|shut|car/]) {
    const picked = new Map([...things].map(([thing, list]) => [thing, list.find((s) => wished.test(s.text)) ?? (list.at(-1) as Standing)]));
    let volt = voltOf(picked);
    for (const [thing, list] of open)
      for (const standing of list) {
        const before = picked.get(thing) as Standing;
        picked.set(thing, standing);
        const now = voltOf(picked);
        if (now > volt) volt = now;
        else picked.set(thing, before);
      }
    highest = Math.max(highest, volt);
    if (open.length === 0) break;
  }
  return highest;
}

/** Of each thing how it may stand: by the words that nothing certainly followed, and before each of those that still wait. */
function listStandings(profile: Profile, hidden: Hidden, moduleIds: readonly string[], words: readonly Word[]): Map<string, Standing[]> {
  const all = new Map<string, Standing[]>();
  const bench = benchAtStart(hidden, moduleIds);
  const note = (word: Word | null, names: readonly string[]): void => {
    for (const name of names) all.set(name, [...(all.get(name) ?? []), standingOf(bench, name, word)]);
  };
  for (const word of words.toSorted((a, b) => a.trueAt - b.trueAt)) {
    const names = thingsOf(word.deed, bench, profile);
    const fresh = names.filter((n) => !all.has(n));
    note(null, fresh);
    doIt(bench, word.deed, profile, hidden);
    note(word, names);
  }
  for (const [name, list] of all) {
    const may = new Set<Standing>();
    const waiting = list.filter((s) => s.word?.keptAt === null);
    for (let k = 0; k <= waiting.length; k++) {
      const said = list.filter((s) => s.word?.keptAt !== null || waiting.indexOf(s) < k);
      const followed = (s: Standing): boolean =>
        said.some((t) => t !== s && t.word !== null && (s.word === null || isCertainlyAfter(t.word, s.word)));
      for (const s of said) if (!followed(s)) may.add(s);
    }
    const told = [...new Map(list.filter((s) => may.has(s)).map((s) => [s.text, s])).values()];
    all.set(name, told);
  }
  return all;
}

function thingsOf(deed: Deed, bench: Bench, profile: Profile): string[] {
  const n = profile.moduleCount;
  switch (deed.kind) {
    case 'plug':
    case 'case':
    case 'harness':
    case 'pack':
    case 'relays':
    case 'charger':
      return [deed.kind];
    case 'cables':
      return ['cables', 'outlets', 'probed'];
    case 'outlets':
      return ['outlets', 'probed'];
    case 'probed':
      return ['probed'];
    case 'covers':
      return (deed.over ?? Array.from({ length: n + 1 }, (_, k) => k)).map((k) => `joint ${k}`);
    case 'links':
      return deed.links.map((k) => `link ${k}`);
    case 'module': {
      const left = bench.at.findIndex((id) => id !== null && id === deed.moduleId) + 1;
      return [`place ${deed.place}`, ...(left > 0 && left !== deed.place ? [`place ${left}`] : [])];
    }
    case 'pieces':
      return (profile.parts.find((p) => p.id === deed.partId)?.effects ?? []).flatMap((effect): string[] => {
        if (effect.kind === 'partsHarness') return ['harness'];
        if (effect.kind === 'partsMounting') return ['pack'];
        if (effect.kind !== 'bares') return linksOfPart(profile, effect).map((k) => `link ${k}`);
        if (effect.what === 'carSide') return ['cables', 'outlets'];
        if (effect.what === 'case') return ['case'];
        if (effect.what === 'outletPosts') return ['outlets'];
        return effect.what === 'covers' ? (effect.over ?? Array.from({ length: n + 1 }, (_, k) => k)).map((k) => `joint ${k}`) : [];
      });
    default:
      return [];
  }
}

function toggle(set: Set<number>, k: number, isIn: boolean): void {
  if (isIn) set.add(k);
  else set.delete(k);
}

function standingOf(bench: Bench, name: string, word: Word | null): Standing {
  const [kind, number] = name.split(' ');
  const k = Number(number);
  const { isPlugIn, isCaseOpen, isHarnessOut, isOnBench, areRelaysOut, areContactorsShut, charger, cables, outlets } = bench;
  switch (kind) {
    case 'plug':
      return { word, text: isPlugIn ? 'in' : 'out', put: (b) => void (b.isPlugIn = isPlugIn) };
    case 'case':
      return { word, text: isCaseOpen ? 'open' : 'closed', put: (b) => void (b.isCaseOpen = isCaseOpen) };
    case 'harness':
      return { word, text: isHarnessOut ? 'out' : 'in', put: (b) => void (b.isHarnessOut = isHarnessOut) };
    case 'pack':
      return { word, text: isOnBench ? 'bench' : 'car', put: (b) => void (b.isOnBench = isOnBench) };
    case 'relays':
      return {
        word,
        text: areRelaysOut ? 'off' : areContactorsShut ? 'shut' : 'in',
        put: (b) => void Object.assign(b, { areRelaysOut, areContactorsShut }),
      };
    case 'charger':
      return { word, text: charger === null ? 'none' : `shut ${charger}`, put: (b) => void (b.charger = charger) };
    case 'cables':
      return { word, text: cables, put: (b) => void (b.cables = cables) };
    case 'outlets':
      return { word, text: outlets, put: (b) => void (b.outlets = outlets) };
    case 'probed': {
      const probed = new Set(bench.probed);
      return { word, text: probed.size > 0 ? `bare ${[...probed].join(' ')}` : 'none', put: (b) => void (b.probed = new Set(probed)) };
    }
    case 'joint': {
      const isBare = bench.uncovered.has(k);
      return { word, text: isBare ? 'bare' : 'covered', put: (b) => toggle(b.uncovered, k, isBare) };
    }
    case 'link': {
      const isOpen = bench.open.has(k);
      return { word, text: isOpen ? 'parted' : 'shut', put: (b) => toggle(b.open, k, isOpen) };
    }
    default: {
      const moduleId = bench.at[k - 1] ?? null;
      return { word, text: moduleId ?? 'empty', put: (b) => void (b.at[k - 1] = moduleId) };
    }
  }
}
