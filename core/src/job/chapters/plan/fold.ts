import { refuse } from '../../../result.ts';
import { markOf } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { PLAN } from './acts.ts';
import { decideChoice } from './decide.ts';
import type { PlanState } from './state.ts';

/** The chapter of the plan. */
export const plan: Chapter<PlanState, typeof PLAN> = {
  table: PLAN,
  start: () => ({ chosen: null }),
  fold: {
    'plan.chosen': (slice, event) => {
      slice.chosen = { ...markOf(event), ...event.body, planId: event.commandId };
    },
    'plan.withdrawn': (slice, event) => {
      if (slice.chosen?.planId === event.body.planId) slice.chosen = null;
    },
  },
  effects: {},
  decide: {
    'plan.chosen': decideChoice,
    'plan.withdrawn': (slice, { body }) =>
      slice.chosen?.planId === body.planId ? null : refuse('gone', 'That plan does not stand any more.', ['body', 'planId']),
  },
  hears: [],
};
