/**
 * Which block goes where, and which module of a block to which of its places, so that strong, low-resistance modules sit where
 * the stack runs hottest: least sum of heat weight x resistance. Blocks of equal size may change places, and modules may
 * change blocks as long as the range of the block means does not grow.
 *
 * The bound is the rearrangement inequality (Hardy, Littlewood and Polya, Inequalities, 1934): the least sum of products pairs
 * the weights in ascending order with the resistances in descending order.
 */
import { createGenerator } from '../random/generator.ts';
import { assign } from './assignment.ts';
import { rangeOfBlocks, SAME_RANGE } from './partition.ts';

export interface HeatInput {
  readonly capacities: readonly number[];
  readonly resistances: readonly number[];
  /** One a position. */
  readonly weights: readonly number[];
  readonly sizes: readonly number[];
}

export interface HeatPlan {
  /** Indices of modules, one list a block, in position order. */
  readonly blocks: number[][];
  readonly cost: number;
}

/** Stop looking for less heat within this share of the bound. */
const NEAR_BOUND = 1e-4;
const ANNEAL_STEPS_PER_MODULE = 300;
const DESCENTS = 4;
/** Up to this many modules every division of least range is weighed. */
const EXHAUSTIVE_MODULES = 10;

/** Sum of weight x resistance below which no order can come. */
export function boundHeat(weights: readonly number[], resistances: readonly number[]): number {
  const ascending = [...weights].sort((a, b) => a - b);
  const descending = [...resistances].sort((a, b) => b - a);
  return ascending.reduce((sum, w, i) => sum + w * (descending[i] as number), 0);
}

export function heatOf(blocks: readonly (readonly number[])[], input: Pick<HeatInput, 'weights' | 'resistances'>): number {
  return blocks
    .flat()
    .reduce((sum, module, position) => sum + (input.weights[position] as number) * (input.resistances[module] as number), 0);
}

/** The least heat for a given division into blocks: exact, by assignment of equal-sized blocks to their places. */
export function placeBlocks(blocks: readonly (readonly number[])[], input: HeatInput): HeatPlan {
  const starts = startsOf(input.sizes);
  const placed: number[][] = input.sizes.map(() => []);
  for (const size of new Set(input.sizes)) {
    const slots = input.sizes.flatMap((s, i) => (s === size ? [i] : []));
    const members = blocks.filter((b) => b.length === size);
    const sortedWeights = slots.map((slot) => weightsOf(slot, size, starts, input.weights).sort((a, b) => a - b));
    const sortedResistances = members.map((b) => b.map((m) => input.resistances[m] as number).sort((a, b) => b - a));
    const cost = sortedResistances.map((rs) => sortedWeights.map((ws) => ws.reduce((sum, w, i) => sum + w * (rs[i] as number), 0)));
    assign(cost).forEach((column, row) => {
      const slot = slots[column] as number;
      placed[slot] = orderWithin(members[row] as number[], weightsOf(slot, size, starts, input.weights), input.resistances);
    });
  }
  return { blocks: placed, cost: heatOf(placed, input) };
}

/** Lowers the heat over divisions whose range stays within 1e-9 Ah of the one given. Deterministic. */
export function coolBlocks(blocks: readonly (readonly number[])[], input: HeatInput): HeatPlan {
  const bound = boundHeat(input.weights, input.resistances);
  const limit = rangeOfBlocks(input.capacities, blocks) + SAME_RANGE;
  let best = placeBlocks(blocks, input);
  const isNear = (): boolean => best.cost <= bound + NEAR_BOUND * Math.abs(bound);
  if (isNear()) return best;
  if (input.capacities.length <= EXHAUSTIVE_MODULES) return weighAll(input, limit, best);
  const generator = createGenerator(1);
  for (let round = 0; round < DESCENTS && !isNear(); round++) {
    const start = round === 0 ? best : anneal(best, input, limit, () => generator.next());
    let current = descend(start, input, limit);
    for (let again = placeBlocks(current.blocks, input); again.cost < current.cost - 1e-12; again = placeBlocks(current.blocks, input))
      current = descend(again, input, limit);
    if (current.cost < best.cost - 1e-12) best = current;
  }
  return best;
}

function startsOf(sizes: readonly number[]): number[] {
  let next = 0;
  return sizes.map((size) => (next += size) - size);
}

function weightsOf(slot: number, size: number, starts: readonly number[], weights: readonly number[]): number[] {
  const start = starts[slot] as number;
  return weights.slice(start, start + size);
}

/** The hottest place gets the least resistance. */
function orderWithin(members: readonly number[], weights: readonly number[], resistances: readonly number[]): number[] {
  const places = weights.map((_, i) => i).sort((a, b) => (weights[b] as number) - (weights[a] as number) || a - b);
  const modules = [...members].sort((a, b) => (resistances[a] as number) - (resistances[b] as number) || a - b);
  const ordered = new Array<number>(members.length).fill(0);
  places.forEach((place, i) => (ordered[place] = modules[i] as number));
  return ordered;
}

