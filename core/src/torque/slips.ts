/** Slips by which a torque comes out wrong, told from the figure that was entered. Common practice, no source; factors are exact units. */
import { convertTorque, INCH_PER_FOOT, type TorqueUnit } from '../quantity/torque.ts';

export const SLIPS = ['inchAsFoot', 'newtonMetreAsInch', 'newtonMetreAsFoot', 'formerSetting'] as const;

export interface Slip {
  readonly kind: (typeof SLIPS)[number];
  readonly sentence: string;
}

const IN_WORDS: Record<TorqueUnit, string> = { Nm: 'N·m', lbfin: 'lbf·in', lbfft: 'lbf·ft' };
const INCH_PER_NEWTON_METRE = convertTorque(1, 'Nm').poundForceInch;
const NEWTON_METRE_PER_FOOT = convertTorque(1, 'lbfft').newtonMetre;
/** A figure this near to a slip's, as a share, is taken for it. */
const NEAR = 0.06;

/**
 * The slip that explains a figure off its specification; null where it is within tolerance or no slip explains it.
 * @param formerNewtonMetre what the tool was set to for the job before
 */
export function findSlip(
  { specNewtonMetre, tolerancePercent }: { readonly specNewtonMetre: number; readonly tolerancePercent: number },
  gotNewtonMetre: number,
  formerNewtonMetre: number | null = null,
): Slip | null {
  if (isTorqueWithin(specNewtonMetre, tolerancePercent, gotNewtonMetre)) return null;
  const ratio = gotNewtonMetre / specNewtonMetre;
  const inInch = convertTorque(specNewtonMetre, 'Nm').poundForceInch.toFixed(0);
  if (isNear(ratio, INCH_PER_FOOT))
    return {
      kind: 'inchAsFoot',
      sentence: `12 times what is wanted: ${inInch} lbf·in read as lbf·ft? That breaks posts. Loosen it and renew what it clamped.`,
    };
  if (isNear(ratio, 1 / INCH_PER_FOOT)) return { kind: 'inchAsFoot', sentence: 'A twelfth of what is wanted: lbf·ft read as lbf·in?' };
  if (isNear(ratio, INCH_PER_NEWTON_METRE))
    return { kind: 'newtonMetreAsInch', sentence: `8.85 times what is wanted: ${inInch} lbf·in set as N·m?` };
  if (isNear(ratio, 1 / INCH_PER_NEWTON_METRE))
    return { kind: 'newtonMetreAsInch', sentence: `8.85 times too little: ${specNewtonMetre.toFixed(1)} N·m set as lbf·in?` };
  if (formerNewtonMetre !== null && isNear(gotNewtonMetre / formerNewtonMetre, 1))
    return {
      kind: 'formerSetting',
      sentence: `${gotNewtonMetre.toFixed(1)} N·m is what this tool was set to before. Was its setting left on?`,
    };
  if (isNear(ratio, NEWTON_METRE_PER_FOOT) || isNear(ratio, 1 / NEWTON_METRE_PER_FOOT))
    return {
      kind: 'newtonMetreAsFoot',
      sentence: `1.36 times ${ratio > 1 ? 'too much' : 'too little'}: N·m and lbf·ft taken for each other?`,
    };
  return null;
}

export function isTorqueWithin(specNewtonMetre: number, tolerancePercent: number, gotNewtonMetre: number): boolean {
  return Math.abs(gotNewtonMetre - specNewtonMetre) <= (tolerancePercent / 100) * specNewtonMetre + 1e-9;
}

function isNear(ratio: number, to: number): boolean {
  return Math.abs(ratio / to - 1) <= NEAR;
}

/** One torque as it is written everywhere: `5.6 N·m (50 lbf·in)`. */
export function showTorque(newtonMetre: number): string {
  const { poundForceInch, poundForceFoot } = convertTorque(newtonMetre, 'Nm');
  const other = poundForceInch < 120 ? `${poundForceInch.toFixed(0)} ${IN_WORDS.lbfin}` : `${poundForceFoot.toFixed(0)} ${IN_WORDS.lbfft}`;
  return `${newtonMetre.toFixed(1)} ${IN_WORDS.Nm} (${other})`;
}
