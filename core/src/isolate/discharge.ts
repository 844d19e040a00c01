/** How long a capacitor takes to drain through a resistance: V(t) = V0 exp(-t / RC). Any textbook of electrical engineering. */
import { answer, refuse, type Result } from '../result.ts';

export interface DischargeInput {
  readonly capacitanceMicrofarad: number;
  readonly resistanceOhm: number;
  readonly startVolt: number;
  readonly limitVolt: number;
}

export interface Discharge {
  readonly tauSecond: number;
  /** 0 where the start is at or below the limit. */
  readonly secondsToLimit: number;
  readonly startJoule: number;
  readonly limitJoule: number;
}

/**
 * @returns time constant R C in seconds, time to the limit, and the energy C V²/2 held at the start and at the limit in joule
 * Refusals: `impossible` for a value that is not above zero; an exponential never reaches 0 V.
 * @example findDischarge({ capacitanceMicrofarad: 1000, resistanceOhm: 100_000, startVolt: 200, limitVolt: 60 }) // 120.4 s
 */
export function findDischarge(input: DischargeInput): Result<Discharge> {
  for (const [name, value] of Object.entries(input))
    if (!(value > 0) || !Number.isFinite(value))
      return refuse('impossible', `${name} must be above zero, ${value} came. A capacitor never drains to 0 V in a finite time.`, [name]);
  const farad = input.capacitanceMicrofarad * 1e-6;
  const tauSecond = farad * input.resistanceOhm;
  return answer({
    tauSecond,
    secondsToLimit: Math.max(0, tauSecond * Math.log(input.startVolt / input.limitVolt)),
    startJoule: (farad * input.startVolt ** 2) / 2,
    limitJoule: (farad * input.limitVolt ** 2) / 2,
  });
}

/** Voltage after a time, in volt. */
export function dischargeVolt(startVolt: number, tauSecond: number, second: number): number {
  return startVolt * Math.exp(-second / tauSecond);
}
