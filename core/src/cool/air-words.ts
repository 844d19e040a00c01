/** What is said of a part of the air path beside how much of it is shut, and what each changes first. Common practice, no source. */
import type { FlowKind } from '../pack/profile.ts';

export const AIR_WORDS = [
  'asBuilt',
  'absent',
  'homeMade',
  'accessory',
  'metalWhole',
  'metalCrushed',
  'plasticWhole',
  'plasticCrushed',
] as const;
export type AirWord = (typeof AIR_WORDS)[number];

export const AIR_WORD_NAMES: Record<AirWord, string> = {
  asBuilt: 'as built',
  absent: 'not there',
  homeMade: 'home-made',
  accessory: 'accessory',
  metalWhole: 'metal, whole',
  metalCrushed: 'metal, crushed',
  plasticWhole: 'plastic, whole',
  plasticCrushed: 'plastic, crushed',
};

/** What it changes first; empty where nothing. */
export const AIR_WORD_EFFECTS: Record<AirWord, string> = {
  asBuilt: '',
  absent: 'Lint goes straight to the wheel and the gaps: they are shut first, and nothing is seen at the intake.',
  homeMade: 'A modification: recorded, and finer than the maker’s it is shut first. Looked at sooner than an open path.',
  accessory: 'It keeps the wheel clean and is shut itself: looked at sooner than an open path.',
  metalWhole: '',
  metalCrushed: 'Metal springs back: pressed out from inside and felt again.',
  plasticWhole: '',
  plasticCrushed: 'Heat-set plastic stays flat: another one. Warm air finds its way back to the intake meanwhile.',
};

const SCREENED: readonly AirWord[] = ['asBuilt', 'absent', 'homeMade', 'accessory'];
const FELT: readonly AirWord[] = ['metalWhole', 'metalCrushed', 'plasticWhole', 'plasticCrushed'];

/** What can be said of a part; nothing of most. */
export function wordsOf(kind: FlowKind): readonly AirWord[] {
  if (kind === 'intake' || kind === 'filter') return SCREENED;
  return kind === 'duct' || kind === 'outlet' ? FELT : [];
}

/** What is looked at before the air path is shut again. */
export const AIR_CHECKS = ['tabRight', 'sealWhole', 'strapHeld', 'sensorSeated'] as const;
export type AirCheck = (typeof AIR_CHECKS)[number];
export const AIR_CHECK_NAMES: Record<AirCheck, string> = {
  tabRight: 'filter tab the right way round',
  sealWhole: 'foam seal whole and in its groove',
  strapHeld: 'ground strap on, held while its nut was turned',
  sensorSeated: 'airflow sensor seated exactly',
};
