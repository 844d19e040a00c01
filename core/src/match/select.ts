/**
 * Choosing N modules from a pool. `strongest` takes the largest capacities. `balanced` minimises
 * capacity spread + lambda x resistance spread exactly: for every window of capacities the narrowest window of resistances that
 * holds N modules is found, and windows wider than the best answer so far are never opened.
 */
import { answer, refuse, type Result } from '../result.ts';
import { compareIds, type PoolModule } from './module.ts';

export interface SelectLimits {
  readonly minCapacityAh?: number | null | undefined;
  readonly maxResistanceMilliohm?: number | null | undefined;
  readonly maxRestDropMillivolt?: number | null | undefined;
}

export interface SelectInput {
  readonly pool: readonly PoolModule[];
  readonly count: number;
  readonly limits?: SelectLimits | undefined;
  readonly objective: 'strongest' | 'balanced';
  /** Ah that one milliohm of spread is worth. */
  readonly lambda?: number | undefined;
}

export type ExclusionReason = 'missing' | 'minCapacityAh' | 'maxResistanceMilliohm' | 'maxRestDropMillivolt' | 'restDropCrowd';

export interface Selection {
  /** In id order; empty when there are too few. */
  readonly ids: readonly string[];
  readonly minCapacityAh: number | null;
  readonly spreadAh: number | null;
  readonly spreadMilliohm: number | null;
  /** `strongest`: sum of capacities; `balanced`: spreadAh + lambda x spreadMilliohm. */
  readonly objectiveValue: number | null;
  readonly excluded: readonly { readonly id: string; readonly reasons: readonly ExclusionReason[] }[];
  readonly proven: boolean;
  /** How many modules are missing; 0 when the selection stands. */
  readonly shortfall: number;
}

export const DEFAULT_LAMBDA = 0.02;

interface Candidate {
  readonly id: string;
  readonly ampereHour: number;
  readonly milliohm: number;
}

/** See the file's head. Refusals: `impossible` for a count under 1 or a negative lambda, `mismatch` for an id that stands twice. */
export function selectModules(input: SelectInput): Result<Selection> {
  const { pool, count, limits = {}, lambda = DEFAULT_LAMBDA } = input;
  if (!Number.isInteger(count) || count < 1) return refuse('impossible', `${count} modules cannot be chosen.`, ['count']);
  if (!(lambda >= 0)) return refuse('impossible', 'lambda must not be negative.', ['lambda']);
  const seen = new Set<string>();
  for (const [i, { id }] of pool.entries()) {
    if (seen.has(id)) return refuse('mismatch', `Module "${id}" stands twice in the pool.`, ['pool', i, 'id']);
    seen.add(id);
  }
  const excluded: { id: string; reasons: ExclusionReason[] }[] = [];
  const candidates: Candidate[] = [];
  for (const module of pool) {
    const reasons = findReasons(module, limits);
    if (reasons.length > 0) excluded.push({ id: module.id, reasons });
    else candidates.push({ id: module.id, ampereHour: module.capacityAh as number, milliohm: module.resistanceMilliohm as number });
  }
  excluded.sort((a, b) => compareIds(a.id, b.id));
  if (candidates.length < count) {
    const none = { minCapacityAh: null, spreadAh: null, spreadMilliohm: null, objectiveValue: null };
    return answer({ ids: [], ...none, excluded, proven: true, shortfall: count - candidates.length });
  }
  const chosen = input.objective === 'strongest' ? takeStrongest(candidates, count) : takeBalanced(candidates, count, lambda);
  const capacities = chosen.map((c) => c.ampereHour);
  const resistances = chosen.map((c) => c.milliohm);
  const spreadAh = Math.max(...capacities) - Math.min(...capacities);
  const spreadMilliohm = Math.max(...resistances) - Math.min(...resistances);
  return answer({
    ids: chosen.map((c) => c.id).sort(compareIds),
    minCapacityAh: Math.min(...capacities),
    spreadAh,
    spreadMilliohm,
    objectiveValue: input.objective === 'strongest' ? capacities.reduce((a, b) => a + b, 0) : spreadAh + lambda * spreadMilliohm,
    excluded,
    proven: true,
    shortfall: 0,
  });
}

