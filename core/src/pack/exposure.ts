/**
 * The highest voltage between two posts that a person can reach, and what a dropped tool would meet. Kirchhoff's voltage law
 * on the string: modules, closed links and ties (sense harness, charger) join posts; posts that nothing joins have no
 * voltage between them that can drive a current.
 */
import { answer, refuse, type Result } from '../result.ts';
import { postAt, postIndex, readPost, type PostName } from './post.ts';

/** Something outside the string that holds two posts at a voltage: volt = a minus b. */
export interface Tie {
  readonly a: string;
  readonly b: string;
  readonly volt: number;
}

export interface ExposureInput {
  /** Voltage of each module, string order from the most negative. */
  readonly moduleVolts: readonly number[];
  /** Links that are open; link k joins module k to k + 1, counted from 1. */
  readonly openLinks: readonly number[];
  /** Posts bare to a finger; all when left out. */
  readonly reachable?: readonly string[] | undefined;
  /** Resistance of each module in milliohm; null where unknown. */
  readonly moduleMilliohms?: readonly (number | null)[] | undefined;
  /** A charger or other source across the ends, last plus to first minus. */
  readonly outsideVolt?: number | undefined;
  readonly ties?: readonly Tie[] | undefined;
  /** Places without a module, counted from 1: nothing joins their two posts, whatever volts stand for them. */
  readonly vacantPlaces?: readonly number[] | undefined;
}

/** A run of modules joined by closed links; `volt` is the greatest difference between any two of its posts. */
export interface Island {
  readonly from: number;
  readonly to: number;
  readonly volt: number;
  /** 1000 x sum of volts / sum of milliohms; null when a resistance is missing or the sum is zero. */
  readonly shortCircuitAmpere: number | null;
}

/** The largest current a tool across two reachable posts of one island could draw. */
export interface WorstShort {
  readonly from: number;
  readonly to: number;
  readonly ampere: number;
}

export interface Exposure {
  readonly volt: number;
  /** [higher, lower]; the lowest positions on a tie; null when no two reachable posts are joined. */
  readonly between: readonly [PostName, PostName] | null;
  readonly islands: readonly Island[];
  readonly worstShort: WorstShort | null;
}

/** Voltages closer than this are the same (far below any meter). */
const SAME_VOLT = 1e-9;
export const MAXIMUM_MODULES = 2000;

/** See the file's head. Refusals: `empty`, `tooLarge`, `unknownName` for posts and links that do not exist, `mismatch`. */
export function findExposure(input: ExposureInput): Result<Exposure> {
  const count = input.moduleVolts.length;
  const refusal = checkInput(input, count);
  if (refusal) return refusal;
  const open = new Set(input.openLinks);
  const net = joinPosts(input.moduleVolts, open, input.vacantPlaces ?? []);
  const loops: { a: number; b: number; volt: number }[] = [];
  for (const tie of input.ties ?? []) applyTie(net, indexOf(tie.a, count), indexOf(tie.b, count), tie.volt, loops);
  if (input.outsideVolt !== undefined) applyTie(net, postIndex(count, '+'), postIndex(1, '-'), input.outsideVolt, loops);

  const reachable = input.reachable
    ? [...new Set(input.reachable.map((p) => indexOf(p, count)))].sort((a, b) => a - b)
    : Array.from({ length: 2 * count }, (_, i) => i);
  const widest = findWidest(net, reachable);
  const isReachable = new Set(reachable);
  for (const loop of loops) {
    if (!isReachable.has(loop.a) || !isReachable.has(loop.b)) continue;
    if (Math.abs(loop.volt) <= (widest?.volt ?? 0) + SAME_VOLT) continue;
    if (widest)
      Object.assign(widest, { volt: Math.abs(loop.volt), high: loop.volt > 0 ? loop.a : loop.b, low: loop.volt > 0 ? loop.b : loop.a });
  }
  return answer({
    volt: widest?.volt ?? 0,
    between: widest ? [postAt(widest.high), postAt(widest.low)] : null,
    islands: listIslands(input.moduleVolts, open, input.moduleMilliohms, input.vacantPlaces),
    worstShort: findWorstShort(input.moduleVolts, open, input.moduleMilliohms, reachable, new Set(input.vacantPlaces)),
  });
}

