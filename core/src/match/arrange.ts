/**
 * Arranging modules into the blocks of a pack: first the least range of block means (or like with like), then the least heat
 * among all arrangements within 1e-9 Ah of that range. Every answer says whether it is proven and what its lower bounds are.
 */
import { answer, refuse, type Result } from '../result.ts';
import { partitionAlike } from './alike.ts';
import { boundHeat, coolBlocks, placeBlocks } from './heat.ts';
import type { ArrangeModule, SearchContext } from './module.ts';
import { blockMeans, partitionEvenly, rangeOfBlocks } from './partition.ts';

export interface ArrangeInput {
  /** Exactly as many as the blocks hold. */
  readonly modules: readonly ArrangeModule[];
  /** Module counts of the blocks in position order. */
  readonly blockSizes: readonly number[];
  /** How hot each position runs; all alike when left out. */
  readonly heatWeights?: readonly number[] | undefined;
  readonly pairing?: 'even' | 'alike' | undefined;
  readonly timeLimitMillisecond?: number | undefined;
}

export interface Arrangement {
  /** Module ids, one list a block, in position order. */
  readonly blocks: readonly (readonly string[])[];
  readonly blockMeanAh: readonly number[];
  /** Greatest less least block mean. */
  readonly rangeAh: number;
  readonly lowerBoundAh: number;
  readonly proven: boolean;
  /** Sum of heat weight x resistance over the positions, milliohm. */
  readonly heatCost: number;
  readonly heatLowerBound: number;
  /** Only for `alike`: the sum of within-block ranges and its lower bound, Ah. */
  readonly alikeCostAh?: number;
  readonly alikeLowerBoundAh?: number;
}

export const MAXIMUM_ARRANGED = 128;
export const DEFAULT_TIME_LIMIT_MILLISECOND = 5000;

/** See the file's head. Refusals: `empty`, `tooLarge`, `mismatch`, `impossible` (a block size under 1), `cancelled`. */
export function arrangeModules(input: ArrangeInput, context: SearchContext = {}): Result<Arrangement> {
  const refusal = checkInput(input);
  if (refusal) return refusal;
  const { modules, blockSizes: sizes } = input;
  const capacities = modules.map((m) => m.capacityAh);
  const heat = {
    capacities,
    resistances: modules.map((m) => m.resistanceMilliohm),
    weights: input.heatWeights ?? modules.map(() => 1),
    sizes,
  };
  const heatLowerBound = boundHeat(heat.weights, heat.resistances);
  const alike = input.pairing === 'alike' ? partitionAlike(capacities, sizes) : null;
  if (input.pairing === 'alike' && !alike)
    return refuse('tooLarge', 'The block sizes are too varied to pair like with like.', ['blockSizes']);
  if (alike) {
    const plan = placeBlocks(alike.blocks, heat);
    const rangeAh = rangeOfBlocks(capacities, plan.blocks);
    return answer({
      ...describe(modules, plan.blocks),
      ...{ rangeAh, lowerBoundAh: rangeAh, proven: true, heatCost: plan.cost, heatLowerBound },
      ...{ alikeCostAh: alike.cost, alikeLowerBoundAh: alike.cost },
    });
  }
  const partition = partitionEvenly(capacities, sizes, input.timeLimitMillisecond ?? DEFAULT_TIME_LIMIT_MILLISECOND, context);
  if (context.isCancelled?.()) return refuse('cancelled', 'The arrangement was stopped before it was done.');
  const plan = coolBlocks(partition.blocks, heat);
  return answer({
    ...describe(modules, plan.blocks),
    rangeAh: rangeOfBlocks(capacities, plan.blocks),
    lowerBoundAh: partition.lowerBound,
    proven: partition.proven,
    heatCost: plan.cost,
    heatLowerBound,
  });
}

function describe(modules: readonly ArrangeModule[], blocks: readonly (readonly number[])[]) {
  return {
    blocks: blocks.map((b) => b.map((i) => (modules[i] as ArrangeModule).id)),
    blockMeanAh: blockMeans(
      modules.map((m) => m.capacityAh),
      blocks,
    ),
  };
}

function checkInput(input: ArrangeInput): ReturnType<typeof refuse> | null {
  const { modules, blockSizes, heatWeights } = input;
  if (modules.length === 0) return refuse('empty', 'There is no module to arrange.', ['modules']);
  if (modules.length > MAXIMUM_ARRANGED)
    return refuse('tooLarge', `${modules.length} modules are more than the ${MAXIMUM_ARRANGED} that are arranged at once.`, ['modules']);
  const odd = blockSizes.findIndex((s) => !Number.isInteger(s) || s < 1);
  if (odd >= 0) return refuse('impossible', `A block cannot hold ${blockSizes[odd]} modules.`, ['blockSizes', odd]);
  const held = blockSizes.reduce((a, b) => a + b, 0);
  if (held !== modules.length) return refuse('mismatch', `The blocks hold ${held} modules, ${modules.length} were given.`, ['blockSizes']);
  if (heatWeights && heatWeights.length !== modules.length)
    return refuse('mismatch', `${heatWeights.length} heat weights do not fit ${modules.length} positions.`, ['heatWeights']);
  const ids = new Set<string>();
  for (const [i, { id }] of modules.entries()) {
    if (ids.has(id)) return refuse('mismatch', `Module "${id}" stands twice.`, ['modules', i, 'id']);
    ids.add(id);
  }
  return null;
}
