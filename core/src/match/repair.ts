/**
 * Spot repair: each reject is replaced by the shelf module closest to the survivors, by the sum of absolute differences from their
 * median over their robust scale in capacity, resistance and voltage. The replacements then go to the free places that give the
 * least range of block means; with `reorder` all modules are arranged anew.
 */
import { answer, refuse, type Result } from '../result.ts';
import { DEFAULT_LIMITS } from '../reading/verdict.ts';
import { describeCrowd } from '../stats/robust.ts';
import { arrangeModules } from './arrange.ts';
import { compareIds, type PoolModule, type SearchContext } from './module.ts';
import { blockMeans, placesOf, rangeOfBlocks } from './partition.ts';
import { findReasons, type ExclusionReason, type SelectLimits } from './select.ts';

export interface PlacedModule extends PoolModule {
  /** 1-based place in the string. */
  readonly place: number;
}

export interface RepairInput {
  readonly survivors: readonly PlacedModule[];
  readonly rejects: readonly PlacedModule[];
  readonly shelf: readonly PoolModule[];
  readonly blockSizes: readonly number[];
  readonly heatWeights?: readonly number[] | undefined;
  /** Of the shop; a module of the shelf beyond them replaces nothing. */
  readonly limits?: SelectLimits | undefined;
  readonly reorder?: boolean | undefined;
  readonly timeLimitMillisecond?: number | undefined;
  /** Taken for a survivor whose figure was not measured; without it such a survivor is refused. Never used to choose replacements. */
  readonly fallback?: { readonly capacityAh: number; readonly resistanceMilliohm: number } | undefined;
}

export interface Repair {
  readonly replacements: readonly { readonly place: number; readonly id: string }[];
  readonly blocks: readonly (readonly string[])[];
  readonly blockMeanAh: readonly number[];
  readonly rangeAh: number;
  /** Survivors that leave their place. */
  readonly moved: readonly { readonly id: string; readonly from: number; readonly to: number }[];
  /** How many replacements the shelf cannot give; the plan then stands empty. */
  readonly shortfall: number;
  /** Shelf modules left out, as they lack a figure that the comparison needs. */
  readonly excluded: readonly { readonly id: string; readonly reasons: readonly ExclusionReason[] }[];
  readonly lowerBoundAh: number;
  readonly proven: boolean;
}

const FIGURES = ['capacityAh', 'resistanceMilliohm', 'ocvVolt'] as const;
/** Up to this many replacements every way to place them is weighed; beyond, exchanges are made while they help. */
const EXHAUSTIVE_PLACES = 7;

/** See the file's head. Refusals: `mismatch` (places or ids that clash or do not fill the blocks), `empty` (no survivor). */
export function repairStack(input: RepairInput, context: SearchContext = {}): Result<Repair> {
  const refusal = checkInput(input);
  if (refusal) return refusal;
  const { survivors, rejects } = input;
  const losesTooMuch = restDropJudge(survivors);
  const judged = input.shelf.map((module) => ({
    module,
    reasons: [...findReasons(module, input.limits ?? {}), ...(losesTooMuch(module) ? (['restDropCrowd'] as const) : [])],
  }));
  const usable = judged.flatMap(({ module, reasons }) => (reasons.length === 0 ? [module] : []));
  const excluded = judged
    .flatMap(({ module: { id }, reasons }) => (reasons.length > 0 ? [{ id, reasons }] : []))
    .sort((a, b) => compareIds(a.id, b.id));
  const shortfall = Math.max(0, rejects.length - usable.length);
  if (shortfall > 0) {
    const none = { replacements: [], blocks: [], blockMeanAh: [], rangeAh: 0, moved: [], lowerBoundAh: 0, proven: true };
    return answer({ ...none, shortfall, excluded });
  }
  const chosen = closest(usable, survivors, rejects.length);
  return input.reorder ? reorderAll(input, chosen, excluded, context) : answer(placeInGaps(input, chosen, excluded));
}

function isNumber(value: number | null | undefined): value is number {
  return typeof value === 'number';
}

