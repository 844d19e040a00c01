/** In which order to look for a cause: what is likely and cheap first. */
import { answer, refuse, type Result } from '../result.ts';

export interface Check {
  readonly id: string;
  /** That this is it, 0 to 1. */
  readonly probability: number;
  /** Of looking: minutes or money, above zero or zero. */
  readonly cost: number;
}

export const CAUSES = ['one', 'several'] as const;
/** Exactly one or none of them; or each by itself, and all are checked. */
export type Causes = (typeof CAUSES)[number];

export interface Triage {
  readonly order: readonly string[];
  readonly expectedCost: number;
  /** Only where there may be several. */
  readonly expectedCostToFirst?: number;
}

/** Ratios closer than this are the same: a third of three is a tenth of one. */
const SAME = 1e-12;

/**
 * By probability for its cost, ties by id. Refusals: `mismatch` for an id that stands twice, `impossible` for a probability outside 0 to
 * 1, a cost below zero, and probabilities of one cause that add to more than 1.
 */
export function orderChecks(checks: readonly Check[], causes: Causes = 'one'): Result<Triage> {
  const seen = new Set<string>();
  for (const [i, { id, probability, cost }] of checks.entries()) {
    if (seen.has(id)) return refuse('mismatch', `"${id}" stands twice.`, ['checks', i, 'id']);
    seen.add(id);
    if (!(probability >= 0 && probability <= 1))
      return refuse('impossible', `A probability from 0 to 1, ${probability} came.`, ['checks', i, 'probability']);
    if (!(cost >= 0 && Number.isFinite(cost))) return refuse('impossible', `A cost cannot be ${cost}.`, ['checks', i, 'cost']);
  }
  const total = checks.reduce((sum, c) => sum + c.probability, 0);
  if (causes === 'one' && total > 1 + 1e-9)
    return refuse('impossible', `Of one cause the probabilities add to at most 1, these to ${total.toFixed(4)}.`, ['checks']);
  const ordered = [...checks].sort((a, b) => compare(a, b) || (a.id < b.id ? -1 : 1));
  const order = ordered.map((c) => c.id);
  let [left, none, expected, toFirst] = [1, 1, 0, 0];
  for (const { probability, cost } of ordered) {
    expected += cost * Math.max(0, left);
    toFirst += cost * none;
    left -= probability;
    none *= 1 - probability;
  }
  if (causes === 'one') return answer({ order, expectedCost: expected });
  return answer({ order, expectedCost: checks.reduce((sum, c) => sum + c.cost, 0), expectedCostToFirst: toFirst });
}

/** What costs nothing and may be it comes first, what cannot be it last. */
function compare(a: Check, b: Check): number {
  const [mine, other] = [a, b].map(({ probability, cost }) => (probability === 0 ? 0 : cost === 0 ? Infinity : probability / cost)) as [number, number]; // prettier-ignore
  const isSame = mine === other || (Number.isFinite(mine + other) && Math.abs(mine - other) <= SAME * Math.max(mine, other));
  return isSame ? 0 : mine > other ? -1 : 1;
}
