/** The one thing to do next on a job, the same wherever it is said. */
import { findCooling } from '../chapters/cool/view.ts';
import { findRebuild, sayRebuildNext, type Rebuild } from '../chapters/rebuild/view.ts';
import { sayTime } from '../../isolate/proof.ts';
import { countInPlace, type Balance } from '../../ledger/ledger.ts';
import type { Layer, Zone } from '../../pack/parts.ts';
import type { Profile } from '../../pack/profile.ts';
import { STAGES } from '../../pack/stage.ts';
import type { Isolation } from '../chapters/isolate/view.ts';
import { findLedger, listPlaces } from '../chapters/strip/view.ts';
import { findHandOver } from '../frame/handing-over.ts';
import { refitOf } from '../frame/refitting.ts';
import { stagesOf } from '../frame/stages.ts';
import { restingVolts, type JobState } from '../frame/state.ts';
import { isSo } from './layers.ts';
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
 * @param isolation as it stands at `now`
 * @param now server time, epoch milliseconds
 * @param known what was computed of the state already
 */
export function findNextStep(
  state: JobState,
  profile: Profile,
  isolation: Isolation,
  now: number,
  known: { readonly rebuild: Rebuild; readonly ledger: Balance } = knowLate(state, profile),
): NextStep | null {
  if (state.intake.closed) return null;
  const { steady, standing, wait, finding, steps, nextId } = isolation;
  const step = (text: string, at: number | null = null): NextStep => ({ text, stepId: nextId, at, isAlarm: false });
  if (steady)
    return { text: `hands off: steady at ${steady.volt.toFixed(0)} V at the ${steady.point}`, stepId: nextId, at: null, isAlarm: true };
  // on the way back the refit itself says when the car sleeps again
  const isIsolating =
    stagesOf(state, profile).includes('isolate') &&
    !state.pack.isOnBench &&
    !standing &&
    state.stage !== 'refit' &&
    state.stage !== 'handOver';
  if (isIsolating && nextId !== null) {
    if (nextId === 'wait' && wait.endsAt !== null)
      return step(`wait for the capacitors, ${sayTime((wait.endsAt - now) / 1000)} to go`, wait.endsAt);
    if (nextId === 'proof' && finding?.readAgainAt) return step('read the posts again', finding.readAgainAt);
    if (nextId === 'proof' && finding) return step(lower(finding.todo.replace(/^Next: /, '').replace(/\.$/, '')));
    const title = steps.find((s) => s.id === nextId)?.title;
    return title === undefined ? null : step(lower(title));
  }
  const said = (text: string | null): NextStep | null => (text === null ? null : { text, stepId: null, at: null, isAlarm: false });
  // a plan that was chosen is what is laid next
  const isGoingUp = state.stage === 'rebuild' || (state.stage === 'match' && state.plan.chosen !== null);
  if (isGoingUp && state.pack.isOnBench) return said(sayRebuildNext(known.rebuild, profile));
  if (state.stage === 'handOver') return said(findHandOver(state, profile).next?.todo ?? null);
  if (state.stage === 'cool') return said(findCooling(state, profile).next);
  if (state.stage === 'rebuild' || state.stage === 'refit')
    return said(refitOf(state, profile, known.ledger, isolation.back).next?.todo ?? null);
  if (!isPartingUsual(state, profile)) return null;
  if (!state.pack.isOnBench) return said(sayPiece(profile.zones, known.ledger, state, profile) ?? 'lift the pack out');
  const act = findNext(state.pack, findModuleVolts(state, profile), profile);
  // once the modules are measured nobody is led back to a piece that was not counted
  const isOpening = STAGES.indexOf(state.stage) <= STAGES.indexOf('open');
  return said(act?.label ?? (isOpening ? sayPiece(profile.layers, known.ledger, state, profile) : null));
}

/** Computed where it is asked for. */
function knowLate(state: JobState, profile: Profile): { readonly rebuild: Rebuild; readonly ledger: Balance } {
  return {
    get rebuild() {
      return findRebuild({ ...state, volts: restingVolts(state) }, profile);
    },
    get ledger() {
      return findLedger(state, profile);
    },
  };
}

/** The first piece that is still in, of places that were not said to be off. */
function sayPiece(places: readonly (Zone | Layer)[], balance: Balance, state: JobState, profile: Profile): string | null {
  const begun = listPlaces(places, balance).find((p) => p.inPlace > 0 && !isLayerOff(p.place, state, profile));
  const part = begun?.parts.find((b) => (countInPlace(b) ?? 0) > 0);
  return begun && part ? `${part.part.name}, ${part.part.where} (${begun.place.name})` : null;
}

/** Whether stating the fact of a layer would change nothing; layers without one are off when all their parts are. */
function isLayerOff(place: Zone | Layer, state: JobState, profile: Profile): boolean {
  return 'fact' in place && place.fact !== null && isSo(state.pack, place.fact, profile);
}

/** As it follows on "Next:"; what is written in capitals stays so. */
function lower(text: string): string {
  return /^[A-Z][a-z]/.test(text) ? text.slice(0, 1).toLowerCase() + text.slice(1) : text;
}
