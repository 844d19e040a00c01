/**
 * Whether a run of modules reads what its modules sum to, and if not, what explains it best. The plug is not put in for it: each half
 * between its own ends.
 */

export interface HalfInput {
  /** Of each module in the run, as it was read before; string order. */
  readonly volts: readonly number[];
  /** Place of the first of them. */
  readonly from: number;
  readonly measuredVolt: number;
  /** Of the meter's reading; a common handheld: half a percent. */
  readonly accuracyPercent?: number | undefined;
}

export interface Half {
  readonly sumVolt: number;
  /** Measured less summed. */
  readonly differenceVolt: number;
  readonly allowedVolt: number;
  readonly agrees: boolean;
  /** What would make it, as a sentence; null where it agrees. */
  readonly sentence: string | null;
}

const ACCURACY_PERCENT = 0.5;
/** Modules settle between their reading and this one: so much each, volt; common practice, no source. */
const SETTLING_VOLT = 0.01;

/** @example judgeHalf({ volts: Array(14).fill(7.8), from: 1, measuredVolt: 109.2 }).agrees // true */
export function judgeHalf({ volts, from, measuredVolt, accuracyPercent = ACCURACY_PERCENT }: HalfInput): Half {
  const sumVolt = volts.reduce((sum, v) => sum + v, 0);
  const differenceVolt = Math.abs(measuredVolt) - sumVolt;
  // both readings come from meters of this accuracy, often from the same one
  const allowedVolt = (2 * accuracyPercent * sumVolt) / 100 + SETTLING_VOLT * volts.length;
  const agrees = Math.abs(differenceVolt) <= allowedVolt;
  return {
    sumVolt,
    differenceVolt,
    allowedVolt,
    agrees,
    sentence: agrees ? null : explain(measuredVolt, sumVolt, allowedVolt, { volts, from }),
  };
}

function explain(measured: number, sum: number, allowed: number, { volts, from }: Pick<HalfInput, 'volts' | 'from'>): string {
  const missing = sum - Math.abs(measured);
  const last = from + volts.length - 1;
  if (Math.abs(measured) <= allowed) return `Nothing comes through from ${from} to ${last}: a bar, an eyelet or a nut is missing.`;
  // which counts of modules turned or left out come to what is missing
  const mean = sum / volts.length;
  for (let count = 1; count < volts.length / 2; count++) {
    const near = (each: number): boolean => Math.abs(missing - count * each) <= allowed;
    const [one, more] = [count === 1 ? 'A module' : `${count} modules`, count === 1 ? 'is' : 'are'];
    if (near(2 * mean)) return `${one} of ${from} to ${last} ${more} turned: two modules' voltage is missing for each.`;
    if (near(mean))
      return `${one} of ${from} to ${last} ${more} left out: a bar spans ${count === 1 ? 'it' : 'them'}, or the ends were taken one too early.`;
  }
  return missing > 0
    ? 'It is less than the sum and no whole module: measure on from one end, post by post, to where it goes wrong.'
    : 'It is more than the sum: were the modules charged since, or does a source hang on?';
}
