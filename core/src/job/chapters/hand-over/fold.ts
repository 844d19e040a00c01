import { refuse } from '../../../result.ts';
import type { Chapter } from '../table.ts';
import { HAND_OVER } from './acts.ts';
import type { HandOverState } from './state.ts';

/** The chapter of handing over. */
export const handOver: Chapter<HandOverState, typeof HAND_OVER> = {
  table: HAND_OVER,
  start: () => ({}),
  fold: {},
  effects: {},
  decide: {
    'warranty.given': () => null,
    'terms.chosen': () => null,
    'comeback.explained': (_slice, { body }, { profile }) =>
      body.at === null || body.at <= profile.moduleCount ? null : refuse('unknownName', `There is no place ${body.at}.`, ['body', 'at']),
  },
  hears: [],
};
