/** What acts that wait on a device would come to, were they kept now: each with what it means besides. */
import type { Profile } from '../../pack/profile.ts';
import { CLOCK_MILLISECOND, stampOf } from '../chapters/stamp.ts';
import { ACT_TRAITS, type JobEvent } from './acts.ts';
import { meansBesides } from './means-besides.ts';
import { extend, inTimeOf } from './fold.ts';
import type { JobState } from './state.ts';

/**
 * The kept state, then the state after each waiting act in order. A permit is nothing until the server has kept it, unless its trait says
 * that it is shown; its numbers are those that come next.
 * @param time server time, epoch milliseconds; Infinity where it is not known
 */
export function passThrough(kept: JobState, profile: Profile, waiting: readonly JobEvent[], time: number): [JobState, ...JobState[]] {
  const states: [JobState, ...JobState[]] = [kept];
  // what waits was often said before the last that was kept; where the clock itself stands before that, it was set back
  const isSetBack = time < Date.parse(kept.latestAt) - CLOCK_MILLISECOND;
  let state = kept;
  for (const event of waiting) {
    if (!ACT_TRAITS[event.type].isShownWaiting) continue;
    const { number: _number, commandId, by, at: said, deviceAt, device, forwardedBy: _forwardedBy, ...act } = event;
    const at = isSetBack || said > state.latestAt ? said : state.latestAt;
    const header = { commandId, by, at, deviceAt, ...(device ? { device } : {}) };
    const acts = [act, ...meansBesides(state, act, profile, stampOf(inTimeOf(state, { ...header, number: state.head + 1 })))];
    state = extend(
      state,
      profile,
      acts.map((one, i): JobEvent => ({ ...header, number: state.head + 1 + i, ...one })),
    );
    states.push(state);
  }
  return states;
}
