/** Capacity of a discharge to a cut-off voltage. Method: IEC 61951-2 (discharge to 1.0 V a cell); cited from memory. */
import { answer, refuse, type Result } from '../result.ts';

/** [second, ampere (discharge positive), volt] */
export type Sample = readonly [number, number, number];

export interface Capacity {
  readonly ampereHour: number;
  /** Trapezoid of the product of current and voltage. */
  readonly wattHour: number;
  readonly seconds: number;
  readonly reachedCutoff: boolean;
}

const SECONDS_PER_HOUR = 3600;

/**
 * Integrates by trapezoid until the voltage first falls to the cut-off; the last step is interpolated linearly at the
 * cut-off. Times must rise strictly. A first sample at or below the cut-off gives 0 Ah, reached. Charge (negative current)
 * subtracts. Refusals: `empty` under one sample, `impossible` for times that do not rise.
 */
export function integrateCapacity(samples: readonly Sample[], cutoffVolt: number): Result<Capacity> {
  const first = samples[0];
  if (first === undefined) return refuse('empty', 'A discharge needs at least one sample.', ['samples']);
  for (let i = 1; i < samples.length; i++) {
    const [now] = samples[i] as Sample;
    const [before] = samples[i - 1] as Sample;
    if (!(now > before)) {
      return refuse('impossible', `Sample ${i + 1} is at ${now} s, not later than the one before it (${before} s).`, ['samples', i, 0]);
    }
  }
  if (first[2] <= cutoffVolt) return answer({ ampereHour: 0, wattHour: 0, seconds: 0, reachedCutoff: true });

  let ampereSecond = 0;
  let wattSecond = 0;
  for (let i = 1; i < samples.length; i++) {
    const from = samples[i - 1] as Sample;
    const to = samples[i] as Sample;
    const isLast = to[2] <= cutoffVolt;
    const end = isLast ? cutAt(from, to, cutoffVolt) : to;
    const step = end[0] - from[0];
    ampereSecond += ((from[1] + end[1]) / 2) * step;
    wattSecond += ((from[1] * from[2] + end[1] * end[2]) / 2) * step;
    if (isLast) return answer(finish(ampereSecond, wattSecond, end[0] - first[0], true));
  }
  const last = samples[samples.length - 1] as Sample;
  return answer(finish(ampereSecond, wattSecond, last[0] - first[0], false));
}

function cutAt(from: Sample, to: Sample, cutoffVolt: number): Sample {
  const share = (from[2] - cutoffVolt) / (from[2] - to[2]);
  return [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1]), cutoffVolt];
}

function finish(ampereSecond: number, wattSecond: number, seconds: number, reachedCutoff: boolean): Capacity {
  return { ampereHour: ampereSecond / SECONDS_PER_HOUR, wattHour: wattSecond / SECONDS_PER_HOUR, seconds, reachedCutoff };
}
