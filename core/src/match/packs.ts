/**
 * As many packs of alike modules as a shelf gives at once: disjoint, each within a tolerance of capacity and one of resistance. Packs are
 * found by taking the modules that fit the fewest others first, again and again with other ties; where the bound stays above what was
 * found, a search through all packs settles it if the time allows. The bound is proven in any case.
 */
import { createGenerator, type Generator } from '../random/generator.ts';
import { answer, refuse, type Result } from '../result.ts';
import { compareIds, type PoolModule, type SearchContext } from './module.ts';

export interface PacksInput {
  readonly pool: readonly PoolModule[];
  /** Modules in a pack. */
  readonly count: number;
  /** Greatest less least within a pack, compared in whole steps of 1 mAh and 0.1 milliohm. */
  readonly toleranceAh: number;
  readonly toleranceMilliohm: number;
  readonly timeLimitMillisecond?: number | undefined;
}

export interface Packs {
  /** Ids of each pack in id order, packs by their first id. */
  readonly packs: readonly (readonly string[])[];
  /** No choice gives more. */
  readonly upperBound: number;
  /** What is left over, and what was not measured, in id order. */
  readonly unused: readonly string[];
  readonly proven: boolean;
}

export const MAXIMUM_SHELF = 600;
const TIME_LIMIT_MILLISECOND = 8000;
const ROUNDS = 400;
/** Anchors of a window that are tried on each axis. */
const MOST_ANCHORS = 14;
/** Modules left over which a round ends before it is worth a look at the clock. */
const SOON_DONE = 60;

/** A module in whole steps: 1 mAh and 0.1 milliohm. */
interface Item {
  readonly id: string;
  readonly c: number;
  readonly r: number;
}

interface Task {
  readonly count: number;
  readonly c: number;
  readonly r: number;
  readonly isLate: () => boolean;
}

/**
 * The time limit is in milliseconds of `context.now`; without a clock the search runs to its end. Refusals: `impossible` for a count under 1
 * or a tolerance below zero, `mismatch` for an id that stands twice, `tooLarge`.
 */
export function findPacks(input: PacksInput, context: SearchContext = {}): Result<Packs> {
  const { pool, count, toleranceAh, toleranceMilliohm, timeLimitMillisecond = TIME_LIMIT_MILLISECOND } = input;
  if (!Number.isInteger(count) || count < 1) return refuse('impossible', `${count} modules are no pack.`, ['count']);
  for (const [name, value] of Object.entries({ toleranceAh, toleranceMilliohm }))
    if (!(value >= 0)) return refuse('impossible', `A tolerance cannot be below zero, ${value} came.`, [name]);
  if (pool.length > MAXIMUM_SHELF) return refuse('tooLarge', `${pool.length} modules are more than ${MAXIMUM_SHELF}.`, ['pool']);
  const seen = new Set<string>();
  const items: Item[] = [];
  for (const [i, { id, capacityAh, resistanceMilliohm }] of pool.entries()) {
    if (seen.has(id)) return refuse('mismatch', `Module "${id}" stands twice in the pool.`, ['pool', i, 'id']);
    seen.add(id);
    if (capacityAh == null || resistanceMilliohm == null) continue;
    items.push({ id, c: Math.round(capacityAh * 1000), r: Math.round(resistanceMilliohm * 10) });
  }
  const { now, isCancelled } = context;
  const end = (now?.() ?? 0) + timeLimitMillisecond;
  const isLate = (): boolean => (now !== undefined && now() > end) || (isCancelled?.() ?? false);
  const task: Task = { count, c: Math.round(toleranceAh * 1000), r: Math.round(toleranceMilliohm * 10), isLate };
  const packs: string[][] = [];
  let upperBound = 0;
  for (const group of connected(items, task)) {
    const found = packGroup(group, task);
    upperBound += found.bound;
    packs.push(...found.packs.map((p) => p.map((m) => m.id).sort(compareIds)));
  }
  packs.sort((a, b) => compareIds(a[0] ?? '', b[0] ?? ''));
  const used = new Set(packs.flat());
  const unused = pool
    .map((m) => m.id)
    .filter((id) => !used.has(id))
    .sort(compareIds);
  return answer({ packs, upperBound, unused, proven: packs.length === upperBound });
}

const fits = (a: Item, b: Item, { c, r }: Task): boolean => Math.abs(a.c - b.c) <= c && Math.abs(a.r - b.r) <= r;

/** Parts of the shelf that share no pack. */
function connected(items: readonly Item[], task: Task): Item[][] {
  const left = new Set(items);
  const groups: Item[][] = [];
  for (const start of items) {
    if (!left.delete(start)) continue;
    const group = [start];
    for (const at of group)
      for (const other of [...left])
        if (fits(at, other, task)) {
          left.delete(other);
          group.push(other);
        }
    if (group.length >= task.count) groups.push(group.sort((a, b) => a.c - b.c || a.r - b.r || compareIds(a.id, b.id)));
  }
  return groups;
}

