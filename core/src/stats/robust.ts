/**
 * Robust statistics of a crowd of readings: median, MAD and the modified z-score.
 * Source: B. Iglewicz and D. C. Hoaglin, How to Detect and Handle Outliers, ASQC 1993; the fallback to the mean
 * absolute deviation (factor 1.253314 = sqrt(pi/2)) where the MAD is zero follows the same work (from memory).
 */
import { answer, refuse, type Result } from '../result.ts';

/** MAD of a normal distribution in standard deviations. */
export const MAD_PER_SIGMA = 0.6745;
/** Standard deviations in one mean absolute deviation of a normal distribution, sqrt(pi/2). */
export const SIGMA_PER_MEAN_DEVIATION = 1.253314;
/** Taken where an instrument's resolution is unknown, in the unit of the values (10 microvolt for volts). */
export const UNKNOWN_RESOLUTION = 1e-5;

/** Middle value; the mean of the two middle ones for an even count. NaN is a broken precondition: never pass []. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  const upper = sorted[middle];
  if (upper === undefined) throw new RangeError('median of no values');
  return sorted.length % 2 === 1 ? upper : ((sorted[middle - 1] as number) + upper) / 2;
}

export interface Crowd {
  readonly median: number;
  /** Median absolute deviation from the median, in the unit of the values. */
  readonly mad: number;
  /** What one unit of modified z is worth, in the unit of the values; 0 when all values are the same. */
  readonly scale: number;
}

/**
 * Median and scale of a crowd. The scale is the larger of MAD / 0.6745 and the resolution; when the MAD is zero within
 * rounding and no resolution is given it is 1.253314 x the mean absolute deviation. Needs at least one value.
 */
export function describeCrowd(values: readonly number[], resolution?: number): Crowd {
  const middle = median(values);
  const deviations = values.map((v) => Math.abs(v - middle));
  const rounding = 1e-12 * Math.max(1, Math.abs(middle));
  const rawMad = median(deviations);
  const mad = rawMad <= rounding ? 0 : rawMad;
  const meanDeviation = deviations.reduce((sum, d) => sum + d, 0) / deviations.length;
  const spread = mad > 0 ? mad / MAD_PER_SIGMA : meanDeviation <= rounding ? 0 : meanDeviation * SIGMA_PER_MEAN_DEVIATION;
  const scale = resolution === undefined ? spread : Math.max(mad / MAD_PER_SIGMA, resolution);
  return { median: middle, mad, scale };
}

export interface CrowdItem {
  readonly id: string;
  readonly value: number;
  readonly modifiedZ: number;
  readonly outlier: boolean;
}

export interface Outliers extends Crowd {
  readonly items: readonly CrowdItem[];
}

/**
 * The modified z-score of each value, z = (x - median) / scale, and whether |z| exceeds the cut-off (3.5 by default).
 * One or two values have z 0: two readings cannot say which of them is wrong. Refusal: `empty`.
 */
export function findOutliers(
  values: readonly { readonly id: string; readonly value: number }[],
  cutoff = 3.5,
  resolution?: number,
): Result<Outliers> {
  if (values.length === 0) return refuse('empty', 'Outliers need at least one value.', ['values']);
  const crowd = describeCrowd(
    values.map((v) => v.value),
    resolution,
  );
  const judged = values.length > 2 && crowd.scale > 0;
  const items = values.map(({ id, value }) => {
    const modifiedZ = judged ? (value - crowd.median) / crowd.scale : 0;
    return { id, value, modifiedZ, outlier: Math.abs(modifiedZ) > cutoff };
  });
  return answer({ ...crowd, items });
}