/** Whether a module loses more at rest than those it would sit among, as a module of the pack is judged; false where too few are known. */
function restDropJudge(survivors: readonly PoolModule[]): (module: PoolModule) => boolean {
  const drops = survivors.map((s) => s.restDropMillivolt).filter(isNumber);
  if (drops.length < DEFAULT_LIMITS.crowdSize) return () => false;
  const { median: middle, scale } = describeCrowd(drops);
  const most = middle + Math.max(DEFAULT_LIMITS.floorDropMillivolt, DEFAULT_LIMITS.rejectZ * scale);
  return ({ restDropMillivolt: drop }) => isNumber(drop) && drop > most;
}

function closest(shelf: readonly PoolModule[], survivors: readonly PoolModule[], count: number): PoolModule[] {
  const crowds = FIGURES.flatMap((figure) => {
    const values = survivors.map((s) => s[figure]).filter(isNumber);
    return values.length > 0 ? [{ figure, ...describeCrowd(values) }] : [];
  });
  const distance = (module: PoolModule): number =>
    crowds.reduce((sum, { figure, median, scale }) => {
      const value = module[figure];
      // a voltage that was not read neither helps nor harms
      if (!isNumber(value)) return sum;
      const off = Math.abs(value - median);
      return sum + (scale > 0 ? off / scale : off > 0 ? Number.MAX_SAFE_INTEGER * Math.min(1, off) : 0);
    }, 0);
  return shelf
    .map((module) => ({ module, off: distance(module) }))
    .sort((a, b) => a.off - b.off || compareIds(a.module.id, b.module.id))
    .slice(0, count)
    .map((m) => m.module);
}

function placeInGaps(input: RepairInput, chosen: readonly PoolModule[], excluded: Repair['excluded']): Repair {
  const { survivors, rejects, blockSizes, fallback } = input;
  const gaps = rejects.map((r) => r.place).sort((a, b) => a - b);
  const capacityAt: number[] = [];
  const idAt: string[] = [];
  for (const s of survivors) {
    capacityAt[s.place - 1] = (s.capacityAh ?? fallback?.capacityAh) as number;
    idAt[s.place - 1] = s.id;
  }
  const blocks = placesOf(blockSizes);
  const rangeWith = (order: readonly number[]): number => {
    gaps.forEach((place, i) => (capacityAt[place - 1] = (chosen[order[i] as number] as PoolModule).capacityAh as number));
    return rangeOfBlocks(capacityAt, blocks);
  };
  const isExhaustive = gaps.length <= EXHAUSTIVE_PLACES;
  const best = isExhaustive ? bestPermutation(gaps.length, rangeWith) : exchange(gaps.length, rangeWith);
  const rangeAh = rangeWith(best);
  const replacements = gaps.map((place, i) => ({ place, id: (chosen[best[i] as number] as PoolModule).id }));
  for (const { place, id } of replacements) idAt[place - 1] = id;
  return {
    replacements,
    blocks: blocks.map((b) => b.map((i) => idAt[i] as string)),
    blockMeanAh: blockMeans(capacityAt, blocks),
    rangeAh,
    moved: [],
    shortfall: 0,
    excluded,
    lowerBoundAh: isExhaustive && !areAssumed(survivors) ? rangeAh : 0,
    proven: isExhaustive && !areAssumed(survivors),
  };
}

/** Whether a capacity is only assumed: nothing is proven of an arrangement that counts with it. */
function areAssumed(survivors: readonly PoolModule[]): boolean {
  return survivors.some((s) => !isNumber(s.capacityAh));
}

function bestPermutation(count: number, cost: (order: readonly number[]) => number): number[] {
  let best = Array.from({ length: count }, (_, i) => i);
  let least = cost(best);
  const order: number[] = [];
  const isUsed = new Array<boolean>(count).fill(false);
  const extend = (): void => {
    if (order.length === count) {
      const value = cost(order);
      if (value < least - 1e-12) [least, best] = [value, [...order]];
      return;
    }
    for (let i = 0; i < count; i++) {
      if (isUsed[i]) continue;
      isUsed[i] = true;
      order.push(i);
      extend();
      order.pop();
      isUsed[i] = false;
    }
  };
  extend();
  return best;
}

