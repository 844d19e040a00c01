import { markOf } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { REBUILD } from './acts.ts';
import { decideRebuild } from './decide.ts';
import type { RebuildState } from './state.ts';

/** The chapter of putting the pack together. */
export const rebuild: Chapter<RebuildState, typeof REBUILD> = {
  table: REBUILD,
  start: () => ({ settings: [], checks: [], up: null }),
  fold: {
    'torque.set': (slice, event) => {
      slice.settings.push({ ...markOf(event), ...event.body, settingId: event.commandId });
    },
    'rebuild.checked': (slice, event) => {
      slice.checks = [...slice.checks.filter((c) => c.check !== event.body.check), { ...markOf(event), ...event.body }];
    },
    'pack.turned': (slice, event) => {
      slice.up = { ...markOf(event), ...event.body };
    },
  },
  effects: {
    'half.measured': ({ body: { from, to, volt } }) => [{ kind: 'measured', from, to, volt: Math.abs(volt) }],
  },
  decide: decideRebuild,
  hears: [],
};
