/** Which stages a job uses: those of its kind that its pack has, and any that was worked in all the same. */
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import { KIND_RULES } from '../chapters/intake/kinds.ts';
import type { JobState } from './state.ts';

/** In the order of the profile. */
export function stagesOf(state: JobState, profile: Profile): Stage[] {
  const { opened } = state.intake;
  if (!opened) return [...profile.stages];
  // a fan that sits away from the high voltage comes out without a proof of dead
  const isAway = opened.kind === 'fanCleaning' && !profile.cooling.fanNeedsDead;
  const usual = KIND_RULES[opened.kind].stages.filter((s) => !(isAway && s === 'isolate'));
  const used = new Set<Stage>([...usual, state.stage, ...state.facts.map((f) => f.stage)]);
  return profile.stages.filter((s) => used.has(s));
}
