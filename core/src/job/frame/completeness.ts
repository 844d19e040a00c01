/** When a stage counts as done. Each stage has its own rule; a stage without one here is not done until its part is built. */
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import { findCooling } from '../chapters/cool/view.ts';
import { asksScanAsFound } from '../chapters/intake/kinds.ts';
import { isIsolated } from '../chapters/isolate/view.ts';
import { isLieKnown, isOpened } from '../chapters/open/view.ts';
import { isEveryModuleRested } from '../chapters/sweep/view.ts';
import { findRebuild, isRebuilt, type Rebuild } from '../chapters/rebuild/view.ts';
import { refitOf } from './refitting.ts';
import { restingVolts, type JobState } from './state.ts';

/**
 * Whether the rule of a stage holds now.
 * @param now server time, epoch milliseconds; without it no proof of dead counts
 * @param rebuild how far the state is put together again, where that is known already
 */
export function isStageDone(
  stage: Stage,
  state: JobState,
  profile: Profile,
  now = Infinity,
  rebuild: () => Rebuild = () => rebuildOf(state, profile),
): boolean {
  switch (stage) {
    case 'intake':
      return isTakenIn(state);
    case 'isolate':
      // a pack that is back in its car was made dead for the way out
      return isIsolated(state, now) || state.refit.lifted > 0;
    case 'strip':
      return state.pack.isOnBench || state.refit.lifted > 0;
    case 'open':
      return isOpened(state, profile) || (isGoingUp(state) && isLieKnown(state, profile));
    case 'test':
      return isEveryModuleRested(state) || (isGoingUp(state) && state.plan.chosen !== null);
    case 'match':
      return state.plan.chosen !== null;
    case 'rebuild':
      // shut and back in its car it is not measured again in halves
      return isRebuilt(
        state,
        state.refit.lifted > 0 ? () => rebuildOf({ ...state, pack: { ...state.pack, isPlugIn: false } }, profile) : rebuild,
      );
    case 'cool':
      return findCooling(state, profile).next === null;
    case 'refit':
      return state.refit.touched + state.strip.moved.length > 0 && refitOf(state, profile).next === null;
    case 'handOver':
      return state.intake.closed !== null;
  }
}

/**
 * What a repair begins with: how the vehicle is used, and the car scanned as it came or a word why not. A job of fewer stages asks for the
 * use alone.
 */
function isTakenIn({ intake: { opened, use }, refit }: JobState): boolean {
  if (!opened || !use) return false;
  return !asksScanAsFound(opened.kind) || use.noScan !== '' || refit.scanned.some((s) => s.moment === 'asFound');
}

function rebuildOf(state: JobState, profile: Profile): Rebuild {
  return findRebuild({ ...state, volts: restingVolts(state) }, profile);
}

/** Whether the pack is on its way back together: then other modules lie in it than were read, and bars are on that were off. */
function isGoingUp({ facts, rebuild }: JobState): boolean {
  return rebuild.torqued.length > 0 || facts.some((f) => f.stage === 'rebuild');
}
