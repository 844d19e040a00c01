/** A Weibull distribution by maximum likelihood from units of which some failed and the others still ran (right-censored). */
import { answer, refuse, type Result } from '../result.ts';

export interface LifeUnit {
  /** At which it failed, or up to which it ran. */
  readonly month: number;
  readonly failed: boolean;
}

export interface Weibull {
  readonly shape: number;
  readonly scaleMonth: number;
  readonly logLikelihood: number;
}

const HALVINGS = 200;

/**
 * The shape solves sum(t^k ln t)/sum(t^k) - 1/k = mean of ln t of those that failed; the scale follows.
 * Refusals: `impossible` for a time below zero or a failure at zero, and fewer than two different failure times.
 */
export function fitWeibull(units: readonly LifeUnit[]): Result<Weibull> {
  for (const [i, { month, failed }] of units.entries())
    if (!(failed ? month > 0 : month >= 0))
      return refuse('impossible', `Unit ${i + 1}: ${failed ? 'a failure lies after month 0' : 'months cannot be below zero'}.`, ['units', i, 'month']); // prettier-ignore
  const failures = units.filter((u) => u.failed);
  if (new Set(failures.map((u) => u.month)).size < 2)
    return refuse('impossible', 'Two different failure times are the least that tell a shape.', ['units']);
  // in parts of the longest time, so that no power overflows
  const longest = Math.max(...units.map((u) => u.month));
  const logs = units.map((u) => Math.log(u.month / longest));
  const meanLog = failures.reduce((sum, u) => sum + Math.log(u.month / longest), 0) / failures.length;
  const power = (k: number, log: number): number => (log === -Infinity ? 0 : Math.exp(k * log));
  const sumOf = (k: number): number => logs.reduce((sum, log) => sum + power(k, log), 0);
  const excess = (k: number): number =>
    logs.reduce((sum, log) => sum + (log === -Infinity ? 0 : power(k, log) * log), 0) / sumOf(k) - 1 / k - meanLog;
  // rises from below zero to above it
  let [low, high] = [1e-6, 1];
  while (excess(high) < 0) high *= 2;
  for (let i = 0; i < HALVINGS && high - low > 0; i++) {
    const middle = (low + high) / 2;
    if (excess(middle) < 0) low = middle;
    else high = middle;
  }
  const shape = (low + high) / 2;
  const scaleMonth = longest * (sumOf(shape) / failures.length) ** (1 / shape);
  const logLikelihood =
    failures.reduce((sum, { month }) => sum + Math.log(shape / scaleMonth) + (shape - 1) * Math.log(month / scaleMonth), 0) -
    units.reduce((sum, { month }) => sum + (month / scaleMonth) ** shape, 0);
  return answer({ shape, scaleMonth, logLikelihood });
}
