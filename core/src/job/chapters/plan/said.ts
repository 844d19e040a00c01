/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { PLAN } from './acts.ts';

export const PLAN_SAID: SaidOf<typeof PLAN> = {
  'plan.chosen': {
    word: 'the chosen plan',
    sample: {
      school: 'exchangePack',
      moduleIds: [],
      fromShelf: [],
      rangeAh: null,
      lowerBoundAh: null,
      proven: false,
      blockMeanAh: [],
      assumedPlaces: [],
    },
  },
  'plan.withdrawn': { word: 'the withdrawal of a plan', sample: { planId: 'none' } },
};
