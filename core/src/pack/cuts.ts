/**
 * Which links to open so that no island stands above a limit: the fewest acts, then the lowest highest island, then the first
 * in order. Single links are placed exactly by a greedy sweep (opening the last link before a run exceeds the limit is never
 * worse for the runs after it); groups that only open together are enumerated, so the answer is the optimum.
 */
import { answer, refuse, type Result } from '../result.ts';
import { MAXIMUM_MODULES, runVolt } from './exposure.ts';

export interface CutsInput {
  readonly moduleVolts: readonly number[];
  readonly limitVolt: number;
  /** Links that cannot be opened; a group that holds one cannot open either. */
  readonly fixedLinks?: readonly number[] | undefined;
  /** Links open already. */
  readonly openLinks?: readonly number[] | undefined;
  /** Disjoint sets of links that only open together, one act each. */
  readonly groups?: readonly (readonly number[])[] | undefined;
}

export interface Cuts {
  /** Links newly opened, ascending; null when the limit cannot be met. */
  readonly links: readonly number[] | null;
  readonly acts: number | null;
  /** The highest island afterwards; when impossible, the best that can be reached. */
  readonly volt: number;
  readonly possible: boolean;
}

/** Groups that can be weighed against each other: 2 to this power sets are tried. */
export const MAXIMUM_GROUPS = 16;
const SAME_VOLT = 1e-9;

/** See the file's head. Refusals: `empty`, `tooLarge`, `unknownName`, `mismatch` for groups that share a link. */
export function findCuts(input: CutsInput): Result<Cuts> {
  const refusal = checkInput(input);
  if (refusal) return refusal;
  const volts = input.moduleVolts;
  const isOpen = new Set(input.openLinks ?? []);
  const fixed = new Set((input.fixedLinks ?? []).filter((k) => !isOpen.has(k)));
  const groups = (input.groups ?? []).map((g) => g.filter((k) => !isOpen.has(k))).filter((g) => g.length > 0);
  const grouped = new Set(groups.flat());
  const movable = groups.filter((g) => !g.some((k) => fixed.has(k)));
  const singles = new Set<number>();
  for (let k = 1; k < volts.length; k++) if (!isOpen.has(k) && !fixed.has(k) && !grouped.has(k)) singles.add(k);
  const limit = input.limitVolt + SAME_VOLT;

  const widestOpen = new Set([...isOpen, ...movable.flat(), ...singles]);
  const best = highestIsland(volts, widestOpen);
  if (best > limit) return answer({ links: null, acts: null, volt: best, possible: false });

  const candidates = cheapestSets(volts, isOpen, movable, singles, limit);
  let found: { links: number[]; volt: number; acts: number } | null = null;
  for (const { chosen, cuts } of candidates) {
    const forced = new Set([...isOpen, ...chosen.flat()]);
    const placed = placeSingles(volts, forced, singles, cuts, limit);
    const links = [...chosen.flat(), ...placed.links].sort((a, b) => a - b);
    const isBetter =
      !found || placed.volt < found.volt - SAME_VOLT || (placed.volt <= found.volt + SAME_VOLT && isBefore(links, found.links));
    if (isBetter) found = { links, volt: placed.volt, acts: chosen.length + cuts };
  }
  if (!found) throw new Error('a reachable limit has no set of cuts');
  return answer({ links: found.links, acts: found.acts, volt: found.volt, possible: true });
}

function checkInput(input: CutsInput): ReturnType<typeof refuse> | null {
  const count = input.moduleVolts.length;
  if (count === 0) return refuse('empty', 'A string needs at least one module.', ['moduleVolts']);
  if (count > MAXIMUM_MODULES) return refuse('tooLarge', `A string of ${count} modules is more than ${MAXIMUM_MODULES}.`, ['moduleVolts']);
  const lists: [string, readonly number[]][] = [
    ['fixedLinks', input.fixedLinks ?? []],
    ['openLinks', input.openLinks ?? []],
    ...(input.groups ?? []).map((g, i): [string, readonly number[]] => [`groups.${i}`, g]),
  ];
  for (const [name, links] of lists)
    for (const [i, link] of links.entries())
      if (!Number.isInteger(link) || link < 1 || link >= count)
        return refuse('unknownName', `There is no link ${link}: ${count} modules have links 1 to ${count - 1}.`, [...name.split('.'), i]);
  const groups = input.groups ?? [];
  if (groups.length > MAXIMUM_GROUPS) return refuse('tooLarge', `At most ${MAXIMUM_GROUPS} groups can be weighed.`, ['groups']);
  const all = groups.flat();
  if (new Set(all).size !== all.length) return refuse('mismatch', 'Two groups share a link; groups must be disjoint.', ['groups']);
  return null;
}

