import { refuse } from '../../../result.ts';
import { markOf, type Decided } from '../chapter.ts';
import type { PLAN_TRAITS, PlanAct } from './acts.ts';
import { decideChoice } from './decide.ts';
import type { PlanState } from './state.ts';

/** The chapter of the plan. */
export const plan: Decided<PlanState, PlanAct, typeof PLAN_TRAITS> = {
  start: () => ({ chosen: null }),
  fold: {
    'plan.chosen': (slice, event) => {
      slice.chosen = { ...markOf(event), ...event.body, planId: event.commandId };
    },
    'plan.withdrawn': (slice, event) => {
      if (slice.chosen?.planId === event.body.planId) slice.chosen = null;
    },
  },
  decide: {
    'plan.chosen': decideChoice,
    'plan.withdrawn': (slice, { body }) =>
      slice.chosen?.planId === body.planId ? null : refuse('gone', 'That plan does not stand any more.', ['body', 'planId']),
  },
  hears: [],
};
