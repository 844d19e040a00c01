/**
 * Dividing modules into blocks of given sizes so that the block means lie as close together as they can: an exhaustive search
 * with pruning that ends with the optimum, or with the best found and a lower bound when its time is up.
 *
 * The search asks again and again for an arrangement within a window of means, each time a wider one, so that every window that
 * holds none is a lower bound and the first that holds one is not much wider than the optimum. Within a window it always places
 * the most extreme module left (it has the fewest partners), tries every block that can hold it and whose mean fits, drops a
 * branch when fewer pairs can be made than are still asked for, and finishes with the sorted fold once only pairs are left.
 *
 * Why the sorted fold (least with greatest, and so on inwards) is optimal for pairs: let a <= b <= c <= d be four values in
 * two pairs. Of the three ways to pair them, {a,d},{b,c} has both sums within [min, max] of either other way, since
 * a+b <= a+c <= {a+d, b+c} <= b+d <= c+d. Exchanging any two pairs of an optimal pairing to that form therefore never widens the
 * range, and when no exchange is left the pairing is the fold.
 */
import { createGenerator } from '../random/generator.ts';
import type { SearchContext } from './module.ts';

export interface Partition {
  /** Indices into the values, one list a block, in the order of the sizes given. */
  readonly blocks: number[][];
  readonly range: number;
  readonly lowerBound: number;
  readonly proven: boolean;
}

/** Ranges closer than this are the same, in Ah. */
export const SAME_RANGE = 1e-9;
const CHECK_EVERY = 512;
/** Ends a search that was given no clock. */
const MAXIMUM_NODES = 1e8;
/** More blocks than this for one module are not weighed at once: the pass then proves nothing, but can still find. */
const MAXIMUM_CANDIDATES = 50_000;
/** Times the first answer is shaken and improved again. */
const KICKS = 80;
/** Parts into which the place of the least mean is divided. */
const SLICES = 8;
/** Sums of some hundred capacities carry no more error than this, Ah. */
const ROUNDING = 1e-11;
/** The first window asked for, in standard deviations of the values, and how each next one grows. */
const FIRST_WINDOW = 2e-3;
const WINDOW_GROWTH = 1.7;

/** Least range of block means. The time limit is in milliseconds of `context.now`; without a clock the search runs to its end. */
export function partitionEvenly(
  values: readonly number[],
  sizes: readonly number[],
  timeLimit: number,
  context: SearchContext = {},
): Partition {
  if (sizes.every((s) => s === 1)) {
    const blocks = sizes.map((_, i) => [i]);
    const range = rangeOfBlocks(values, blocks);
    return { blocks, range, lowerBound: range, proven: true };
  }
  const search = new PartitionSearch(values, sizes, timeLimit, context);
  return search.run();
}

/** Pairs the least with the greatest, inwards. `order` holds indices sorted by value; see the file's head for the proof. */
export function foldPairs(order: readonly number[]): number[][] {
  return Array.from({ length: order.length / 2 }, (_, i) => [order[i] as number, order[order.length - 1 - i] as number]);
}

export function blockMeans(values: readonly number[], blocks: readonly (readonly number[])[]): number[] {
  return blocks.map((b) => b.reduce((sum, i) => sum + (values[i] as number), 0) / b.length);
}

/** Indices of the values of each block, blocks of these sizes in place order. */
export function placesOf(sizes: readonly number[]): number[][] {
  let next = 0;
  return sizes.map((size) => Array.from({ length: size }, () => next++));
}

export function rangeOfBlocks(values: readonly number[], blocks: readonly (readonly number[])[]): number {
  const means = blockMeans(values, blocks);
  return Math.max(...means) - Math.min(...means);
}

/**
 * A bound that needs no search: the block that holds the least value cannot have a mean above the one it gets together with the
 * greatest others, while the rest of the blocks must then average what is left; and the same from the other end.
 */
export function boundRange(values: readonly number[], sizes: readonly number[]): number {
  const largest = Math.max(...sizes);
  const total = values.reduce((a, b) => a + b, 0);
  if (largest === values.length) return 0;
  const ascending = [...values].sort((a, b) => a - b);
  let bound = 0;
  for (const sorted of [ascending, ascending.map((v) => -v).reverse()]) {
    const sum = sorted === ascending ? total : -total;
    const best = (size: number): number =>
      ((sorted[0] as number) + sorted.slice(sorted.length - size + 1).reduce((a, b) => a + b, 0)) / size;
    const gaps = [...new Set(sizes)].map((size) => {
      const mean = size === 1 ? (sorted[0] as number) : best(size);
      return (sum - size * mean) / (values.length - size) - mean;
    });
    bound = Math.max(bound, Math.min(...gaps));
  }
  return Math.max(0, bound);
}

