/** The line across a job: what was stated, each change of exposure, then what the profile plans from here on. */
import { provesCarSide } from '../../pack/point.ts';
import { wholePack, type PackState } from '../../pack/effect.ts';
import { applyFact, isSameFact, type Fact } from '../../pack/fact.ts';
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import { findStanding, measuredVolt } from '../chapters/isolate/view.ts';
import { stagesOf } from '../frame/stages.ts';
import type { JobState } from '../frame/state.ts';
import { exposePack, NO_TIME, type TraceVolts } from './exposure.ts';
import { findModuleVolts } from './volts.ts';

export interface TracePoint {
  readonly stage: Stage;
  readonly reachableVolt: number;
  readonly behindVolt: number;
  /** Number of the event; null for a planned act and for a lapse by the time alone. */
  readonly number: number | null;
  readonly cause: Fact | 'proven' | 'lapsed';
}

interface TraceStep {
  readonly number: number;
  readonly stage: Stage;
  readonly cause: TracePoint['cause'];
  /** What a proof measured from here on; undefined: as before. */
  readonly provenVolt?: number | null;
}

/** Facts, signatures and lapses in the order kept. A lapse by a fact comes with the fact itself. */
function listTraceSteps(state: JobState): TraceStep[] {
  const steps: TraceStep[] = state.facts.map(({ stage, fact, number }) => ({ stage, number, cause: fact }));
  for (const proof of state.isolate.proofs) {
    if (!proof.signed || !provesCarSide(proof.point)) continue;
    steps.push({ number: proof.signed.number, stage: 'isolate', cause: 'proven', provenVolt: measuredVolt(state, proof) });
    // just before the fact of the same number, which was stated without it
    if (proof.lapsed) steps.push({ number: proof.lapsed.number - 0.5, stage: 'isolate', cause: 'lapsed', provenVolt: null });
  }
  return steps.sort((a, b) => a.number - b.number);
}

/** What was done, with the voltages at each point, and what is planned. */
export function traceExposure(
  state: JobState,
  profile: Profile,
  now = NO_TIME,
): { readonly start: TraceVolts; readonly done: TracePoint[]; readonly planned: TracePoint[] } {
  const modules = findModuleVolts(state, profile);
  let provenVolt: number | null = null;
  const measure = (pack: PackState): TraceVolts => {
    const { reachable, behind } = exposePack(pack, modules, profile, provenVolt, 'volts');
    return { reachableVolt: reachable.volt, behindVolt: behind.volt };
  };
  let pack: PackState = wholePack(profile);
  const start = measure(pack);
  const done: TracePoint[] = [];
  for (const { stage, cause, number, provenVolt: changed } of listTraceSteps(state)) {
    if (changed !== undefined) provenVolt = changed;
    if (typeof cause !== 'string') pack = applyFact(pack, cause, profile);
    done.push({ stage, cause, number: Math.ceil(number), ...measure(pack) });
  }
  if (provenVolt !== null && findStanding(state, now) === null) {
    provenVolt = null;
    done.push({ stage: state.stage, cause: 'lapsed', number: null, ...measure(pack) });
  }
  const planned: TracePoint[] = [];
  for (const { stage, fact } of remainingProcedure(state, profile)) {
    pack = applyFact(pack, fact, profile);
    planned.push({ stage, cause: fact, number: null, ...measure(pack) });
  }
  return { start, done, planned };
}

/** Acts of the profile's procedure that still lie ahead: after the last one that was stated. */
function remainingProcedure(state: JobState, profile: Profile): Profile['procedure'] {
  let next = 0;
  for (const { stage, fact } of state.facts) {
    const at = profile.procedure.findIndex((p, i) => i >= next && p.stage === stage && isSameFact(p.fact, fact));
    if (at >= 0) next = at + 1;
  }
  const stages = new Set(stagesOf(state, profile));
  return profile.procedure.slice(next).filter((step) => stages.has(step.stage));
}
