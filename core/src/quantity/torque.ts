/** Torque units. Exact by definition: 1 lbf = 4.4482216152605 N and 1 in = 0.0254 m (NIST SP 811, appendix B.8). */

export const NEWTON_PER_POUND_FORCE = 4.4482216152605;
export const METRE_PER_INCH = 0.0254;
export const INCH_PER_FOOT = 12;

export const NEWTON_METRE_PER_POUND_FORCE_INCH = NEWTON_PER_POUND_FORCE * METRE_PER_INCH;
export const NEWTON_METRE_PER_POUND_FORCE_FOOT = NEWTON_METRE_PER_POUND_FORCE_INCH * INCH_PER_FOOT;

export const TORQUE_UNITS = ['Nm', 'lbfin', 'lbfft'] as const;
export type TorqueUnit = (typeof TORQUE_UNITS)[number];

const NEWTON_METRE_PER: Record<TorqueUnit, number> = {
  Nm: 1,
  lbfin: NEWTON_METRE_PER_POUND_FORCE_INCH,
  lbfft: NEWTON_METRE_PER_POUND_FORCE_FOOT,
};

/** One torque in the three units the trade reads from its wrenches. */
export interface TorqueInUnits {
  readonly newtonMetre: number;
  readonly poundForceInch: number;
  readonly poundForceFoot: number;
}

/**
 * The same torque in N·m, lbf·in and lbf·ft.
 * @example convertTorque(50, 'lbfin').newtonMetre // 5.649…
 */
export function convertTorque(value: number, unit: TorqueUnit): TorqueInUnits {
  const newtonMetre = value * NEWTON_METRE_PER[unit];
  return {
    newtonMetre,
    poundForceInch: unit === 'lbfin' ? value : newtonMetre / NEWTON_METRE_PER_POUND_FORCE_INCH,
    poundForceFoot: unit === 'lbfft' ? value : newtonMetre / NEWTON_METRE_PER_POUND_FORCE_FOOT,
  };
}
