/** When a stage counts as done. Each stage has its own rule; a stage without one here is not done until its part is built. */
import type { Profile } from '../pack/profile.ts';
import type { Stage } from '../pack/stage.ts';
import { findStanding } from './isolation.ts';
import { latestSweep, rowOf } from './figures.ts';
import type { JobState } from './state.ts';

/**
 * Whether the rule of a stage holds now.
 * @param now server time, epoch milliseconds; without it no proof of dead counts
 */
export function isStageDone(stage: Stage, state: JobState, profile: Profile, now = Infinity): boolean {
  const { pack } = state;
  switch (stage) {
    case 'intake':
      return state.opened !== null;
    case 'isolate':
      return pack.isOnBench ? !pack.isPlugIn : findStanding(state, now) !== null;
    case 'strip':
      return pack.isOnBench;
    case 'open': {
      const all = profile.moduleCount - 1 - (profile.plug.opensLink === null ? 0 : 1);
      return pack.isHarnessUnplugged && pack.openLinks.length === all && state.strip.orientation !== null;
    }
    case 'test': {
      const isWhole = (kind: 'openCircuit' | 'rest', quantity: 'openCircuitVolt' | 'restVolt'): boolean =>
        rowOf(latestSweep(state, kind), quantity).size === profile.moduleCount;
      return isWhole('openCircuit', 'openCircuitVolt') && isWhole('rest', 'restVolt');
    }
    case 'match':
      return state.plan !== null;
    case 'rebuild':
    case 'cool':
    case 'refit':
    case 'handOver':
      return false;
  }
}