class PartitionSearch {
  private readonly order: number[];
  private readonly sorted: Float64Array;
  private readonly mean: number;
  private readonly counts = new Map<number, number>();
  private readonly distinct: number[];
  private readonly started: number;
  private best: number[][];
  private bestRange: number;
  private nodes = 0;
  private isStopped = false;
  /** A pass that left candidates out cannot raise the lower bound. */
  private isTruncated = false;
  /** Ranges at or above this are not looked for in the present pass. */
  private window = 0;
  /** Means outside of these are not looked for in the present slice. */
  private floor = -Infinity;
  private ceiling = Infinity;
  /** No arrangement has a range below this. */
  private lowerBound: number;

  constructor(
    private readonly values: readonly number[],
    private readonly sizes: readonly number[],
    private readonly timeLimit: number,
    private readonly context: SearchContext,
  ) {
    this.order = values.map((_, i) => i).sort((a, b) => (values[a] as number) - (values[b] as number) || a - b);
    this.sorted = Float64Array.from(this.order, (i) => values[i] as number);
    this.mean = this.sorted.reduce((a, b) => a + b, 0) / values.length;
    for (const size of sizes) this.counts.set(size, (this.counts.get(size) ?? 0) + 1);
    this.distinct = [...this.counts.keys()].sort((a, b) => a - b);
    this.lowerBound = boundRange(values, sizes);
    this.started = context.now?.() ?? 0;
    this.best = firstAnswer(values, this.order, sizes);
    this.bestRange = rangeOfBlocks(values, this.best);
  }

  run(): Partition {
    const left = Array.from(this.sorted.keys());
    const sum = this.sorted.reduce((a, b) => a + b, 0);
    const deviation = Math.sqrt(this.sorted.reduce((a, v) => a + (v - this.mean) ** 2, 0) / left.length);
    let width = Math.max(this.lowerBound, FIRST_WINDOW * deviation);
    while (!this.isProven() && !this.hasStopped()) {
      const before = this.bestRange;
      this.window = Math.min(width, this.bestRange);
      this.searchWindow(left, sum);
      if (this.hasStopped() || this.isTruncated) {
        if (this.hasStopped() || width > this.bestRange) break;
        width *= WINDOW_GROWTH;
        continue;
      }
      this.lowerBound = this.bestRange < before ? this.bestRange : Math.max(this.lowerBound, this.window);
      width *= WINDOW_GROWTH;
    }
    this.report(1);
    return {
      blocks: inSizeOrder(this.best, this.sizes),
      range: this.bestRange,
      lowerBound: this.isProven() ? this.bestRange : this.lowerBound,
      proven: this.isProven(),
    };
  }

  /**
   * One pass over all arrangements of a range under the window, slice by slice: the least mean lies within one window below the
   * mean of all, and fixing it to a slice of that leaves the other means little more than one window instead of two.
   */
  private searchWindow(left: readonly number[], sum: number): void {
    const slice = this.window / SLICES;
    const least = this.mean - this.window;
    const most = this.window;
    for (let i = 0; i < SLICES && !this.hasStopped() && !this.isProven(); i++) {
      this.floor = least + i * slice - ROUNDING;
      this.ceiling = this.floor + slice + most + 2 * ROUNDING;
      this.place(left, sum, Infinity, -Infinity, [], i);
    }
  }

  private hasStopped(): boolean {
    return this.isStopped;
  }

  private isProven(): boolean {
    return this.bestRange <= this.lowerBound + SAME_RANGE;
  }

