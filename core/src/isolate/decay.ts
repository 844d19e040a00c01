/** Whether timed readings at the posts are a capacitor that drains: least squares of ln V over time. Never by itself a proof. */
import { answer, refuse, type Result } from '../result.ts';

export interface TimedReading {
  readonly second: number;
  readonly volt: number;
}

/**
 * `dead`: the last reading is at or below the limit. `draining`: the readings fell along one exponential. `steady`: they did not,
 * so that something feeds the posts. `unknown`: too few readings to say.
 */
export type DecayVerdict = 'dead' | 'draining' | 'steady' | 'unknown';

export interface Decay {
  /** Null where the readings do not fall. */
  readonly tauSecond: number | null;
  /** Fitted voltage at second 0. */
  readonly startVolt: number | null;
  /** Of ln V against time; null where the fit says nothing. */
  readonly rSquared: number | null;
  /** From the last reading on; 0 when it is dead, null when the limit will not come. */
  readonly secondsToLimit: number | null;
  readonly verdict: DecayVerdict;
}

/** What a meter without a stated resolution is taken to show: a tenth of a volt on its HV range. Common practice, no source. */
export const DEFAULT_RESOLUTION_VOLT = 0.1;
const FEWEST_POINTS = 3;
/** Below this share of variance explained the readings are not one exponential. */
const LEAST_R_SQUARED = 0.95;
const FALL_IN_RESOLUTIONS = 3;

/**
 * @param readings in the order of time; magnitudes count, since the leads may lie the other way round
 * Refusals: `empty` without a reading, `impossible` for a limit not above zero or times that do not rise.
 */
export function fitDecay(readings: readonly TimedReading[], limitVolt: number, resolutionVolt = DEFAULT_RESOLUTION_VOLT): Result<Decay> {
  const first = readings[0];
  const last = readings[readings.length - 1];
  if (!first || !last) return refuse('empty', 'No reading was given.', ['readings']);
  if (!(limitVolt > 0)) return refuse('impossible', `The limit must be above 0 V, ${limitVolt} came.`, ['limitVolt']);
  if (!(resolutionVolt > 0)) return refuse('impossible', 'The resolution must be above 0 V.', ['resolutionVolt']);
  for (const [i, { second }] of readings.entries()) {
    const before = readings[i - 1];
    if (before && second <= before.second)
      return refuse('impossible', `The time of reading ${i + 1} (${second} s) is not after the one before.`, ['readings', i, 'second']);
  }
  const lastVolt = Math.abs(last.volt);
  const line = fitLine(readings.filter((r) => Math.abs(r.volt) > 0).map((r) => ({ x: r.second, y: Math.log(Math.abs(r.volt)) })));
  const falls = line !== null && line.slope < 0;
  const fit = {
    tauSecond: falls ? -1 / line.slope : null,
    startVolt: line ? Math.exp(line.atZero) : null,
    rSquared: line?.rSquared ?? null,
  };
  if (lastVolt <= limitVolt) return answer({ ...fit, secondsToLimit: 0, verdict: 'dead' });
  if (!line) return answer({ ...fit, secondsToLimit: null, verdict: 'unknown' });
  const fell = Math.abs(first.volt) - lastVolt;
  const isDraining = falls && line.rSquared >= LEAST_R_SQUARED && fell > FALL_IN_RESOLUTIONS * resolutionVolt;
  if (!isDraining || fit.tauSecond === null) return answer({ ...fit, secondsToLimit: null, verdict: 'steady' });
  return answer({ ...fit, secondsToLimit: fit.tauSecond * Math.log(lastVolt / limitVolt), verdict: 'draining' });
}

interface Line {
  readonly slope: number;
  readonly atZero: number;
  readonly rSquared: number;
}

function fitLine(points: readonly { x: number; y: number }[]): Line | null {
  if (points.length < FEWEST_POINTS) return null;
  const meanX = points.reduce((sum, p) => sum + p.x, 0) / points.length;
  const meanY = points.reduce((sum, p) => sum + p.y, 0) / points.length;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  for (const { x, y } of points) {
    xx += (x - meanX) ** 2;
    xy += (x - meanX) * (y - meanY);
    yy += (y - meanY) ** 2;
  }
  const slope = xy / xx;
  // readings that do not move at all are explained by nothing
  return { slope, atZero: meanY - slope * meanX, rSquared: yy > 1e-18 ? (xy * xy) / (xx * yy) : 0 };
}
