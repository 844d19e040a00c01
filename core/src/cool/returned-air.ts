/** Warm air that comes back to the intake, from a crushed outlet or an open seal: it lifts the inlet until the balance is found. */
import { answer, refuse, type Result } from '../result.ts';

export interface ReturnedAirInput {
  /** Of the cabin. */
  readonly inletCelsius: number;
  /** Of the air on its way through the pack. */
  readonly riseCelsius: number;
  /** Share of the air at the intake that came out of the pack, 0 to below 1. */
  readonly returnedShare: number;
}

export interface ReturnedAir {
  readonly inletCelsius: number;
  readonly outletCelsius: number;
}

/**
 * The inlet is lifted by r dT / (1 - r).
 * @example findReturnedAir({ inletCelsius: 25, riseCelsius: 10, returnedShare: 0.3 }).value // 29.29 and 39.29
 */
export function findReturnedAir({ inletCelsius, riseCelsius, returnedShare }: ReturnedAirInput): Result<ReturnedAir> {
  if (!(riseCelsius >= 0)) return refuse('impossible', `The air is not cooled on its way, ${riseCelsius} K came.`, ['riseCelsius']);
  if (!(returnedShare >= 0 && returnedShare < 1))
    return refuse('impossible', `A share from 0 to below 1, ${returnedShare} came.`, ['returnedShare']);
  const lifted = inletCelsius + (returnedShare * riseCelsius) / (1 - returnedShare);
  return answer({ inletCelsius: lifted, outletCelsius: lifted + riseCelsius });
}
