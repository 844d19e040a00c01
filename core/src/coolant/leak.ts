/** Whether an empty loop of coolant holds its pressure: a straight line through the readings, and what it loses over the time asked for. */
import { answer, refuse, type Result } from '../result.ts';

export interface LeakInput {
  readonly readings: readonly { readonly minute: number; readonly kilopascal: number }[];
  /** Most that may be lost over the time, kPa. */
  readonly mostLostKilopascal: number;
  readonly testMinute: number;
}

/** `tight` and `leaking` only where the whole band of the fit says so; `unclear` where it does not; `settling` while it falls ever slower. */
export type LeakVerdict = 'tight' | 'leaking' | 'settling' | 'unclear';

export interface Leak {
  readonly kilopascalPerMinute: number;
  /** Lost over the time asked for, by the fit, with half the width of its 95 % band. */
  readonly lostKilopascal: number;
  readonly bandKilopascal: number;
  readonly verdict: LeakVerdict;
}

const FEWEST = 4;
/** Share of the time asked for that must have been watched. */
const LEAST_SHARE = 0.9;
/** Two-sided 95 % points of Student's t for 2 to 10 degrees of freedom (handbook table); beyond, 2.2 is kept. */
const STUDENT = [4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228] as const;
/** The second half falls less than this share of the first: air that cools, not a leak. */
const SETTLING_SHARE = 0.4;

/** Refusals: `empty` below four readings, `impossible` for times that do not rise or a pressure below zero, `mismatch` where it was watched too short. */
export function fitLeak({ readings, mostLostKilopascal, testMinute }: LeakInput): Result<Leak> {
  if (readings.length < FEWEST) return refuse('empty', `At least ${FEWEST} readings, ${readings.length} came.`, ['readings']);
  for (const [i, { minute, kilopascal }] of readings.entries()) {
    if (!(kilopascal >= 0)) return refuse('impossible', `Reading ${i + 1}: ${kilopascal} kPa cannot be.`, ['readings', i, 'kilopascal']);
    const before = readings[i - 1];
    if (!Number.isFinite(minute) || (before && minute <= before.minute))
      return refuse('impossible', `Reading ${i + 1}: ${minute} min is not after the one before.`, ['readings', i, 'minute']);
  }
  const [first, last] = [readings[0]?.minute ?? 0, readings.at(-1)?.minute ?? 0];
  if (last - first < LEAST_SHARE * testMinute)
    return refuse('mismatch', `${(last - first).toFixed(1)} min were watched, ${testMinute} are asked for.`, ['readings']);
  const { slope, error } = fitLine(readings);
  const lost = -slope * testMinute;
  const band = (STUDENT[readings.length - 4] ?? 2.2) * error * testMinute;
  const middle = (first + last) / 2;
  const early = fitLine(readings.filter((r) => r.minute <= middle)).slope;
  const late = fitLine(readings.filter((r) => r.minute >= middle)).slope;
  const isSettling = lost > mostLostKilopascal && early < 0 && late > SETTLING_SHARE * early;
  const verdict: LeakVerdict =
    lost + band <= mostLostKilopascal ? 'tight' : isSettling ? 'settling' : lost - band > mostLostKilopascal ? 'leaking' : 'unclear';
  return answer({ kilopascalPerMinute: slope, lostKilopascal: lost, bandKilopascal: band, verdict });
}

/** Least squares; the error is that of the slope. */
function fitLine(points: LeakInput['readings']): { readonly slope: number; readonly error: number } {
  const n = points.length;
  const meanX = points.reduce((s, p) => s + p.minute, 0) / n;
  const meanY = points.reduce((s, p) => s + p.kilopascal, 0) / n;
  const xx = points.reduce((s, p) => s + (p.minute - meanX) ** 2, 0);
  if (n < 2 || xx === 0) return { slope: 0, error: 0 };
  const slope = points.reduce((s, p) => s + (p.minute - meanX) * (p.kilopascal - meanY), 0) / xx;
  const rest = points.reduce((s, p) => s + (p.kilopascal - meanY - slope * (p.minute - meanX)) ** 2, 0);
  return { slope, error: n > 2 ? Math.sqrt(rest / (n - 2) / xx) : 0 };
}
