/** DC internal resistance from two loads. Method: IEC 61951-2 (measurement of the internal d.c. resistance); cited from memory. */
import { answer, refuse, type Result } from '../result.ts';

/** A load point: discharge current in ampere (positive) and the voltage read under it. */
export interface LoadPoint {
  readonly ampere: number;
  readonly volt: number;
}

/**
 * R = (U1 - U2) / (I2 - I1), in milliohm. Refusal: `impossible` for equal currents.
 * @example findResistance({ ampere: 0.5, volt: 7.9 }, { ampere: 10.5, volt: 7.65 }) // 25 milliohm
 */
export function findResistance(first: LoadPoint, second: LoadPoint): Result<number> {
  const step = second.ampere - first.ampere;
  if (step === 0) {
    return refuse('impossible', `Both readings were taken at ${first.ampere} A. Resistance needs two different currents.`, [
      'second',
      'ampere',
    ]);
  }
  return answer((1000 * (first.volt - second.volt)) / step);
}
