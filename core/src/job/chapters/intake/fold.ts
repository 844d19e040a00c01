import type { Effect } from '../../../pack/effect.ts';
import { markOf } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { INTAKE } from './acts.ts';
import { decideIntake } from './decide.ts';
import type { JobKind } from './kinds.ts';
import type { IntakeState } from './state.ts';

/** How the pack comes into a job of a kind: bench work begins with it out of its car, its posts bare. */
export function effectsOfKind(kind: JobKind): Effect[] {
  return kind === 'benchOnly'
    ? [
        { kind: 'moved', what: 'pack', isOnBench: true },
        { kind: 'bared', what: 'outletPosts', are: 'bare' },
      ]
    : [];
}

/** The chapter that begins and ends a job. */
export const intake: Chapter<IntakeState, typeof INTAKE> = {
  table: INTAKE,
  start: () => ({ opened: null, closed: null, before: { vehicles: [], customers: [] }, use: null, closings: [], reopened: [] }),
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
      slice.closings.push(event.at);
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
  effects: {
    'job.opened': ({ body: { moduleIds, kind } }) => [
      ...moduleIds.map(
        (moduleId, i) => ({ kind: 'moved', what: 'module', place: i + 1, moduleId, isTurned: false, isLaid: false }) as const,
      ),
      ...effectsOfKind(kind),
    ],
  },
  decide: decideIntake,
  hears: [],
};
