/** The line across a job: what was stated, each change of exposure, then what the profile plans from here on. */
import { wholePack, type PackState } from '../../pack/effect.ts';
import { applyFact, isSameFact, type Fact } from '../../pack/fact.ts';
import { hazardsOf, joinHazards } from '../../pack/hazard.ts';
import type { Profile } from '../../pack/profile.ts';
import type { Stage } from '../../pack/stage.ts';
import { findStanding, measuredVolt } from '../chapters/isolate/view.ts';
import { stagesOf } from '../frame/stages.ts';
import type { JobState, StatedFact } from '../frame/state.ts';
import { accountOf, NO_TIME, NOTHING_PROVEN, provenBy, traceVolts, type Proven, type TraceVolts } from './account.ts';
import { findModuleVolts } from './volts.ts';

export interface TracePoint {
  readonly stage: Stage;
  readonly reachableVolt: number;
  readonly behindVolt: number;
  /** Number of the event; null for a planned act, for a lapse by the time alone and for what is counted otherwise than stated. */
  readonly number: number | null;
  readonly cause: Fact | 'proven' | 'lapsed' | 'counted';
}

interface TraceStep {
  readonly number: number;
  readonly stage: Stage;
  readonly cause: TracePoint['cause'];
  /** How a fact came; null where it stood. */
  readonly came: StatedFact['came'];
  /** What is proven from here on; undefined: as before. */
  readonly proven?: Proven;
}

/** Facts, signatures and lapses in the order kept. A lapse by a fact comes with the fact itself. */
function listTraceSteps(state: JobState): TraceStep[] {
  const steps: TraceStep[] = state.facts.map(({ stage, fact, number, came }) => ({ stage, number, cause: fact, came }));
  for (const proof of state.isolate.proofs) {
    if (!proof.signed) continue;
    const proven = provenBy({ proof, volt: measuredVolt(proof) });
    steps.push({ number: proof.signed.number, stage: 'isolate', cause: 'proven', came: null, proven });
    // just before the fact of the same number, which was stated without it
    if (proof.lapsed)
      steps.push({
        number: proof.lapsed.number - 0.5,
        stage: stageAt(state, proof.lapsed.number),
        cause: 'lapsed',
        came: null,
        proven: NOTHING_PROVEN,
      });
  }
  return steps.sort((a, b) => a.number - b.number);
}

/** The stage that the work was at when an event came, as far as facts tell. */
function stageAt({ facts }: JobState, number: number): Stage {
  return facts.findLast((f) => f.number < number)?.stage ?? 'isolate';
}

/** What was done, with the voltages at each point, and what is planned. */
export function traceExposure(
  state: JobState,
  profile: Profile,
  now = NO_TIME,
): { readonly start: TraceVolts; readonly done: TracePoint[]; readonly planned: TracePoint[] } {
  const modules = findModuleVolts(state, profile);
  let proven: Proven = NOTHING_PROVEN;
  let late: Fact[] = [];
  const measure = (pack: PackState): TraceVolts => {
    const hazards = late.reduce((worst, fact) => joinHazards(worst, hazardsOf(applyFact(pack, fact, profile))), hazardsOf(pack));
    return traceVolts({ hazards, modules, proven }, profile);
  };
  let pack: PackState = wholePack(profile);
  if (state.intake.opened?.kind === 'benchOnly') pack = applyFact(pack, { kind: 'pack', isOnBench: true }, profile);
  const start = measure(pack);
  const done: TracePoint[] = [];
  for (const { stage, cause, number, came, proven: changed } of listTraceSteps(state)) {
    if (changed !== undefined) proven = changed;
    if (typeof cause !== 'string') {
      const thing = thingOf(cause);
      if (came === null) {
        pack = applyFact(pack, cause, profile);
        late = late.filter((f) => thingOf(f) !== thing);
      } else late.push(cause);
    }
    done.push({ stage, cause, number: Math.ceil(number), ...measure(pack) });
  }
  if (proven !== NOTHING_PROVEN && findStanding(state, now) === null) {
    proven = NOTHING_PROVEN;
    done.push({ stage: state.stage, cause: 'lapsed', number: null, ...measure(pack) });
  }
  // the line ends where the number stands, whatever the counts say besides
  const present = traceVolts(accountOf(state, profile, now), profile);
  const last = done.at(-1) ?? start;
  if (Math.abs(present.reachableVolt - last.reachableVolt) > 1e-6)
    done.push({ stage: state.stage, cause: 'counted', number: null, ...present });
  const planned: TracePoint[] = [];
  late = [];
  for (const { stage, fact } of remainingProcedure(state, profile)) {
    pack = applyFact(pack, fact, profile);
    planned.push({ stage, cause: fact, number: null, ...measure(pack) });
  }
  return { start, done, planned };
}

/** What a fact speaks of, as far as the drawing tells things apart. */
function thingOf(fact: Fact): string {
  if (fact.kind === 'module') return `place ${fact.place}`;
  return fact.kind === 'frame' || fact.kind === 'links' ? 'links' : fact.kind;
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