/** The highest island with the given links open. */
function highestIsland(volts: readonly number[], open: ReadonlySet<number>): number {
  let highest = 0;
  let from = 1;
  for (let module = 1; module <= volts.length; module++) {
    if (module < volts.length && !open.has(module)) continue;
    highest = Math.max(highest, runVolt(volts, from, module));
    from = module + 1;
  }
  return highest;
}

/** Every set of groups that, with the single links it still needs, takes the fewest acts. */
function cheapestSets(
  volts: readonly number[],
  isOpen: ReadonlySet<number>,
  groups: readonly (readonly number[])[],
  singles: ReadonlySet<number>,
  limit: number,
): { chosen: (readonly number[])[]; cuts: number }[] {
  let fewest = Infinity;
  let sets: { chosen: (readonly number[])[]; cuts: number }[] = [];
  for (let mask = 0; mask < 2 ** groups.length; mask++) {
    const chosen = groups.filter((_, i) => mask & (1 << i));
    if (chosen.length > fewest) continue;
    const cuts = countSingles(volts, new Set([...isOpen, ...chosen.flat()]), singles, limit, 1);
    const acts = chosen.length + cuts;
    if (acts > fewest || acts === Infinity) continue;
    if (acts < fewest) sets = [];
    fewest = acts;
    sets.push({ chosen, cuts });
  }
  return sets;
}

/** Fewest single links to open from module `start` on so that every run stays at the limit or below; Infinity if it cannot. */
function countSingles(
  volts: readonly number[],
  forced: ReadonlySet<number>,
  singles: ReadonlySet<number>,
  limit: number,
  start: number,
): number {
  let cuts = 0;
  let from = start;
  let lastLink = 0;
  let sum = 0;
  let high = 0;
  let low = 0;
  const restart = (at: number): void => {
    from = at;
    lastLink = 0;
    sum = high = low = 0;
  };
  for (let module = start; module <= volts.length; module++) {
    sum += volts[module - 1] as number;
    high = Math.max(high, sum);
    low = Math.min(low, sum);
    if (high - low > limit) {
      if (lastLink < from) return Infinity;
      cuts++;
      module = lastLink;
      restart(lastLink + 1);
    } else if (forced.has(module)) restart(module + 1);
    else if (singles.has(module)) lastLink = module;
  }
  return cuts;
}

/** With exactly `cuts` single links: the lowest highest island, and of those the first links in order. */
function placeSingles(
  volts: readonly number[],
  forced: ReadonlySet<number>,
  singles: ReadonlySet<number>,
  cuts: number,
  limit: number,
): { links: number[]; volt: number } {
  const threshold = lowestThreshold(volts, forced, singles, cuts, limit);
  const links: number[] = [];
  let start = 1;
  while (links.length < cuts) {
    const link = firstLink(volts, forced, singles, threshold, start, cuts - links.length - 1);
    links.push(link);
    start = link + 1;
  }
  return { links, volt: highestIsland(volts, new Set([...forced, ...links])) };
}

function firstLink(
  volts: readonly number[],
  forced: ReadonlySet<number>,
  singles: ReadonlySet<number>,
  threshold: number,
  start: number,
  cutsLeft: number,
): number {
  let from = start;
  for (let link = start; link < volts.length; link++) {
    if (runVolt(volts, from, link) > threshold) break;
    if (forced.has(link)) from = link + 1;
    else if (singles.has(link) && countSingles(volts, forced, singles, threshold, link + 1) <= cutsLeft) return link;
  }
  throw new Error('a threshold that was found reachable is not');
}

/** The least island voltage that `cuts` single links can keep; one of the runs' own voltages, found by bisection over them. */
function lowestThreshold(
  volts: readonly number[],
  forced: ReadonlySet<number>,
  singles: ReadonlySet<number>,
  cuts: number,
  limit: number,
): number {
  const runs = new Set<number>();
  for (let from = 1; from <= volts.length; from++) {
    let sum = 0;
    let high = 0;
    let low = 0;
    for (let to = from; to <= volts.length; to++) {
      sum += volts[to - 1] as number;
      high = Math.max(high, sum);
      low = Math.min(low, sum);
      if (high - low > limit || (to > from && forced.has(to - 1))) break;
      runs.add(high - low);
    }
  }
  const sorted = [...runs].sort((a, b) => a - b);
  let lowest = 0;
  let highest = sorted.length - 1;
  while (lowest < highest) {
    const middle = (lowest + highest) >> 1;
    if (countSingles(volts, forced, singles, (sorted[middle] as number) + SAME_VOLT, 1) <= cuts) highest = middle;
    else lowest = middle + 1;
  }
  return (sorted[lowest] ?? 0) + SAME_VOLT;
}

function isBefore(a: readonly number[], b: readonly number[]): boolean {
  for (let i = 0; i < Math.min(a.length, b.length); i++) {
    if (a[i] !== b[i]) return (a[i] as number) < (b[i] as number);
  }
  return a.length < b.length;
}