/** Greatest difference between any two posts of a run of modules given by its volts: prefix sums, greatest less least. */
export function runVolt(moduleVolts: readonly number[], from: number, to: number): number {
  let sum = 0;
  let high = 0;
  let low = 0;
  for (let i = from; i <= to; i++) {
    sum += moduleVolts[i - 1] as number;
    high = Math.max(high, sum);
    low = Math.min(low, sum);
  }
  return high - low;
}

function checkInput(input: ExposureInput, count: number): ReturnType<typeof refuse> | null {
  if (count === 0) return refuse('empty', 'A string needs at least one module.', ['moduleVolts']);
  if (count > MAXIMUM_MODULES) return refuse('tooLarge', `A string of ${count} modules is more than ${MAXIMUM_MODULES}.`, ['moduleVolts']);
  for (const [i, link] of input.openLinks.entries())
    if (!Number.isInteger(link) || link < 1 || link >= count)
      return refuse('unknownName', `There is no link ${link}: ${count} modules have links 1 to ${count - 1}.`, ['openLinks', i]);
  if (input.moduleMilliohms && input.moduleMilliohms.length !== count)
    return refuse('mismatch', `${input.moduleMilliohms.length} resistances do not fit ${count} modules.`, ['moduleMilliohms']);
  for (const [i, milliohm] of (input.moduleMilliohms ?? []).entries())
    if (milliohm !== null && !(milliohm >= 0))
      return refuse('impossible', `Module ${i + 1} cannot have ${milliohm} milliohm.`, ['moduleMilliohms', i]);
  for (const [i, post] of (input.reachable ?? []).entries())
    if (!readPost(post, count)) return refuse('unknownName', `There is no post "${post}".`, ['reachable', i]);
  for (const [i, tie] of (input.ties ?? []).entries())
    for (const end of ['a', 'b'] as const)
      if (!readPost(tie[end], count)) return refuse('unknownName', `There is no post "${tie[end]}".`, ['ties', i, end]);
  return null;
}

/** Posts as a forest with potentials: `parent` leads to a root, `volt` is the post's potential above its parent. */
interface Net {
  readonly parent: Int32Array;
  readonly volt: Float64Array;
}

function joinPosts(moduleVolts: readonly number[], open: ReadonlySet<number>, vacant: readonly number[]): Net {
  const size = 2 * moduleVolts.length;
  const net: Net = { parent: Int32Array.from({ length: size }, (_, i) => i), volt: new Float64Array(size) };
  let root = 0;
  let above = 0;
  for (let module = 1; module <= moduleVolts.length; module++) {
    const minus = postIndex(module, '-');
    if (module === 1 || open.has(module - 1)) {
      root = minus;
      above = 0;
    } else {
      net.parent[minus] = root;
      net.volt[minus] = above;
    }
    if (vacant.includes(module)) {
      root = minus + 1;
      above = 0;
    } else above += moduleVolts[module - 1] as number;
    net.parent[minus + 1] = root;
    net.volt[minus + 1] = above;
  }
  return net;
}

function locate(net: Net, post: number): { root: number; volt: number } {
  let volt = 0;
  let at = post;
  while (net.parent[at] !== at) {
    volt += net.volt[at] as number;
    at = net.parent[at] as number;
  }
  return { root: at, volt };
}

/** Joins two components by a tie; a tie within one component closes a loop, where the larger voltage wins. */
function applyTie(net: Net, a: number, b: number, volt: number, loops: { a: number; b: number; volt: number }[]): void {
  const atA = locate(net, a);
  const atB = locate(net, b);
  if (atA.root === atB.root) {
    loops.push({ a, b, volt });
    return;
  }
  net.parent[atA.root] = atB.root;
  net.volt[atA.root] = atB.volt + volt - atA.volt;
}

