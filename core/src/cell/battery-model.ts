/**
 * The generic battery model of O. Tremblay, L.-A. Dessaint and A.-I. Dekkiche, "A Generic Battery Model for the Dynamic
 * Simulation of Hybrid Electric Vehicles", IEEE VPPC 2007, with the parameters of its table (cited from memory), per cell.
 */
import { answer, refuse, type Result } from '../result.ts';

export const CHEMISTRIES = ['nimh', 'liion'] as const;
export type Chemistry = (typeof CHEMISTRIES)[number];

/** E0 constant voltage (V), R internal resistance (ohm), K polarisation voltage (V), A and B of the exponential zone (V, 1/Ah), Q capacity (Ah). */
export interface BatteryParameters {
  readonly E0: number;
  readonly R: number;
  readonly K: number;
  readonly A: number;
  readonly B: number;
  readonly Q: number;
}

export const PUBLISHED_PARAMETERS: Record<Chemistry, BatteryParameters> = {
  nimh: { E0: 1.2848, R: 0.0046, K: 0.01875, A: 0.144, B: 2.3077, Q: 6.5 },
  liion: { E0: 3.7348, R: 0.09, K: 0.00876, A: 0.468, B: 3.5294, Q: 1.0 },
};

/** Nominal voltage of one cell, by which "one cell short" is told (common practice, no source). */
export const NOMINAL_CELL_VOLT: Record<Chemistry, number> = { nimh: 1.2, liion: 3.6 };

/**
 * Terminal voltage of one cell in volt: E = E0 - K Q/(Q - it) + A exp(-B it) - R i.
 * @param ampere discharge current, positive
 * @param ampereHourDrawn charge taken out since full; must stay below Q
 * Refusal: `impossible` at or beyond Q, where the model has its pole.
 */
export function findCellVolt(parameters: BatteryParameters, ampere: number, ampereHourDrawn: number): Result<number> {
  const { E0, R, K, A, B, Q } = parameters;
  if (!(ampereHourDrawn < Q)) {
    return refuse('impossible', `${ampereHourDrawn} Ah is drawn from a cell of ${Q} Ah. The model ends before it is empty.`, [
      'ampereHourDrawn',
    ]);
  }
  return answer(E0 - (K * Q) / (Q - ampereHourDrawn) + A * Math.exp(-B * ampereHourDrawn) - R * ampere);
}