  /** `left`: positions in `sorted` still to place, ascending; `low`, `high`: least and greatest mean so far. */
  private place(left: readonly number[], sum: number, low: number, high: number, blocks: number[][], slice: number): void {
    if (this.mustStop()) return;
    if (left.length === 0) {
      this.keep(blocks);
      return;
    }
    const rest = sum / left.length;
    const lowest = Math.min(low, rest, this.mean);
    const highest = Math.max(high, rest, this.mean);
    if (highest - lowest >= this.window - SAME_RANGE) return;
    const pairs = this.counts.get(2) ?? 0;
    const fence = (size: number): { from: number; to: number } => this.fence(size, left.length, sum, lowest, highest);
    if (pairs > 0 && !this.canPair(left, fence(2), pairs)) return;
    const onlyPairs = this.distinct.every((s) => s === 2 || this.counts.get(s) === 0);
    if (onlyPairs) {
      this.keep([...blocks, ...foldPairs(left)]);
      return;
    }
    const first = left[0] as number;
    const last = left[left.length - 1] as number;
    const isLowExtreme = rest - (this.sorted[first] as number) >= (this.sorted[last] as number) - rest;
    const extreme = isLowExtreme ? first : last;
    const others = isLowExtreme ? left.slice(1) : left.slice(0, -1);
    const candidates: Candidate[] = [];
    for (const size of this.distinct) {
      if (this.counts.get(size) === 0) continue;
      this.listBlocks(others, extreme, size, fence(size), candidates);
    }
    candidates.sort((a, b) => Math.abs(a.mean - rest) - Math.abs(b.mean - rest));
    for (const [index, { members, mean }] of candidates.entries()) {
      if (blocks.length === 0) this.report((slice + index / candidates.length) / SLICES);
      const size = members.length;
      // the window may have shrunk since the list was made
      if (Math.max(highest, mean) - Math.min(lowest, mean) >= this.window - SAME_RANGE) continue;
      this.counts.set(size, (this.counts.get(size) as number) - 1);
      const remaining = left.filter((p) => !members.includes(p));
      blocks.push(members);
      this.place(remaining, sum - mean * size, Math.min(low, mean), Math.max(high, mean), blocks, slice);
      blocks.pop();
      this.counts.set(size, (this.counts.get(size) as number) + 1);
      if (this.isStopped || this.isProven()) return;
    }
  }

  /**
   * The sums that a block of `size` may have: its mean inside the window, and such that the other modules left can still average
   * inside it too.
   */
  private fence(size: number, count: number, sum: number, lowest: number, highest: number): Fence {
    const floor = Math.max(this.floor, highest - this.window);
    const ceiling = Math.min(this.ceiling, lowest + this.window);
    const others = count - size;
    return {
      from: Math.max(floor * size, sum - others * ceiling) - ROUNDING,
      to: Math.min(ceiling * size, sum - others * floor) + ROUNDING,
    };
  }

  /** Every block of `size` that holds `extreme` and whose sum lies strictly between `from` and `to`. */
  private listBlocks(others: readonly number[], extreme: number, size: number, { from, to }: Fence, into: Candidate[]): void {
    const sorted = this.sorted;
    const members = [extreme];
    const pick = (start: number, sum: number, missing: number): void => {
      if (missing === 0) {
        if (into.length >= MAXIMUM_CANDIDATES) this.isTruncated = true;
        else if (sum > from && sum < to) into.push({ members: [...members], mean: sum / size });
        return;
      }
      if (this.isTruncated && into.length >= MAXIMUM_CANDIDATES) return;
      if (this.mustStop()) return;
      for (let i = start; i + missing <= others.length; i++) {
        const value = sorted[others[i] as number] as number;
        // the least sum from here on takes the next ones, the greatest the last ones
        if (sum + sumOf(sorted, others, i, missing) >= to) return;
        if (sum + value + sumOf(sorted, others, others.length - missing + 1, missing - 1) <= from) continue;
        members.push(others[i] as number);
        pick(i + 1, sum + value, missing - 1);
        members.pop();
      }
    };
    pick(0, sorted[extreme] as number, size - 1);
  }

  private keep(positions: number[][]): void {
    const blocks = positions.map((b) => b.map((p) => this.order[p] as number));
    const range = rangeOfBlocks(this.values, blocks);
    if (range >= this.bestRange - SAME_RANGE / 2) return;
    this.best = blocks;
    this.bestRange = range;
    this.window = Math.min(this.window, range);
    this.report(0);
  }

  /**
   * Whether `pairs` disjoint pairs with sums between `from` and `to` can be made. Least and greatest are compared from the ends:
   * one that cannot pair with the other end can pair with none, and if they fit, pairing them is never worse, since
   * a+y <= x+y <= x+b for any a <= x and y <= b.
   */
  private canPair(left: readonly number[], { from, to }: Fence, pairs: number): boolean {
    let low = 0;
    let high = left.length - 1;
    let made = 0;
    while (low < high && made < pairs) {
      const sum = (this.sorted[left[low] as number] as number) + (this.sorted[left[high] as number] as number);
      if (sum >= to) high--;
      else if (sum <= from) low++;
      else {
        made++;
        low++;
        high--;
      }
    }
    return made >= pairs;
  }

