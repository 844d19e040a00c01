/**
 * The revised NIOSH lifting equation: the load that nearly all healthy workers could lift over a shift, and how far a load is above
 * it. It covers one person lifting with two hands, standing, unhurried, on firm ground. It does not cover two people, kneeling, a
 * cramped space or one hand: it says why one person must not, never that two may.
 *
 * Source: Waters, Putz-Anderson and Garg, Applications Manual for the Revised NIOSH Lifting Equation, DHHS (NIOSH) 94-110, 1994:
 * metric multipliers, tables 5 (frequency) and 7 (coupling), from memory.
 */
import { answer, refuse, type Result } from '../result.ts';
import type { COUPLINGS } from '../pack/parts.ts';

export type Coupling = (typeof COUPLINGS)[number];

export interface LiftInput {
  readonly loadKilogram: number;
  /** Hands in front of the middle of the ankles. */
  readonly horizontalCentimetre: number;
  /** Hands above the floor. */
  readonly verticalCentimetre: number;
  /** Vertical way of the hands, whichever direction. */
  readonly travelCentimetre: number;
  /** Turn out of the straight-ahead plane. */
  readonly asymmetryDegree: number;
  /** Below 0.2 counts as 0.2; between the lines of the table in proportion. */
  readonly liftsPerMinute: number;
  /** Of lifting work at a stretch, up to 8. */
  readonly durationHours: number;
  readonly coupling: Coupling;
}

export interface Multipliers {
  readonly H: number;
  readonly V: number;
  readonly D: number;
  readonly A: number;
  readonly F: number;
  readonly C: number;
}

export interface LiftAnswer {
  /** Recommended weight limit; 0 where the lift lies beyond what the equation allows at all. */
  readonly recommendedKilogram: number;
  /** Load over limit; null where the limit is 0. */
  readonly liftingIndex: number | null;
  readonly multipliers: Multipliers;
}

/** The load constant. */
export const LOAD_CONSTANT_KILOGRAM = 23;
const KNUCKLE_CENTIMETRE = 75;

/** Rows of table 5: lifts a minute, then for up to 1, 2 and 8 h the multiplier below 75 cm and from 75 cm up. */
const FREQUENCY: readonly (readonly [number, number, number, number, number, number, number])[] = [
  [0.2, 1, 1, 0.95, 0.95, 0.85, 0.85],
  [0.5, 0.97, 0.97, 0.92, 0.92, 0.81, 0.81],
  [1, 0.94, 0.94, 0.88, 0.88, 0.75, 0.75],
  [2, 0.91, 0.91, 0.84, 0.84, 0.65, 0.65],
  [3, 0.88, 0.88, 0.79, 0.79, 0.55, 0.55],
  [4, 0.84, 0.84, 0.72, 0.72, 0.45, 0.45],
  [5, 0.8, 0.8, 0.6, 0.6, 0.35, 0.35],
  [6, 0.75, 0.75, 0.5, 0.5, 0.27, 0.27],
  [7, 0.7, 0.7, 0.42, 0.42, 0.22, 0.22],
  [8, 0.6, 0.6, 0.35, 0.35, 0.18, 0.18],
  [9, 0.52, 0.52, 0.3, 0.3, 0, 0.15],
  [10, 0.45, 0.45, 0.26, 0.26, 0, 0.13],
  [11, 0.41, 0.41, 0, 0.23, 0, 0],
  [12, 0.37, 0.37, 0, 0.21, 0, 0],
  [13, 0, 0.34, 0, 0, 0, 0],
  [14, 0, 0.31, 0, 0, 0, 0],
  [15, 0, 0.28, 0, 0, 0, 0],
];

/** The figures of the input and how far each goes. */
const FIGURES: readonly (readonly [Exclude<keyof LiftInput, 'coupling'>, number])[] = [
  ['loadKilogram', Infinity],
  ['horizontalCentimetre', Infinity],
  ['verticalCentimetre', Infinity],
  ['travelCentimetre', Infinity],
  ['asymmetryDegree', 180],
  ['liftsPerMinute', Infinity],
  ['durationHours', 8],
];

const COUPLING: Record<Coupling, readonly [below: number, above: number]> = { good: [1, 1], fair: [0.95, 1], poor: [0.9, 0.9] };

/**
 * The recommended weight limit at one end of a lift, RWL = 23 kg x H x V x D x A x F x C, and the lifting index.
 * Refusals: `impossible` for a figure that is no length, angle, rate or time, with its path.
 */
export function findLift(input: LiftInput): Result<LiftAnswer> {
  for (const [key, most] of FIGURES) {
    const value = input[key];
    const isPositive = key === 'loadKilogram' || key === 'durationHours' ? value > 0 : value >= 0;
    if (!Number.isFinite(value) || !isPositive || value > most)
      return refuse('impossible', `${key} is ${value}${most < Infinity ? `; it goes to ${most}` : ''}.`, [key]);
  }
  const multipliers = findMultipliers(input);
  const { H, V, D, A, F, C } = multipliers;
  const recommendedKilogram = LOAD_CONSTANT_KILOGRAM * H * V * D * A * F * C;
  return answer({
    recommendedKilogram,
    liftingIndex: recommendedKilogram > 0 ? input.loadKilogram / recommendedKilogram : null,
    multipliers,
  });
}

function findMultipliers(input: LiftInput): Multipliers {
  const { horizontalCentimetre: h, verticalCentimetre: v, travelCentimetre: d, asymmetryDegree: a } = input;
  const isHigh = v >= KNUCKLE_CENTIMETRE;
  return {
    H: h > 63 ? 0 : 25 / Math.max(25, h),
    V: v > 175 ? 0 : 1 - 0.003 * Math.abs(v - KNUCKLE_CENTIMETRE),
    D: d > 175 ? 0 : 0.82 + 4.5 / Math.max(25, d),
    A: a > 135 ? 0 : 1 - 0.0032 * a,
    F: findFrequency(input.liftsPerMinute, input.durationHours, isHigh),
    C: COUPLING[input.coupling][isHigh ? 1 : 0],
  };
}

function findFrequency(lifts: number, hours: number, isHigh: boolean): number {
  const column = (hours <= 1 ? 1 : hours <= 2 ? 3 : 5) + (isHigh ? 1 : 0);
  const at = (row: (typeof FREQUENCY)[number] | undefined): number => row?.[column] ?? 0;
  const above = FREQUENCY.findIndex(([rate]) => lifts <= rate);
  if (above < 0) return 0;
  const [low, high] = [FREQUENCY[above - 1], FREQUENCY[above]];
  if (!low || !high) return at(high);
  return at(low) + ((at(high) - at(low)) * (lifts - low[0])) / (high[0] - low[0]);
}
