/** Which stages a job uses: those of its kind that its pack has, and any that was worked in all the same. */
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import { KIND_RULES } from '../chapters/intake/kinds.ts';
import type { JobState } from './state.ts';

/** In the order of the profile. */
export function stagesOf(state: JobState, profile: Profile): Stage[] {
  const { opened } = state.intake;
  if (!opened) return [...profile.stages];
  const used = new Set<Stage>([...KIND_RULES[opened.kind].stages, state.stage, ...state.facts.map((f) => f.stage)]);
  return profile.stages.filter((s) => used.has(s));
}
