import { markOf, type Decided } from '../chapter.ts';
import type { INTAKE_TRAITS, IntakeAct } from './acts.ts';
import { decideIntake } from './decide.ts';
import type { IntakeState } from './state.ts';

/** The chapter that begins and ends a job. */
export const intake: Decided<IntakeState, IntakeAct, typeof INTAKE_TRAITS> = {
  start: () => ({ opened: null, closed: null, before: { vehicles: [], customers: [] }, use: null, reopened: [] }),
  fold: {
    'job.opened': (slice, { body: { moduleIds: _, ...opened }, by, at }) => {
      slice.opened = { ...opened, by, at };
    },
    'papers.corrected': (slice, { body: { vehicle, customer } }) => {
      const { opened } = slice;
      if (!opened) return;
      slice.before.vehicles.push(opened.vehicle.id);
      if (opened.customer) slice.before.customers.push(opened.customer.id);
      slice.opened = { ...opened, vehicle, customer };
    },
    'use.noted': (slice, event) => {
      slice.use = { ...markOf(event), ...event.body };
    },
    'job.closed': (slice, event) => {
      const { body } = event;
      slice.closed =
        body.outcome === 'finished'
          ? { ...markOf(event), outcome: body.outcome, note: body.note, unmet: [] }
          : { ...markOf(event), outcome: body.outcome, note: body.reason, unmet: body.unmet };
    },
    'job.reopened': (slice, event) => {
      slice.closed = null;
      slice.reopened.push({ ...markOf(event), reason: event.body.reason });
    },
  },
  decide: decideIntake,
  hears: [],
};
