/** What a fan moves through a path that is partly shut: a straight fan curve against a path that resists by the square of the flow. */
import { answer, refuse, type Result } from '../result.ts';

export interface AirflowInput {
  /** Through the clean path. */
  readonly airflowCubicMetrePerHour: number;
  /** Share of the path that is shut, 0 to below 1. */
  readonly blockedShare: number;
  /** What the fan moves against nothing; twice the clean airflow where left out. */
  readonly freeFlowCubicMetrePerHour?: number | undefined;
}

/**
 * dp0 (1 - Q/Q0) = k Q² / (1 - blocked)², k from the clean point.
 * Refusals: `impossible` for an airflow not above zero, a share outside 0 to below 1, a free flow that is not above the clean one.
 * @example findAirflow({ airflowCubicMetrePerHour: 100, blockedShare: 0.5 }).value // 59.3
 */
export function findAirflow({ airflowCubicMetrePerHour: clean, blockedShare, freeFlowCubicMetrePerHour }: AirflowInput): Result<number> {
  if (!(clean > 0)) return refuse('impossible', `The clean airflow must be above zero, ${clean} came.`, ['airflowCubicMetrePerHour']);
  if (!(blockedShare >= 0 && blockedShare < 1))
    return refuse('impossible', `A share from 0 to below 1, ${blockedShare} came.`, ['blockedShare']);
  const free = freeFlowCubicMetrePerHour ?? 2 * clean;
  if (!(free > clean))
    return refuse('impossible', `The free flow must be above the clean airflow of ${clean} m³/h.`, ['freeFlowCubicMetrePerHour']);
  // in parts x of the clean flow: (1 - 1/f) x² / (1 - b)² + x / f = 1
  const f = free / clean;
  const a = (1 - 1 / f) / (1 - blockedShare) ** 2;
  const b = 1 / f;
  // the root as it stays exact where the path is nearly shut
  return answer((2 * clean) / (b + Math.sqrt(b * b + 4 * a)));
}