function findWidest(net: Net, reachable: readonly number[]): { volt: number; high: number; low: number } | null {
  const groups = new Map<number, { high: number; low: number; highVolt: number; lowVolt: number; posts: number }>();
  for (const post of reachable) {
    const { root, volt } = locate(net, post);
    const group = groups.get(root);
    if (!group) {
      groups.set(root, { high: post, low: post, highVolt: volt, lowVolt: volt, posts: 1 });
      continue;
    }
    group.posts++;
    if (volt > group.highVolt + SAME_VOLT) Object.assign(group, { high: post, highVolt: volt });
    if (volt < group.lowVolt - SAME_VOLT) Object.assign(group, { low: post, lowVolt: volt });
  }
  let widest: { volt: number; high: number; low: number } | null = null;
  // groups come in the order of their lowest post, so that on a tie the lowest positions stay
  for (const [root, group] of groups) {
    if (group.posts < 2) continue;
    const volt = group.highVolt - group.lowVolt;
    if (widest && volt <= widest.volt + SAME_VOLT) continue;
    const isFlat = group.high === group.low;
    const other = isFlat ? reachable.find((p) => p !== group.high && locate(net, p).root === root) : undefined;
    widest = { volt: isFlat ? 0 : volt, high: group.high, low: other ?? group.low };
  }
  return widest;
}

/** Islands of a string, in string order; a place without a module is in none. */
export function listIslands(
  moduleVolts: readonly number[],
  open: ReadonlySet<number>,
  moduleMilliohms?: readonly (number | null)[],
  vacantPlaces: readonly number[] = [],
): Island[] {
  const vacant = new Set(vacantPlaces);
  const islands: Island[] = [];
  let from = 1;
  for (let module = 1; module <= moduleVolts.length; module++) {
    if (module < moduleVolts.length && !open.has(module) && !vacant.has(module) && !vacant.has(module + 1)) continue;
    const island = { from, to: module, volt: runVolt(moduleVolts, from, module) };
    if (!vacant.has(module)) islands.push({ ...island, shortCircuitAmpere: shortOf(moduleVolts, moduleMilliohms, from, module) });
    from = module + 1;
  }
  return islands;
}

function shortOf(
  moduleVolts: readonly number[],
  moduleMilliohms: readonly (number | null)[] | undefined,
  from: number,
  to: number,
): number | null {
  let volt = 0;
  let milliohm = 0;
  for (let i = from; i <= to; i++) {
    const r = moduleMilliohms?.[i - 1] ?? null;
    if (r === null) return null;
    volt += moduleVolts[i - 1] as number;
    milliohm += r;
  }
  return milliohm > 0 ? (1000 * volt) / milliohm : null;
}

/** Over every pair of reachable posts of one island: the run of modules between them that drives the most current. */
function findWorstShort(
  moduleVolts: readonly number[],
  open: ReadonlySet<number>,
  moduleMilliohms: readonly (number | null)[] | undefined,
  reachable: readonly number[],
  vacant: ReadonlySet<number>,
): WorstShort | null {
  if (!moduleMilliohms) return null;
  const isReachable = new Set(reachable);
  // a closed link makes k+ and (k+1)- one conductor: a finger on either touches both
  const canStart = (m: number): boolean =>
    isReachable.has(postIndex(m, '-')) || (m > 1 && !open.has(m - 1) && isReachable.has(postIndex(m - 1, '+')));
  const canEnd = (m: number): boolean =>
    isReachable.has(postIndex(m, '+')) || (m < moduleVolts.length && !open.has(m) && isReachable.has(postIndex(m + 1, '-')));
  let worst: WorstShort | null = null;
  for (let from = 1; from <= moduleVolts.length; from++) {
    if (!canStart(from)) continue;
    let volt = 0;
    let milliohm = 0;
    for (let to = from; to <= moduleVolts.length; to++) {
      const r = moduleMilliohms[to - 1] ?? null;
      if (r === null || vacant.has(to)) break;
      volt += moduleVolts[to - 1] as number;
      milliohm += r;
      const ampere = milliohm > 0 ? Math.abs((1000 * volt) / milliohm) : 0;
      if (canEnd(to) && ampere > (worst?.ampere ?? 0) + SAME_VOLT) worst = { from, to, ampere };
      if (open.has(to)) break;
    }
  }
  return worst;
}

function indexOf(name: string, count: number): number {
  const post = readPost(name, count);
  if (!post) throw new RangeError(`no post ${name}`);
  return postIndex(post.module, post.sign);
}
