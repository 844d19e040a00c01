/**
 * The proof that no arrangement of a plan's modules lies closer together: computed in the worker pool before the job is locked, on what
 * is known of the modules then. Where they are measured anew meanwhile, nothing is proven.
 */
import { planCapacities, capacityOf, moduleIdsOf, type ActBody, type Result } from '@estuarine/core';
import type pg from 'pg';
import { findCapacities } from '../stock/store.ts';
import type { Calculators } from '../reckon/calculators.ts';
import type { FoldedJob } from './job-states.ts';

/** The lower bound of the range for these capacities in place order, Ah; null where none was proven for them. */
export type ProvenRange = (capacitiesAh: readonly number[]) => number | null;
export type PlanProver = (jobId: string, plan: ActBody<'plan.chosen'>) => Promise<ProvenRange>;

export const noProof: ProvenRange = () => null;

/** A choice waits no longer than this for its proof. */
const LIMIT_MILLISECOND = 2000;

export interface ProverOptions {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly findJob: (jobId: string) => Promise<FoldedJob | null>;
  readonly calculators: Calculators;
}

export function createProver({ pool, shopId, findJob, calculators }: ProverOptions): PlanProver {
  return async (jobId, plan) => {
    const job = plan.school === 'exchangePack' ? null : await findJob(jobId);
    if (!job) return noProof;
    const shelf = await findCapacities(pool, shopId, plan.fromShelf);
    const capacities = planCapacities(
      plan.moduleIds,
      plan.fromShelf,
      { shelfCapacityAh: (id) => shelf.get(id) ?? null },
      { capacityAh: (id) => capacityOf(job.state.sweep, id) },
    );
    if (capacities.length !== job.profile.moduleCount || capacities.some((c) => c === null)) return noProof;
    const known = capacities as number[];
    const [name, input] = askFor(plan, known, job);
    const found = await calculators.run(name, input).catch((): Result<unknown> | null => null);
    if (found?.kind !== 'answer') return noProof;
    const { lowerBoundAh } = found.value as { readonly lowerBoundAh: number };
    return (asked) => (asked.length === known.length && asked.every((c, i) => c === known[i]) ? lowerBoundAh : null);
  };
}

/** Which calculation bounds the school's range: modules in their places and the gaps filled, or everything arranged anew. */
function askFor(plan: ActBody<'plan.chosen'>, capacities: readonly number[], { state, profile }: FoldedJob): [string, object] {
  const { blocks: blockSizes } = profile;
  const modules = plan.moduleIds.map((id, i) => ({ id, capacityAh: capacities[i] ?? 0, resistanceMilliohm: 1 }));
  const timeLimitMillisecond = LIMIT_MILLISECOND;
  const isShelf = new Set(plan.fromShelf);
  const mine = moduleIdsOf(state);
  const stays = plan.moduleIds.every((id, i) => isShelf.has(id) || mine[i] === id);
  if (plan.school !== 'spotRepair' || !stays) return ['match.arrange', { modules, blockSizes, timeLimitMillisecond }];
  const placed = modules.map((m, i) => ({ ...m, place: i + 1 }));
  return [
    'match.repair',
    {
      survivors: placed.filter((m) => !isShelf.has(m.id)),
      rejects: placed.filter((m) => isShelf.has(m.id)).map(({ place }) => ({ id: `gap-${place}`, place })),
      shelf: modules.filter((m) => isShelf.has(m.id)),
      ...{ blockSizes, timeLimitMillisecond },
    },
  ];
}
