/** The one thing to do next on a job, the same wherever it is said. */
import { sayTime } from '../../isolate/proof.ts';
import type { IsolationPolicy } from '../../isolate/policy.ts';
import type { Profile } from '../../pack/profile.ts';
import { findIsolation, type Isolation } from '../chapters/isolate/view.ts';
import { stagesOf } from '../frame/stages.ts';
import type { JobState } from '../frame/state.ts';
import { findNext, isPartingUsual } from './next.ts';
import { findModuleVolts } from './volts.ts';

export interface NextStep {
  readonly text: string;
  /** The step of isolation that it is; null where it is none. */
  readonly stepId: string | null;
  /** Time that it waits for, epoch milliseconds; null where it waits for none. */
  readonly at: number | null;
  /** Hands off until it is resolved. */
  readonly isAlarm: boolean;
}

/**
 * What comes next: hands off a steady voltage, else the first open step of isolation, else the act that parts the string most. Null where
 * nothing is asked for.
 * @param now server time, epoch milliseconds
 */
export function findNextStep(state: JobState, profile: Profile, policy: IsolationPolicy, now: number): NextStep | null {
  const isolation = findIsolation(state, profile, policy, now);
  return state.intake.closed ? null : nextOf(state, profile, isolation, now);
}

function nextOf(state: JobState, profile: Profile, isolation: Isolation, now: number): NextStep | null {
  const { steady, standing, wait, finding, steps, nextId } = isolation;
  const step = (text: string, at: number | null = null): NextStep => ({ text, stepId: nextId, at, isAlarm: false });
  if (steady)
    return { text: `hands off: steady at ${steady.volt.toFixed(0)} V at the ${steady.point}`, stepId: nextId, at: null, isAlarm: true };
  const isIsolating = stagesOf(state, profile).includes('isolate') && !state.pack.isOnBench && !standing;
  if (isIsolating && nextId !== null) {
    if (nextId === 'wait' && wait.endsAt !== null)
      return step(`wait for the capacitors, ${sayTime((wait.endsAt - now) / 1000)} to go`, wait.endsAt);
    if (nextId === 'proof' && finding?.readAgainAt) return step('read the posts again', finding.readAgainAt);
    if (nextId === 'proof' && finding) return step(lower(finding.todo.replace(/\.$/, '')));
    const title = steps.find((s) => s.id === nextId)?.title;
    return title === undefined ? null : step(lower(title));
  }
  if (!isPartingUsual(state, profile)) return null;
  const act = findNext(state.pack, findModuleVolts(state, profile), profile);
  return act && { text: act.label, stepId: null, at: null, isAlarm: false };
}

/** As it follows on "Next:"; what is written in capitals stays so. */
function lower(text: string): string {
  return /^[A-Z][a-z]/.test(text) ? text.slice(0, 1).toLowerCase() + text.slice(1) : text;
}
