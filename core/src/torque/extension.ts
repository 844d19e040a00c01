/** Torque wrench with an extension (crow's foot) on its square. Formula: common practice, printed in tool makers' leaflets. */
import { answer, refuse, type Result } from '../result.ts';

export interface ExtensionInput {
  readonly wantedNewtonMetre: number;
  /** Centre of the square to the middle of the grip. */
  readonly wrenchLengthMillimetre: number;
  /** Centre of the square to the centre of the fastener. */
  readonly extensionMillimetre: number;
  /** Between wrench and extension; 0 in line, 90 square (then nothing changes). */
  readonly angleDegree: number;
}

/**
 * What to set so that the fastener gets what is wanted: wanted x L / (L + E cos angle), in N·m.
 * Refusal: `impossible` when the extension folds back to the grip (L + E cos angle not above 0).
 * @example setForExtension({ wantedNewtonMetre: 6, wrenchLengthMillimetre: 200, extensionMillimetre: 50, angleDegree: 0 }) // 4.8
 */
export function setForExtension(input: ExtensionInput): Result<number> {
  const { wantedNewtonMetre, wrenchLengthMillimetre, extensionMillimetre, angleDegree } = input;
  const lever = wrenchLengthMillimetre + extensionMillimetre * Math.cos((angleDegree * Math.PI) / 180);
  if (!(lever > 1e-9 * wrenchLengthMillimetre)) {
    return refuse('impossible', 'At this angle the extension reaches back past the grip. Turn it outwards or use a shorter one.', [
      'angleDegree',
    ]);
  }
  return answer((wantedNewtonMetre * wrenchLengthMillimetre) / lever);
}
