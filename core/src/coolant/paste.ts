/** How much paste lies under a module: area, thickness and density. */
import type { Coolant } from '../pack/way-up.ts';

export interface PasteNeed {
  readonly gram: number;
  /** What still counts as enough and not too much: too little leaves air, too much lifts the module. */
  readonly leastGram: number;
  readonly mostGram: number;
}

/** Common practice, no source: a tenth less shows as air, a quarter more runs out of the sides. */
const [LEAST_SHARE, MOST_SHARE] = [0.9, 1.25];

/** @example findPaste({ areaSquareCentimetre: 100, thicknessMillimetre: 0.5, gramPerCubicCentimetre: 2.4 }).gram // 12 */
export function findPaste(paste: Omit<Coolant['paste'], 'pattern'>): PasteNeed {
  const { areaSquareCentimetre, thicknessMillimetre, gramPerCubicCentimetre } = paste;
  const gram = (areaSquareCentimetre * thicknessMillimetre * gramPerCubicCentimetre) / 10;
  return { gram, leastGram: LEAST_SHARE * gram, mostGram: MOST_SHARE * gram };
}
