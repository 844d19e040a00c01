import { keptOf, markOf, type Decided } from '../chapter.ts';
import type { REBUILD_TRAITS, RebuildAct } from './acts.ts';
import { decideRebuild } from './decide.ts';
import type { RebuildState } from './state.ts';

/** The chapter of putting the pack together. */
export const rebuild: Decided<RebuildState, RebuildAct, typeof REBUILD_TRAITS> = {
  start: () => ({
    ...{ settings: [], torqued: [], checks: [], up: null, dropped: [] },
    ...{ bars: [], sensors: [], surveys: [], halves: [], leaks: [], pastes: [] },
  }),
  fold: {
    'torque.set': (slice, event) => {
      slice.settings.push({ ...markOf(event), ...event.body, settingId: event.commandId });
    },
    'fastener.torqued': (slice, event) => {
      slice.torqued.push(keptOf(event));
    },
    'rebuild.checked': (slice, event) => {
      slice.checks = [...slice.checks.filter((c) => c.check !== event.body.check), { ...markOf(event), ...event.body }];
    },
    'pack.turned': (slice, event) => {
      slice.up = { ...markOf(event), ...event.body };
    },
    'module.dropped': (slice, event) => {
      slice.dropped.push(keptOf(event));
    },
    'bars.readied': (slice, event) => {
      slice.bars.push(keptOf(event));
    },
    'sensors.sited': (slice, event) => {
      slice.sensors.push(keptOf(event));
    },
    'joints.surveyed': (slice, event) => {
      slice.surveys.push(keptOf(event));
    },
    'half.measured': (slice, event) => {
      slice.halves.push(keptOf(event));
    },
    'leak.tested': (slice, event) => {
      slice.leaks.push(keptOf(event));
    },
    'paste.laid': (slice, event) => {
      slice.pastes.push(keptOf(event));
    },
  },
  effects: {
    'half.measured': ({ body: { from, to, volt } }) => [{ kind: 'measured', from, to, volt: Math.abs(volt) }],
  },
  decide: decideRebuild,
  hears: [],
  withdraw: (slice, commandId) => {
    const isOther = (x: { readonly commandId: string }): boolean => x.commandId !== commandId;
    slice.torqued = slice.torqued.filter(isOther);
    slice.dropped = slice.dropped.filter(isOther);
    slice.bars = slice.bars.filter(isOther);
    slice.sensors = slice.sensors.filter(isOther);
    slice.surveys = slice.surveys.filter(isOther);
    slice.halves = slice.halves.filter(isOther);
    slice.leaks = slice.leaks.filter(isOther);
    slice.pastes = slice.pastes.filter(isOther);
  },
};