  private mustStop(): boolean {
    if (this.isStopped) return true;
    if (++this.nodes % CHECK_EVERY !== 0) return false;
    const spent = this.context.now ? this.context.now() - this.started : 0;
    this.isStopped = spent > this.timeLimit || this.nodes > MAXIMUM_NODES || (this.context.isCancelled?.() ?? false);
    return this.isStopped;
  }

  private report(share: number): void {
    this.context.onProgress?.({ share, rangeAh: this.bestRange, lowerBoundAh: Math.min(this.lowerBound, this.bestRange) });
  }
}

/** Sums strictly between. */
interface Fence {
  readonly from: number;
  readonly to: number;
}

interface Candidate {
  readonly members: number[];
  readonly mean: number;
}

function sumOf(sorted: Float64Array, positions: readonly number[], from: number, count: number): number {
  let sum = 0;
  for (let i = from; i < from + count; i++) sum += sorted[positions[i] as number] as number;
  return sum;
}

/** A good division without proof: dealt out, improved, then shaken and improved again; pairs alone are folded, which is the best. */
function firstAnswer(values: readonly number[], order: readonly number[], sizes: readonly number[]): number[][] {
  if (sizes.every((s) => s === 2)) return foldPairs(order);
  const generator = createGenerator(values.length);
  let best = improveBySwaps(values, spread(order, sizes));
  let bestRange = rangeOfBlocks(values, best);
  for (let kick = 0; kick < KICKS && sizes.length > 1 && bestRange > 0; kick++) {
    const shaken = best.map((b) => [...b]);
    for (let swap = 0; swap < 3; swap++) {
      const first = shaken[generator.below(shaken.length)] as number[];
      const second = shaken[generator.below(shaken.length)] as number[];
      const [i, j] = [generator.below(first.length), generator.below(second.length)];
      [first[i], second[j]] = [second[j] as number, first[i] as number];
    }
    const improved = improveBySwaps(values, shaken);
    const range = rangeOfBlocks(values, improved);
    if (range < bestRange) [best, bestRange] = [improved, range];
  }
  return best;
}

/** A first division: the sorted values dealt out back and forth, larger blocks taking part longer. */
function spread(order: readonly number[], sizes: readonly number[]): number[][] {
  const blocks: number[][] = sizes.map(() => []);
  let index = 0;
  for (let round = 0; index < order.length; round++) {
    const open = sizes.map((_, b) => b).filter((b) => (blocks[b] as number[]).length < (sizes[b] as number));
    if (round % 2 === 1) open.reverse();
    for (const b of open) {
      const taken = order[index++];
      if (taken !== undefined) (blocks[b] as number[]).push(taken);
    }
  }
  return blocks;
}

/** Swaps modules between blocks while that lowers the sum of squared deviations of the means, which pulls the range in. */
function improveBySwaps(values: readonly number[], start: number[][]): number[][] {
  const blocks = start.map((b) => [...b]);
  const total = values.reduce((a, b) => a + b, 0) / values.length;
  const offsets = blockMeans(values, blocks).map((m) => m - total);
  for (let pass = 0; pass < 200; pass++) {
    let best = { gain: 1e-12, a: 0, i: 0, b: 0, j: 0, shift: 0 };
    for (let a = 0; a < blocks.length; a++) {
      for (let b = a + 1; b < blocks.length; b++) {
        const first = blocks[a] as number[];
        const second = blocks[b] as number[];
        const [atA, atB] = [offsets[a] as number, offsets[b] as number];
        for (let i = 0; i < first.length; i++) {
          for (let j = 0; j < second.length; j++) {
            const shift = (values[second[j] as number] as number) - (values[first[i] as number] as number);
            const gain = atA ** 2 + atB ** 2 - (atA + shift / first.length) ** 2 - (atB - shift / second.length) ** 2;
            if (gain > best.gain) best = { gain, a, i, b, j, shift };
          }
        }
      }
    }
    if (best.gain <= 1e-12) break;
    const first = blocks[best.a] as number[];
    const second = blocks[best.b] as number[];
    [first[best.i], second[best.j]] = [second[best.j] as number, first[best.i] as number];
    offsets[best.a] = (offsets[best.a] as number) + best.shift / first.length;
    offsets[best.b] = (offsets[best.b] as number) - best.shift / second.length;
  }
  return blocks;
}

/** Puts blocks into the order in which their sizes were asked for. */
function inSizeOrder(blocks: readonly number[][], sizes: readonly number[]): number[][] {
  const left = [...blocks];
  return sizes.map((size) => {
    const at = left.findIndex((b) => b.length === size);
    return left.splice(at, 1)[0] as number[];
  });
}
