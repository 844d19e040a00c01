/** Airflow proven by heat: what a current makes of heat in a pack against how far the air warms on its way through. */
import { answer, refuse, type Result } from '../result.ts';
import { AIR_WATT_PER_KELVIN } from './stack.ts';

export interface HeatInput {
  /** Root mean square over the drive. */
  readonly ampere: number;
  /** Of the whole string. */
  readonly milliohm: number;
  /** Of the air, from the intake to the outlet. */
  readonly riseKelvin: number;
  /** What the two thermometers may be off together; 1 K where left out, common practice, no source. */
  readonly accuracyKelvin?: number | undefined;
}

export interface HeatFlow {
  readonly watt: number;
  readonly cubicMetrePerHour: number;
  /** The band that the thermometers leave; no upper end where they cannot tell the rise from none. */
  readonly leastCubicMetrePerHour: number;
  readonly mostCubicMetrePerHour: number | null;
}

const ACCURACY_KELVIN = 1;

/**
 * I²R against 1.2 kg/m³ and 1006 J/(kg K). Refusals: `impossible` for a current, a resistance or a rise that is not above zero.
 * @example findFlowByHeat({ ampere: 30, milliohm: 700, riseKelvin: 18.8 }).value // 630 W, 99.9 m³/h
 */
export function findFlowByHeat({ ampere, milliohm, riseKelvin, accuracyKelvin = ACCURACY_KELVIN }: HeatInput): Result<HeatFlow> {
  for (const [name, value] of Object.entries({ ampere, milliohm, riseKelvin }))
    if (!(value > 0)) return refuse('impossible', `${name === 'riseKelvin' ? 'The air warms on its way' : 'Above zero'}, ${value} came.`, [name]); // prettier-ignore
  if (!(accuracyKelvin >= 0)) return refuse('impossible', 'An accuracy cannot be below zero.', ['accuracyKelvin']);
  const watt = (ampere * ampere * milliohm) / 1000;
  const flowAt = (kelvin: number): number => watt / (AIR_WATT_PER_KELVIN * kelvin);
  return answer({
    watt,
    cubicMetrePerHour: flowAt(riseKelvin),
    leastCubicMetrePerHour: flowAt(riseKelvin + accuracyKelvin),
    mostCubicMetrePerHour: riseKelvin > accuracyKelvin ? flowAt(riseKelvin - accuracyKelvin) : null,
  });
}