function exchange(count: number, cost: (order: readonly number[]) => number): number[] {
  let best = Array.from({ length: count }, (_, i) => i);
  let least = cost(best);
  for (let isMoving = true, pass = 0; isMoving && pass < 100; pass++) {
    isMoving = false;
    for (let i = 0; i < count; i++)
      for (let j = i + 1; j < count; j++) {
        const next = [...best];
        [next[i], next[j]] = [best[j] as number, best[i] as number];
        const value = cost(next);
        if (value < least - 1e-12) [least, best, isMoving] = [value, next, true];
      }
  }
  return best;
}

function reorderAll(
  input: RepairInput,
  chosen: readonly PoolModule[],
  excluded: Repair['excluded'],
  context: SearchContext,
): Result<Repair> {
  const modules = [...input.survivors, ...chosen].map((m) => ({
    id: m.id,
    capacityAh: (m.capacityAh ?? input.fallback?.capacityAh) as number,
    resistanceMilliohm: (m.resistanceMilliohm ?? input.fallback?.resistanceMilliohm) as number,
  }));
  const arranged = arrangeModules(
    { modules, blockSizes: input.blockSizes, heatWeights: input.heatWeights, timeLimitMillisecond: input.timeLimitMillisecond },
    context,
  );
  if (arranged.kind === 'refused') return arranged;
  const { blocks, blockMeanAh, rangeAh } = arranged.value;
  const isProvable = !areAssumed(input.survivors);
  const { lowerBoundAh, proven } = isProvable ? arranged.value : { lowerBoundAh: 0, proven: false };
  const placeOf = new Map(blocks.flat().map((id, i) => [id, i + 1]));
  const moved = input.survivors.flatMap(({ id, place }) => {
    const to = placeOf.get(id) as number;
    return to === place ? [] : [{ id, from: place, to }];
  });
  const replacements = chosen.map(({ id }) => ({ place: placeOf.get(id) as number, id })).sort((a, b) => a.place - b.place);
  return answer({ replacements, blocks, blockMeanAh, rangeAh, moved, shortfall: 0, excluded, lowerBoundAh, proven });
}

function checkInput({ survivors, rejects, shelf, blockSizes, reorder, fallback }: RepairInput): ReturnType<typeof refuse> | null {
  if (survivors.length === 0) return refuse('empty', 'A repair needs at least one survivor to match.', ['survivors']);
  const odd = blockSizes.findIndex((s) => !Number.isInteger(s) || s < 1);
  if (odd >= 0) return refuse('impossible', `A block cannot hold ${blockSizes[odd]} modules.`, ['blockSizes', odd]);
  const held = blockSizes.reduce((a, b) => a + b, 0);
  const places = new Set<number>();
  for (const [list, modules] of [
    ['survivors', survivors],
    ['rejects', rejects],
  ] as const)
    for (const [i, { place }] of modules.entries()) {
      if (!Number.isInteger(place) || place < 1 || place > held)
        return refuse('mismatch', `There is no place ${place}: the blocks hold ${held} modules.`, [list, i, 'place']);
      if (places.has(place)) return refuse('mismatch', `Place ${place} is given twice.`, [list, i, 'place']);
      places.add(place);
    }
  if (places.size !== held) return refuse('mismatch', `${places.size} modules were given for ${held} places.`, ['survivors']);
  const ids = new Set<string>();
  for (const [list, modules] of [
    ['survivors', survivors],
    ['shelf', shelf],
  ] as const)
    for (const [i, { id }] of modules.entries()) {
      if (ids.has(id)) return refuse('mismatch', `Module "${id}" stands twice.`, [list, i, 'id']);
      ids.add(id);
    }
  const bare = fallback ? -1 : survivors.findIndex((s) => !isNumber(s.capacityAh) || (reorder && !isNumber(s.resistanceMilliohm)));
  if (bare >= 0)
    return refuse(
      'mismatch',
      `Survivor "${survivors[bare]?.id}" lacks a figure: capacity${reorder ? ' and resistance are' : ' is'} needed.`,
      ['survivors', bare],
    );
  return null;
}