/** Most packs by one figure alone: from the least up, each as soon as it fits. */
function mostAlong(values: readonly number[], tolerance: number, count: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  let packs = 0;
  for (let i = 0; i + count <= sorted.length;)
    if ((sorted[i + count - 1] as number) - (sorted[i] as number) <= tolerance) {
      packs++;
      i += count;
    } else i++;
  return packs;
}

function boundOf(items: readonly Item[], { count, c, r }: Task): number {
  const along = (of: (m: Item) => number, tolerance: number): number => mostAlong(items.map(of), tolerance, count);
  return Math.min(
    along((m) => m.c, c),
    along((m) => m.r, r),
  );
}

function packGroup(group: readonly Item[], task: Task): { readonly packs: readonly Item[][]; readonly bound: number } {
  const bound = boundOf(group, task);
  let best: Item[][] = [];
  const generator = createGenerator(group.length);
  let isOver = false;
  for (let round = 0; round < ROUNDS && best.length < bound && !isOver; round++) {
    const found = takeHardestFirst(group, task, round === 0 ? null : generator);
    if (found.length > best.length) best = found;
    isOver = task.isLate();
  }
  if (best.length === bound || isOver) return { packs: best, bound };
  const searched = searchAll(group, task, best);
  return { packs: searched.best, bound: searched.isWhole ? searched.best.length : bound };
}

/** One way through: the module that fits the fewest others, with those of its windows that fit the fewest. */
function takeHardestFirst(group: readonly Item[], task: Task, generator: Generator | null): Item[][] {
  let left = [...group];
  const packs: Item[][] = [];
  const noise = new Map(group.map((m) => [m, generator ? 4 * generator.next() : 0]));
  while (left.length >= task.count) {
    // a round over hundreds takes seconds, one over a few dozen no time
    if (left.length > SOON_DONE && task.isLate()) break;
    const near = new Map(left.map((m) => [m, left.filter((o) => fits(m, o, task))]));
    const hardness = (m: Item): number => (near.get(m)?.length ?? 0) + (noise.get(m) ?? 0);
    const first = left.reduce((a, b) => (hardness(b) < hardness(a) ? b : a));
    const pack = bestWindow(first, near.get(first) ?? [], hardness, task);
    const gone = new Set(pack ?? [first]);
    if (pack) packs.push(pack);
    left = left.filter((m) => !gone.has(m));
  }
  return packs;
}

function bestWindow(first: Item, near: readonly Item[], hardness: (m: Item) => number, { count, c, r }: Task): Item[] | null {
  let best: { readonly pack: Item[]; readonly score: number } | null = null;
  for (const low of anchors(
    near.map((m) => m.c),
    first.c,
  ))
    for (const least of anchors(
      near.map((m) => m.r),
      first.r,
    )) {
      const inside = near.filter((m) => m.c >= low && m.c <= low + c && m.r >= least && m.r <= least + r && m !== first);
      if (inside.length < count - 1 || first.c > low + c || first.r > least + r) continue;
      const others = inside.sort((a, b) => hardness(a) - hardness(b)).slice(0, count - 1);
      const score = others.reduce((sum, m) => sum + hardness(m), 0);
      if (!best || score < best.score) best = { pack: [first, ...others], score };
    }
  return best?.pack ?? null;
}

/** Where a window may begin that holds a value: at a value that is there, up to its own. */
function anchors(values: readonly number[], own: number): number[] {
  const below = [...new Set(values.filter((v) => v <= own))].sort((a, b) => a - b);
  const step = Math.max(1, Math.ceil(below.length / MOST_ANCHORS));
  return [...new Set([...below.filter((_, i) => i % step === 0), own])];
}

/** Every choice of packs, the module of least capacity first: in one of its packs, or in none. */
function searchAll(group: readonly Item[], task: Task, known: Item[][]): { readonly best: Item[][]; readonly isWhole: boolean } {
  let best = known;
  let isWhole = true;
  const packs: Item[][] = [];
  const go = (left: readonly Item[]): void => {
    if (task.isLate()) isWhole = false;
    if (!isWhole || packs.length + boundOf(left, task) <= best.length) return;
    const [first, ...rest] = left;
    if (!first) return;
    const near = rest.filter((m) => fits(first, m, task));
    const choose = (from: number, chosen: Item[], low: number, high: number): void => {
      if (!isWhole) return;
      if (chosen.length === task.count) {
        packs.push(chosen);
        if (packs.length > best.length) best = [...packs];
        const gone = new Set(chosen);
        go(rest.filter((m) => !gone.has(m)));
        packs.pop();
        return;
      }
      for (let i = from; i <= near.length - (task.count - chosen.length); i++) {
        const next = near[i] as Item;
        // of two that are the same the first is taken
        const twin = near[i - 1];
        if (i > from && twin?.c === next.c && twin.r === next.r) continue;
        const [least, most] = [Math.min(low, next.r), Math.max(high, next.r)];
        if (most - least <= task.r) choose(i + 1, [...chosen, next], least, most);
        if (task.isLate()) isWhole = false;
        if (!isWhole) return;
      }
    };
    choose(0, [first], first.r, first.r);
    go(rest);
  };
  go(group);
  return { best, isWhole };
}