/** An arrangement as flat lists, for quick swaps. */
class Layout {
  readonly order: number[];
  readonly blockOf: number[];
  readonly sums: number[];
  constructor(
    plan: HeatPlan,
    private readonly input: HeatInput,
    private readonly limit: number,
  ) {
    this.order = plan.blocks.flat();
    this.blockOf = input.sizes.flatMap((size, b) => new Array<number>(size).fill(b));
    this.sums = plan.blocks.map((b) => b.reduce((sum, m) => sum + (input.capacities[m] as number), 0));
  }

  /** What swapping the modules at two positions adds to the heat. */
  gain(p: number, q: number): number {
    const { weights, resistances } = this.input;
    const [a, b] = [this.order[p] as number, this.order[q] as number];
    return ((weights[p] as number) - (weights[q] as number)) * ((resistances[b] as number) - (resistances[a] as number));
  }

  /** Whether the range stays within the limit when the modules at two positions are swapped. */
  isAllowed(p: number, q: number): boolean {
    const { capacities, sizes } = this.input;
    const [from, to] = [this.blockOf[p] as number, this.blockOf[q] as number];
    if (from === to) return true;
    const shift = (capacities[this.order[q] as number] as number) - (capacities[this.order[p] as number] as number);
    let low = Infinity;
    let high = -Infinity;
    for (let b = 0; b < this.sums.length; b++) {
      const sum = (this.sums[b] as number) + (b === from ? shift : b === to ? -shift : 0);
      const mean = sum / (sizes[b] as number);
      if (mean < low) low = mean;
      if (mean > high) high = mean;
      if (high - low > this.limit) return false;
    }
    return true;
  }

  swap(p: number, q: number): void {
    const { capacities } = this.input;
    const [a, b] = [this.order[p] as number, this.order[q] as number];
    const shift = (capacities[b] as number) - (capacities[a] as number);
    const [from, to] = [this.blockOf[p] as number, this.blockOf[q] as number];
    this.sums[from] = (this.sums[from] as number) + shift;
    this.sums[to] = (this.sums[to] as number) - shift;
    this.order[p] = b;
    this.order[q] = a;
  }

  plan(): HeatPlan {
    let next = 0;
    const blocks = this.input.sizes.map((size) => this.order.slice(next, (next += size)));
    return { blocks, cost: heatOf(blocks, this.input) };
  }
}

/** Swaps while a swap cools. */
function descend(plan: HeatPlan, input: HeatInput, limit: number): HeatPlan {
  const layout = new Layout(plan, input, limit);
  const n = layout.order.length;
  for (let isMoving = true, pass = 0; isMoving && pass < 100; pass++) {
    isMoving = false;
    for (let p = 0; p < n; p++)
      for (let q = p + 1; q < n; q++)
        if (layout.gain(p, q) < -1e-12 && layout.isAllowed(p, q)) {
          layout.swap(p, q);
          isMoving = true;
        }
  }
  return layout.plan();
}

/** Random swaps that may warm a little, ever less (S. Kirkpatrick et al. 1983), so that the next descent starts elsewhere. */
function anneal(plan: HeatPlan, input: HeatInput, limit: number, next: () => number): HeatPlan {
  const layout = new Layout(plan, input, limit);
  const n = layout.order.length;
  const steps = ANNEAL_STEPS_PER_MODULE * n;
  let temperature = (0.02 * Math.abs(plan.cost)) / n;
  const cooling = Math.pow(0.01, 1 / steps);
  for (let step = 0; step < steps; step++, temperature *= cooling) {
    const p = Math.floor(next() * n);
    const q = Math.floor(next() * n);
    const gain = p === q ? Infinity : layout.gain(p, q);
    if (gain < 0 || next() < Math.exp(-gain / temperature)) if (layout.isAllowed(p, q)) layout.swap(p, q);
  }
  return layout.plan();
}

/** Every division into blocks of the sizes given whose range is within the limit, each placed at its coolest. */
function weighAll(input: HeatInput, limit: number, start: HeatPlan): HeatPlan {
  const { capacities, sizes } = input;
  let best = start;
  const counts = new Map<number, number>();
  for (const size of sizes) counts.set(size, (counts.get(size) ?? 0) + 1);
  const place = (left: readonly number[], low: number, high: number, blocks: number[][]): void => {
    const [first, ...others] = left;
    if (first === undefined) {
      const plan = placeBlocks(blocks, input);
      if (plan.cost < best.cost - 1e-12) best = plan;
      return;
    }
    for (const [size, count] of counts) {
      if (count === 0) continue;
      counts.set(size, count - 1);
      for (const rest of choose(others, size - 1)) {
        const members = [first, ...rest];
        const mean = members.reduce((sum, m) => sum + (capacities[m] as number), 0) / size;
        if (Math.max(high, mean) - Math.min(low, mean) > limit) continue;
        place(
          others.filter((m) => !rest.includes(m)),
          Math.min(low, mean),
          Math.max(high, mean),
          [...blocks, members],
        );
      }
      counts.set(size, count);
    }
  };
  place([...capacities.keys()], Infinity, -Infinity, []);
  return best;
}

function* choose(items: readonly number[], count: number, from = 0): Generator<number[]> {
  if (count === 0) {
    yield [];
    return;
  }
  for (let i = from; i + count <= items.length; i++)
    for (const rest of choose(items, count - 1, i + 1)) yield [items[i] as number, ...rest];
}
