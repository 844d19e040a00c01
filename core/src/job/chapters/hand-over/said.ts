/** Acts of this chapter as nouns, and one of each as a sample. */
import type { SaidOf } from '../table.ts';
import type { HAND_OVER } from './acts.ts';

export const HAND_OVER_SAID: SaidOf<typeof HAND_OVER> = {
  'cause.answered': { word: 'a cause', sample: { cause: 'joint', isAnswered: true, how: 'bars renewed' } },
  'report.prepared': { word: 'what the report shows', sample: { photoIds: [], toCustomer: 'All is well.' } },
  'warranty.given': { word: 'the warranty', sample: { months: 12, kilometre: 20000, words: '' } },
  'terms.chosen': { word: 'the choice of a supplier’s conditions', sample: { terms: { id: 'marsh-cells', version: 1 } } },
  'terms.met': { word: 'the word on a condition', sample: { condition: 'newNuts', isMet: true, note: '' } },
  'core.agreed': {
    word: 'what goes back to a supplier',
    sample: { supplier: 'Marsh Cells', what: 'modules', count: 28, deposit: 280, shipBy: '2026-12-20' },
  },
  'core.checked': { word: 'a look at what goes back', sample: { check: 'whole', isGood: true } },
  'core.shipped': { word: 'the shipping of what goes back', sample: { on: '2026-12-04', count: 28, carrier: '' } },
  'core.settled': { word: 'what came of a deposit', sample: { outcome: 'credited', credit: 280, note: '' } },
  'accessory.offered': { word: 'the offer of an accessory', sample: { what: 'Cabin filter', answer: 'refused', note: '' } },
  'comeback.explained': { word: 'why the job came back', sample: { what: 'joint', at: 4, note: '' } },
};
