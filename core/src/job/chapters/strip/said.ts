/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { STRIP } from './acts.ts';

export const STRIP_SAID: SaidOf<typeof STRIP> = {
  'part.added': {
    word: 'a part that was found',
    sample: {
      stage: 'strip',
      kind: 'fastener',
      name: 'washer',
      place: 'bay',
      where: 'here',
      size: '8 mm',
      count: 1,
      isHidden: true,
      isForeign: false,
      isProposed: true,
    },
  },
  'part.moved': {
    word: 'a count of the ledger',
    sample: { stage: 'strip', partId: 'pack-bolt', count: 1, from: { kind: 'inPlace' }, to: { kind: 'stud' }, condition: 'good' },
  },
  'part.leftOff': { word: 'leaving parts off', sample: { partId: 'pack-bolt', count: 1, reason: 'None in stock.', followUp: 'order' } },
  'transfer.stated': { word: 'a part to move across', sample: { transferId: 'control-unit', fate: 'moves', isDone: true } },
  'lift.planned': { word: 'the lift plan', sample: { by: 'hoist', with: 'the yard hoist', isPathClear: true, note: '' } },
};
