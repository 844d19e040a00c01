import { markOf, type Decided } from '../chapter.ts';
import type { REBUILD_TRAITS, RebuildAct } from './acts.ts';
import { decideRebuild } from './decide.ts';
import type { RebuildState } from './state.ts';

/** The chapter of putting the pack together. */
export const rebuild: Decided<RebuildState, RebuildAct, typeof REBUILD_TRAITS> = {
  start: () => ({ settings: [], torqued: [], checks: [] }),
  fold: {
    'torque.set': (slice, event) => {
      slice.settings.push({ ...markOf(event), ...event.body, settingId: event.commandId });
    },
    'fastener.torqued': (slice, event) => {
      slice.torqued.push({ ...markOf(event), ...event.body, commandId: event.commandId });
    },
    'rebuild.checked': (slice, event) => {
      slice.checks = [...slice.checks.filter((c) => c.check !== event.body.check), { ...markOf(event), ...event.body }];
    },
  },
  decide: decideRebuild,
  hears: [],
  withdraw: (slice, commandId) => {
    slice.torqued = slice.torqued.filter((t) => t.commandId !== commandId);
  },
};
