import { refuse } from '../../../result.ts';
import { markOf } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { OPEN } from './acts.ts';
import type { OpenState } from './state.ts';

/** The chapter of the opened pack. */
export const open: Chapter<OpenState, typeof OPEN> = {
  table: OPEN,
  start: () => ({ orientation: null, released: null, history: [] }),
  fold: {
    'orientation.recorded': (slice, event) => {
      slice.orientation = { ...markOf(event), ...event.body };
    },
    'modules.released': (slice, event) => {
      slice.released ??= markOf(event);
    },
  },
  effects: {},
  decide: {
    'orientation.recorded': (_slice, { body }, { profile }) => {
      const odd = body.sensors.findIndex((s) => !profile.sensors.some((known) => known.id === s.sensorId));
      return odd < 0 ? null : refuse('unknownName', `The pack has no sensor "${body.sensors[odd]?.sensorId}".`, ['body', 'sensors', odd]);
    },
    'modules.released': (slice) =>
      slice.orientation
        ? null
        : refuse('notPermitted', 'How the pack lies is not recorded yet: corner, numbers, threaded side, vents and sensors come first.'),
  },
  hears: ['moved'],
  hear: (slice, effect, header, pack) => {
    // what a job opens with came from nowhere
    if (effect.kind !== 'moved' || effect.what !== 'module' || header.number === 1) return;
    const { place, moduleId, isTurned } = effect;
    const was = pack.places[place - 1]?.moduleId ?? null;
    slice.history.push({ ...markOf(header), place, was, moduleId, isTurned });
  },
};
