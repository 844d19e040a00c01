/** Life against temperature by Arrhenius: how much faster it ages at one temperature than at another. */
import { answer, refuse, type Result } from '../result.ts';

export interface LifeInput {
  readonly celsius: number;
  readonly referenceCelsius: number;
  /** 50 kJ/mol for the ageing of cells; common practice, no source. */
  readonly activationKilojoulePerMole?: number | undefined;
  /** Life at the reference temperature. */
  readonly referenceMonth: number;
}

export interface Life {
  readonly month: number;
  /** Ageing against the reference: above 1 where it is hotter. */
  readonly factor: number;
}

/** Molar gas constant, J/(mol K), exact since 2019 (CODATA). */
const GAS_CONSTANT = 8.314462618;
const ZERO_CELSIUS = 273.15;
const ACTIVATION_KILOJOULE = 50;

/** @example findLife({ celsius: 35, referenceCelsius: 25, referenceMonth: 100 }).value.factor // 1.92 */
export function findLife(input: LifeInput): Result<Life> {
  const { celsius, referenceCelsius, activationKilojoulePerMole = ACTIVATION_KILOJOULE, referenceMonth } = input;
  for (const [name, value] of Object.entries({ celsius, referenceCelsius }))
    if (!(value > -ZERO_CELSIUS)) return refuse('impossible', `${value} °C cannot be.`, [name]);
  if (!(activationKilojoulePerMole >= 0))
    return refuse('impossible', 'The activation energy cannot be below zero.', ['activationKilojoulePerMole']);
  if (!(referenceMonth >= 0)) return refuse('impossible', 'A life cannot be below zero.', ['referenceMonth']);
  const inverse = 1 / (referenceCelsius + ZERO_CELSIUS) - 1 / (celsius + ZERO_CELSIUS);
  const factor = Math.exp(((1000 * activationKilojoulePerMole) / GAS_CONSTANT) * inverse);
  return answer({ month: referenceMonth / factor, factor });
}
