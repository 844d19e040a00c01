/** What a torque clamps: T = K d F, the short form of the bolt equation (handbooks of machine elements; K is the nut factor). */

export interface ClampLoadInput {
  readonly torqueNewtonMetre: number;
  readonly diameterMillimetre: number;
  /** 0.2 for dry steel; it is a band, 0.15 to 0.30, and acid-stripped plating shifts it. */
  readonly nutFactor: number;
  readonly stressAreaMillimetre2?: number | undefined;
  readonly proofStressMegapascal?: number | undefined;
}

export interface ClampLoad {
  readonly clampLoadNewton: number;
  /** Null where area or stress is not known. */
  readonly proofLoadNewton: number | null;
  /** Clamp load over proof load. */
  readonly proofShare: number | null;
}

/** @example findClampLoad({ torqueNewtonMetre: 5.65, diameterMillimetre: 5, nutFactor: 0.2 }).clampLoadNewton // 5650 */
export function findClampLoad(input: ClampLoadInput): ClampLoad {
  const { torqueNewtonMetre, diameterMillimetre, nutFactor, stressAreaMillimetre2, proofStressMegapascal } = input;
  const clampLoadNewton = (1000 * torqueNewtonMetre) / (nutFactor * diameterMillimetre);
  if (stressAreaMillimetre2 === undefined || proofStressMegapascal === undefined)
    return { clampLoadNewton, proofLoadNewton: null, proofShare: null };
  const proofLoadNewton = stressAreaMillimetre2 * proofStressMegapascal;
  return { clampLoadNewton, proofLoadNewton, proofShare: clampLoadNewton / proofLoadNewton };
}
