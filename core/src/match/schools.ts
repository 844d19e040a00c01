/**
 * The schools of repair side by side, each as a whole stack: a matched set from the shelf, spot repair in place, spot repair with
 * everything re-ordered. Practitioners disagree on which is right, so all are computed and the shop chooses.
 */
import { refuse, answer, type Result } from '../result.ts';
import { median } from '../stats/robust.ts';
import { arrangeModules } from './arrange.ts';
import { heatOf, boundHeat } from './heat.ts';
import type { PoolModule, SearchContext } from './module.ts';
import { repairStack, type PlacedModule } from './repair.ts';
import { selectModules, type SelectLimits } from './select.ts';

export const STACK_SCHOOLS = ['matchedSet', 'spotRepair', 'spotRepairReordered'] as const;
export type StackSchool = (typeof STACK_SCHOOLS)[number];

export interface SchoolInput {
  readonly survivors: readonly PlacedModule[];
  readonly rejects: readonly PlacedModule[];
  readonly shelf: readonly PoolModule[];
  readonly blockSizes: readonly number[];
  readonly heatWeights: readonly number[];
  readonly limits?: SelectLimits | undefined;
  readonly objective?: 'strongest' | 'balanced' | undefined;
  /** Taken for survivors whose figures were not measured, where neither another survivor nor the shelf was measured. */
  readonly nominal: { readonly capacityAh: number; readonly resistanceMilliohm: number };
  readonly timeLimitMillisecond?: number | undefined;
}

export interface SchoolPlan {
  readonly school: StackSchool;
  /** Ids in place order; empty when the shelf cannot give enough. */
  readonly moduleIds: readonly string[];
  readonly fromShelf: readonly string[];
  readonly moved: readonly { readonly id: string; readonly from: number; readonly to: number }[];
  readonly blockMeanAh: readonly number[];
  readonly rangeAh: number | null;
  readonly lowerBoundAh: number | null;
  readonly proven: boolean;
  readonly heatCost: number | null;
  readonly heatLowerBound: number | null;
  readonly shortfall: number;
  readonly excluded: readonly { readonly id: string; readonly reasons: readonly string[] }[];
  /** Places of survivors whose capacity was not measured. */
  readonly assumedPlaces: readonly number[];
  readonly assumedCapacityAh: number | null;
}

/** One school's stack. Refusals: those of selection, repair and arrangement; `empty` when no module is left to match. */
export function planSchool(school: StackSchool, input: SchoolInput, context: SearchContext = {}): Result<SchoolPlan> {
  return school === 'matchedSet' ? planMatchedSet(input, context) : planRepair(school, input, context);
}

function planMatchedSet(input: SchoolInput, context: SearchContext): Result<SchoolPlan> {
  const count = input.blockSizes.reduce((a, b) => a + b, 0);
  const selected = selectModules({ pool: input.shelf, count, limits: input.limits, objective: input.objective ?? 'balanced' });
  if (selected.kind === 'refused') return selected;
  const { ids, shortfall, excluded } = selected.value;
  if (shortfall > 0) return answer({ ...emptyPlan('matchedSet', shortfall), excluded });
  const byId = new Map(input.shelf.map((m) => [m.id, m]));
  const modules = ids.map((id) => ({
    id,
    capacityAh: byId.get(id)?.capacityAh ?? 0,
    resistanceMilliohm: byId.get(id)?.resistanceMilliohm ?? 0,
  }));
  const { blockSizes, heatWeights, timeLimitMillisecond } = input;
  const arranged = arrangeModules({ modules, blockSizes, heatWeights, timeLimitMillisecond }, context);
  if (arranged.kind === 'refused') return arranged;
  const { blocks, ...figures } = arranged.value;
  const moduleIds = blocks.flat();
  return answer({
    ...emptyPlan('matchedSet', 0),
    ...figures,
    moduleIds,
    fromShelf: [...ids],
    excluded,
  });
}

function planRepair(school: 'spotRepair' | 'spotRepairReordered', input: SchoolInput, context: SearchContext): Result<SchoolPlan> {
  if (input.survivors.length === 0) return refuse('empty', 'No module of this pack is left to repair around.', ['survivors']);
  if (input.survivors.every((s) => s.capacityAh == null))
    return refuse(
      'empty',
      'The capacity of no module that stays was measured: there is nothing to match by. Measure it, or take a matched set.',
      ['survivors'],
    );
  const fallback = {
    capacityAh:
      middleOf(input.survivors.map((s) => s.capacityAh)) ?? middleOf(input.shelf.map((s) => s.capacityAh)) ?? input.nominal.capacityAh,
    resistanceMilliohm:
      middleOf(input.survivors.map((s) => s.resistanceMilliohm)) ??
      middleOf(input.shelf.map((s) => s.resistanceMilliohm)) ??
      input.nominal.resistanceMilliohm,
  };
  const { survivors, rejects, shelf, blockSizes, heatWeights, limits, timeLimitMillisecond } = input;
  const reorder = school === 'spotRepairReordered';
  const repaired = repairStack(
    { survivors, rejects, shelf, blockSizes, heatWeights, limits, reorder, timeLimitMillisecond, fallback },
    context,
  );
  if (repaired.kind === 'refused') return repaired;
  const { blocks, replacements, shortfall, ...figures } = repaired.value;
  if (shortfall > 0) return answer({ ...emptyPlan(school, shortfall), excluded: figures.excluded });
  const moduleIds = blocks.flat();
  const milliohmOf = new Map([...survivors, ...shelf].map((m) => [m.id, m.resistanceMilliohm ?? fallback.resistanceMilliohm]));
  const resistances = moduleIds.map((id) => milliohmOf.get(id) ?? 0);
  const assumedPlaces = survivors.filter((s) => s.capacityAh == null).map((s) => s.place);
  return answer({
    ...emptyPlan(school, 0),
    ...figures,
    moduleIds,
    fromShelf: replacements.map((r) => r.id),
    heatCost: heatOf([resistances.map((_, i) => i)], { weights: heatWeights, resistances }),
    heatLowerBound: boundHeat(heatWeights, resistances),
    assumedPlaces,
    assumedCapacityAh: assumedPlaces.length > 0 ? fallback.capacityAh : null,
  });
}

function middleOf(values: readonly (number | null | undefined)[]): number | null {
  const known = values.filter((v): v is number => typeof v === 'number');
  return known.length > 0 ? median(known) : null;
}

function emptyPlan(school: StackSchool, shortfall: number): SchoolPlan {
  return {
    school,
    moduleIds: [],
    fromShelf: [],
    moved: [],
    blockMeanAh: [],
    rangeAh: null,
    lowerBoundAh: null,
    proven: false,
    heatCost: null,
    heatLowerBound: null,
    shortfall,
    excluded: [],
    assumedPlaces: [],
    assumedCapacityAh: null,
  };
}