/** Why limits keep a module out; empty where they do not. */
export function findReasons(module: PoolModule, limits: SelectLimits): ExclusionReason[] {
  const { capacityAh, resistanceMilliohm, restDropMillivolt } = module;
  const maxDrop = limits.maxRestDropMillivolt ?? null;
  // a rest drop is only missed where a limit on it is set
  if (capacityAh == null || resistanceMilliohm == null || (maxDrop !== null && restDropMillivolt == null)) return ['missing'];
  const reasons: ExclusionReason[] = [];
  if (limits.minCapacityAh != null && capacityAh < limits.minCapacityAh) reasons.push('minCapacityAh');
  if (limits.maxResistanceMilliohm != null && resistanceMilliohm > limits.maxResistanceMilliohm) reasons.push('maxResistanceMilliohm');
  if (maxDrop !== null && restDropMillivolt != null && restDropMillivolt > maxDrop) reasons.push('maxRestDropMillivolt');
  return reasons;
}

function takeStrongest(candidates: readonly Candidate[], count: number): Candidate[] {
  return [...candidates].sort((a, b) => b.ampereHour - a.ampereHour || a.milliohm - b.milliohm || compareIds(a.id, b.id)).slice(0, count);
}

function takeBalanced(candidates: readonly Candidate[], count: number, lambda: number): Candidate[] {
  const byCapacity = [...candidates].sort((a, b) => a.ampereHour - b.ampereHour || compareIds(a.id, b.id));
  let best = narrowestRun(byCapacity, count, lambda);
  for (let low = 0; low + count <= byCapacity.length; low++) {
    const lowest = byCapacity[low] as Candidate;
    const window: Candidate[] = [];
    for (let high = low; high < byCapacity.length; high++) {
      const next = byCapacity[high] as Candidate;
      const spreadAh = next.ampereHour - lowest.ampereHour;
      if (spreadAh >= best.value) break;
      const at = insertByResistance(window, next);
      if (window.length < count) continue;
      // only windows that hold the newcomer are new; the others were weighed with a smaller capacity spread
      for (let from = Math.max(0, at - count + 1); from <= at && from + count <= window.length; from++) {
        const spreadMilliohm = (window[from + count - 1] as Candidate).milliohm - (window[from] as Candidate).milliohm;
        const value = spreadAh + lambda * spreadMilliohm;
        if (value < best.value - 1e-12) best = { value, chosen: window.slice(from, from + count) };
      }
    }
  }
  return best.chosen;
}

/** A first answer: the best run of neighbours by capacity. */
function narrowestRun(byCapacity: readonly Candidate[], count: number, lambda: number): { value: number; chosen: Candidate[] } {
  let best = { value: Infinity, chosen: byCapacity.slice(0, count) };
  for (let from = 0; from + count <= byCapacity.length; from++) {
    const run = byCapacity.slice(from, from + count);
    let least = Infinity;
    let most = -Infinity;
    for (const { milliohm } of run) {
      least = Math.min(least, milliohm);
      most = Math.max(most, milliohm);
    }
    const value = (run[count - 1] as Candidate).ampereHour - (run[0] as Candidate).ampereHour + lambda * (most - least);
    if (value < best.value - 1e-12) best = { value, chosen: run };
  }
  return best;
}

/** Inserts into a list sorted by resistance, then id, and says where. */
function insertByResistance(sorted: Candidate[], item: Candidate): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const other = sorted[middle] as Candidate;
    if (other.milliohm < item.milliohm || (other.milliohm === item.milliohm && compareIds(other.id, item.id) < 0)) low = middle + 1;
    else high = middle;
  }
  sorted.splice(low, 0, item);
  return low;
}
