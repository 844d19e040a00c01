/** Which module of a shelf stands nearest to one that cannot be taken any more. */
import { describeCrowd } from '../stats/robust.ts';
import { compareIds, type PoolModule } from './module.ts';

const FIGURES = ['capacityAh', 'resistanceMilliohm', 'ocvVolt'] as const;

export interface Instead {
  readonly id: string;
  /** Sum of absolute differences over the robust scale of the shelf; 0 is the same in every figure that both have. */
  readonly distance: number;
  /** Figures that were compared. */
  readonly by: readonly (typeof FIGURES)[number][];
}

/**
 * The nearest by capacity, resistance and voltage, by the figures that the lost one has; a module that lacks one of them is no candidate.
 * Null where the shelf gives none. Ties by id.
 */
export function findInstead(lost: PoolModule, shelf: readonly PoolModule[]): Instead | null {
  const by = FIGURES.filter((f) => typeof lost[f] === 'number');
  const able = shelf.filter((m) => m.id !== lost.id && by.every((f) => typeof m[f] === 'number'));
  if (able.length === 0) return null;
  const scales = by.map((f) => describeCrowd(able.map((m) => m[f] ?? 0)).scale || 1);
  const distanceOf = (m: PoolModule): number =>
    by.reduce((sum, f, i) => sum + Math.abs((m[f] ?? 0) - (lost[f] ?? 0)) / (scales[i] ?? 1), 0);
  const [best] = able
    .map((m) => ({ id: m.id, distance: distanceOf(m), by }))
    .sort((a, b) => a.distance - b.distance || compareIds(a.id, b.id));
  return best ?? null;
}
