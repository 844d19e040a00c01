/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { OPEN } from './acts.ts';

export const OPEN_SAID: SaidOf<typeof OPEN> = {
  'orientation.recorded': {
    word: 'how the pack lies',
    sample: { positiveCorner: 'lastFar', firstAt: 'first', threaded: 'near', vents: 'far', sensors: [], note: '' },
  },
  'modules.released': { word: 'letting the modules be moved', sample: {} },
};
