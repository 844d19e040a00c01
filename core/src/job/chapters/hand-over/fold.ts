import { refuse } from '../../../result.ts';
import { keptOf, type Decided } from '../chapter.ts';
import type { HAND_OVER_TRAITS, HandOverAct } from './acts.ts';
import type { HandOverState } from './state.ts';

/** The chapter of handing over. */
export const handOver: Decided<HandOverState, HandOverAct, typeof HAND_OVER_TRAITS> = {
  start: () => ({
    ...{ causes: [], prepared: [], given: [], terms: [], met: [], agreed: [], checked: [], shipped: [] },
    ...{ settled: [], offered: [], explained: [] },
  }),
  fold: {
    'cause.answered': (slice, event) => void slice.causes.push(keptOf(event)),
    'report.prepared': (slice, event) => void slice.prepared.push(keptOf(event)),
    'warranty.given': (slice, event) => void slice.given.push(keptOf(event)),
    'terms.chosen': (slice, event) => void slice.terms.push(keptOf(event)),
    'terms.met': (slice, event) => void slice.met.push(keptOf(event)),
    'core.agreed': (slice, event) => void slice.agreed.push(keptOf(event)),
    'core.checked': (slice, event) => void slice.checked.push(keptOf(event)),
    'core.shipped': (slice, event) => void slice.shipped.push(keptOf(event)),
    'core.settled': (slice, event) => void slice.settled.push(keptOf(event)),
    'accessory.offered': (slice, event) => void slice.offered.push(keptOf(event)),
    'comeback.explained': (slice, event) => void slice.explained.push(keptOf(event)),
  },
  decide: {
    'warranty.given': () => null,
    'terms.chosen': () => null,
    'comeback.explained': (_slice, { body }, { profile }) =>
      body.at === null || body.at <= profile.moduleCount ? null : refuse('unknownName', `There is no place ${body.at}.`, ['body', 'at']),
  },
  hears: [],
  withdraw: (slice, commandId) => {
    for (const list of Object.values(slice)) {
      const at = list.findIndex((x) => x.commandId === commandId);
      if (at >= 0) list.splice(at, 1);
    }
  },
};
