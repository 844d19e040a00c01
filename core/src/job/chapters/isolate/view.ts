/**
 * Where a job stands on the way to dead: each step with who did it, the wait by the server's clock, what the readings say, what
 * still keeps it from being signed, and whether a signed proof stands. Derived from the state and the time; never stored.
 */
import { findFaultPlace, findInsulation, REQUIRED_OHM_PER_VOLT, type Insulation } from '../../../isolate/insulation.ts';
import { planSteps, waitMinutes, type Step } from '../../../isolate/procedure.ts';
import type { IsolationPolicy } from '../../../isolate/policy.ts';
import { judgeProof, sayTime, type ProofFinding } from '../../../isolate/proof.ts';
import { localTime } from '../../../quantity/calendar.ts';
import { stringVolt, type Profile } from '../../../pack/profile.ts';
import { answer, refuse, type Result } from '../../../result.ts';
import { isSamePoint } from '../../../pack/point.ts';
import type { PackState } from '../../../pack/effect.ts';
import type { Fact } from '../../../pack/fact.ts';
import type { Mark } from '../chapter.ts';
import { isAfter } from '../stamp.ts';
import { endedByTime, highestAtPosts, longestGapSince, standingProof } from './proofs.ts';
import type { IsolateState, ProofRecord } from './state.ts';

const MINUTE = 60_000;
/** Of the highest working voltage, what the pack must have for its own voltage to measure by; common practice, no source. */
const LEAST_SHARE = 0.5;

/** What of a job isolation is seen by. */
export interface IsolateScene {
  readonly isolate: IsolateState;
  readonly pack: PackState;
  /** Statements that do not stand and may yet be so. */
  readonly late: readonly { readonly fact: Fact }[];
  /** Time of the last event, ISO 8601. */
  readonly lastAt: string;
}

export type StepStatus = 'done' | 'overridden' | 'open';

export interface StepView extends Step {
  readonly status: StepStatus;
  readonly mark: Mark | null;
  /** What stands beside it: custody, gear, reason of an override; empty where nothing does. */
  readonly detail: string;
}

export interface Standing {
  readonly proof: ProofRecord;
  /** When it ends if nothing is touched before, epoch milliseconds. */
  readonly endsAt: number;
  /** Highest voltage it measured at the posts. */
  readonly volt: number;
}

export interface Isolation {
  readonly steps: readonly StepView[];
  /** The first step that is still open; null when all are done. */
  readonly nextId: string | null;
  readonly wait: { readonly minutes: number; readonly endsAt: number | null; readonly isOver: boolean };
  /** The proof being taken: the latest that is not signed. */
  readonly proof: ProofRecord | null;
  readonly finding: ProofFinding | null;
  readonly standing: Standing | null;
  /** Why the last signed proof no longer stands; null where none was signed or it stands. */
  readonly lapse: { readonly at: number; readonly reason: string; readonly proof: ProofRecord } | null;
  /** What keeps the proof from being signed; empty when it can be. */
  readonly blockers: readonly string[];
  readonly insulation: InsulationFinding | null;
  /** A voltage that stood at posts and fell with no time, until dead was proven there since; null where none does. */
  readonly steady: Steady | null;
  /** Which the shop puts back on first. */
  readonly back: IsolationPolicy['back'];
}

export interface Steady {
  readonly volt: number;
  readonly point: string;
  readonly at: number;
}

export interface InsulationFinding {
  readonly mark: Mark;
  /** Least that is asked for, by whether the cables joined the pack to the inverter. */
  readonly ohmPerVoltRequired: number;
  readonly result: Result<Insulation>;
  /** Modules up from the negative end, one fault assumed; null where it cannot be told. */
  readonly modulesFromNegative: number | null;
}

/** The signed proof that stands at a time, or null. Without a time (`Infinity`) none does. */
export function findStanding(state: IsolateScene, now: number): Standing | null {
  const proof = standingProof(state.isolate);
  if (!proof?.signed || !Number.isFinite(now) || endedByTime(proof, state.lastAt, now)) return null;
  const { until, breakMinute } = proof.signed;
  const endsAt = Math.min(Date.parse(state.lastAt) + breakMinute * MINUTE, until === null ? Infinity : Date.parse(until));
  return { proof, endsAt, volt: measuredVolt(proof) };
}

/** Whether the stage is done: a proof stands, or the pack is out with its plug. */
export function isIsolated(state: IsolateScene, now: number): boolean {
  return state.pack.isOnBench ? !state.pack.isPlugIn : findStanding(state, now) !== null;
}

/** Highest magnitude that a proof measured at the posts: once it is signed, later readings raise it and never lower it. */
export function measuredVolt({ signed, readings }: ProofRecord): number {
  if (!signed) return highestAtPosts(readings) ?? 0;
  return Math.max(signed.volt, highestAtPosts(readings.filter((r) => r.number > signed.number)) ?? 0);
}

/** The wait for the capacitors: how long, and when it is over by the server's clock; null while plug or 12 V is in place. */
export function findWait(
  state: IsolateScene,
  profile: Profile,
  policy: IsolationPolicy,
): { readonly minutes: number; readonly endsAt: number | null } {
  const { plugOutAt, twelveVoltOffAt, lengthened } = state.isolate;
  const minutes = waitMinutes(profile, policy);
  // lengthened before it began, it is lengthened all the same
  if (plugOutAt === null || twelveVoltOffAt === null) return { minutes, endsAt: null };
  const began = Math.max(Date.parse(plugOutAt), Date.parse(twelveVoltOffAt));
  const extra = lengthened.reduce((sum, l) => sum + l.minute, 0);
  return { minutes: minutes + extra, endsAt: began + (minutes + extra) * MINUTE };
}

/** @param now server time, epoch milliseconds */
export function findIsolation(state: IsolateScene, profile: Profile, policy: IsolationPolicy, now: number): Isolation {
  const { isolate } = state;
  const { minutes, endsAt } = findWait(state, profile, policy);
  const wait = { minutes, endsAt, isOver: endsAt !== null && now >= endsAt };
  const standing = findStanding(state, now);
  const proof = isolate.proofs.findLast((p) => p.signed === null) ?? null;
  const last = isolate.proofs.findLast((p) => p.signed !== null) ?? null;
  const isNewer = proof !== null && proof.number > (last?.number ?? 0);
  const open = isNewer ? proof : null;
  const plan = planSteps(profile, policy);
  const finding = open ? judge(state, open, endsAt, plan) : null;
  const insulation = findInsulationState(isolate, profile);
  const view: Views = { state, policy, now, wait, standing, insulation };
  const steps = plan.map((step) => viewStep(step, view));
  return {
    ...{ steps, wait, finding, standing, insulation, proof: open, steady: findSteady(state), back: policy.back },
    nextId: steps.find((s) => s.status === 'open')?.id ?? null,
    lapse: standing ? null : findLapse(state, last, now),
    blockers: [...listFeeding(state), ...findBlockers(steps, finding, open, policy, now)],
  };
}

function findLapse(state: IsolateScene, last: ProofRecord | null, now: number): Isolation['lapse'] {
  if (!last) return null;
  if (last.lapsed) return { at: Date.parse(last.lapsed.at), reason: last.lapsed.reason, proof: last };
  const ended = endedByTime(last, state.lastAt, now);
  return ended ? { ...ended, proof: last } : null;
}

function judge(state: IsolateScene, proof: ProofRecord, waitEndsAt: number | null, plan: readonly Step[]): ProofFinding {
  const { touched, proofs } = state.isolate;
  const history = proofs
    .filter((p) => isSamePoint(p.point, proof.point) && p.number <= proof.number)
    .flatMap((p) => p.readings.filter((r) => r.entry === 'plusMinus' && touched.every((t) => isAfter(r.stamp, t))));
  const { readings, known, limitVolt, resolutionVolt } = proof;
  const whyNotResting = findWhyNotResting(state, proof, plan);
  return judgeProof({ readings, known, limitVolt, resolutionVolt, waitEndsAt, whyNotResting, history });
}

/** What the first reading of a proof must be younger than and is not. */
function findWhyNotResting({ isolate }: IsolateScene, { readings }: ProofRecord, plan: readonly Step[]): string | null {
  const first = readings.findLast((r) => r.entry === 'knownBefore');
  if (!first) return null;
  const touch = isolate.touched.find((t) => !isAfter(first.stamp, t));
  if (touch) return `${touch.what} after the first of these readings.`;
  const proofStep = plan.find((s) => s.kind === 'proof');
  for (const id of proofStep?.restsOn ?? []) {
    const said = isolate.steps.get(id);
    if (said && said.number > first.number) {
      const title = plan.find((s) => s.id === id)?.title ?? id;
      return `"${title}" was done after the first of these readings.`;
    }
  }
  return null;
}

/**
 * A steady voltage at a point, by the last proof taken there, or by an earlier one while no later one there came out dead: it is no
 * capacitor draining, and it stays said until it is resolved.
 */
export function findSteady(state: IsolateScene): Steady | null {
  if (state.pack.contactors === 'takenOut') return null;
  const resolved: ProofRecord[] = [];
  for (const proof of state.isolate.proofs.toReversed()) {
    if (proof.signed) resolved.push(proof);
    if (resolved.some((r) => isSamePoint(r.point, proof.point))) continue;
    const { verdict, highestVolt, counting } = judge(state, proof, null, []);
    if (verdict === 'steady') return { volt: highestVolt ?? 0, point: proof.point.label, at: counting.plusMinus?.readAt ?? 0 };
  }
  return null;
}

/** What feeds the posts by the record, or may: over none of it can dead be proven. */
function listFeeding({ pack, late }: Pick<IsolateScene, 'pack' | 'late'>): string[] {
  const words = late.map(({ fact }) => fact);
  const volts = words.flatMap((f) => (f.kind === 'charger' ? (f.volt ?? []) : [])).concat(pack.chargerVolt ?? []);
  const areShut = pack.contactors === 'shut' || words.some((f) => f.kind === 'contactors' && f.are === 'shut');
  return [
    ...(volts.length > 0 ? [`A source of ${Math.max(...volts)} V is stated on the pack: take it off and say so first.`] : []),
    ...(areShut ? ['The contactors are stated shut: say how they stand before dead is proven.'] : []),
  ];
}

/** What keeps a proof from being signed. None of it can be talked away where the step cannot be overridden. */
function findBlockers(
  steps: readonly StepView[],
  finding: ProofFinding | null,
  proof: ProofRecord | null,
  policy: IsolationPolicy,
  now: number,
): string[] {
  if (!finding || !proof) return ['No proof is being taken.'];
  const open = steps.filter((s) => s.status === 'open' && s.kind !== 'proof').map((s) => `Not done: ${s.title}.`);
  if (finding.verdict !== 'dead') return [...open, finding.sentence];
  const last = finding.counting.knownAfter;
  const isStale = last !== undefined && now - Math.min(last.readAt, last.keptAt) > policy.breakMinute * MINUTE;
  return isStale ? [...open, `The readings are older than ${policy.breakMinute} minutes: take them again.`] : open;
}

function findInsulationState({ insulation }: IsolateState, profile: Profile): InsulationFinding | null {
  const last = insulation[insulation.length - 1];
  if (!last) return null;
  const mark = { by: last.by, at: last.at, number: last.number };
  const workingVolt = stringVolt(profile);
  const ohmPerVoltRequired = last.isAcJoined ? REQUIRED_OHM_PER_VOLT.ac : REQUIRED_OHM_PER_VOLT.dc;
  if ('tested' in last) {
    const ohm = Math.min(last.tested.minusOhm, last.tested.plusOhm);
    const ohmPerVolt = ohm / workingVolt;
    const found = answer({ ohm, ohmPerVolt, passes: ohmPerVolt >= ohmPerVoltRequired });
    // two resistances to the chassis name a pole, not a place in the string
    return { mark, result: found, ohmPerVoltRequired, modulesFromNegative: null };
  }
  const { packVolt, minusChassisVolt, plusChassisVolt, withResistorVolt, resistorOhm } = last.read;
  const higherVolt = Math.max(minusChassisVolt, plusChassisVolt);
  const result =
    packVolt < workingVolt * LEAST_SHARE
      ? refuse('impossible', `${packVolt} V is too little of ${workingVolt} V to judge insulation by: take an insulation tester.`, [
          'packVolt',
        ])
      : findInsulation({ packVolt, withResistorVolt, resistorOhm, workingVolt, higherVolt, ohmPerVoltRequired });
  const place = findFaultPlace({
    moduleCount: profile.moduleCount,
    negativeToChassisVolt: minusChassisVolt,
    positiveToChassisVolt: plusChassisVolt,
  });
  return { mark, result, ohmPerVoltRequired, modulesFromNegative: place.kind === 'answer' ? place.value.modulesFromNegative : null };
}

interface Views {
  readonly state: IsolateScene;
  readonly policy: IsolationPolicy;
  readonly now: number;
  readonly wait: Isolation['wait'];
  readonly standing: Standing | null;
  readonly insulation: InsulationFinding | null;
}

function viewStep(step: Step, view: Views): StepView {
  const done = findDone(step, view);
  if (done) return { ...step, status: 'done', ...done };
  const override = findOverride(step, view);
  if (override) return { ...step, status: 'overridden', mark: override, detail: override.reason };
  return { ...step, status: 'open', mark: null, detail: sayOpen(step, view) };
}

/** An override counts for one proof: it ends with the proof that rested on it. */
function findOverride(step: Step, view: Views): IsolateState['overrides'][number] | null {
  if (!step.canBeOverridden) return null;
  const since = view.state.isolate.proofs.reduce((latest, p) => Math.max(latest, p.lapsed?.number ?? 0), 0);
  // one that came as the first act after a break ended the proof by the time alone: it counts for the next
  const last = view.state.isolate.overrides.findLast((o) => o.stepId === step.id && o.number >= since);
  return last && isFresh(last, view) ? last : null;
}

function findDone(step: Step, view: Views): { mark: Mark | null; detail: string } | null {
  const { state, policy, now, wait, standing, insulation } = view;
  const { pack, isolate } = state;
  switch (step.kind) {
    case 'key':
      return pack.isKeyAway ? { mark: isolate.touches.key, detail: sayCustody(pack.keyCustody) } : null;
    case 'twelveVolt':
      return pack.isTwelveVoltOff ? { mark: isolate.touches.twelveVolt, detail: '' } : null;
    case 'plug':
      return pack.isPlugIn ? null : { mark: isolate.touches.plug, detail: sayCustody(pack.plugCustody) };
    case 'gear': {
      const pick = isolate.picks.findLast((p) => p.use === 'gloves');
      // the air test is for the day (29 CFR 1910.137)
      const today = localTime(now, policy.timeZone).date;
      return pick?.isAirTested && localTime(Date.parse(pick.at), policy.timeZone).date === today
        ? { mark: pick, detail: `${pick.gearId}, air test passed today` }
        : null;
    }
    case 'wait':
      return wait.isOver ? { mark: null, detail: `${wait.minutes} min are over` } : null;
    case 'proof':
      return standing
        ? { mark: standing.proof.signed, detail: `at most ${standing.volt.toFixed(1)} V, meter ${standing.proof.meterId}` }
        : null;
    case 'insulation':
      return insulation?.result.kind === 'answer' && insulation.result.value.passes
        ? { mark: insulation.mark, detail: `${Math.round(insulation.result.value.ohmPerVolt)} ohm per volt` }
        : null;
    case 'secondPerson':
    case 'extra': {
      const said = isolate.steps.get(step.id);
      return said && isFresh(said, view) ? { mark: said, detail: said.note } : null;
    }
  }
}

/** What somebody said counts until a break, the end of the shift or the day. */
function isFresh({ at, number }: Mark, { state, policy, now }: Views): boolean {
  const { isolate, lastAt } = state;
  const isSameDay = localTime(Date.parse(at), policy.timeZone).date === localTime(now, policy.timeZone).date;
  const gap = Math.max(longestGapSince(isolate, number), (now - Date.parse(lastAt)) / MINUTE);
  return isSameDay && gap <= policy.breakMinute && isolate.shiftNumber < number;
}

function sayOpen(step: Step, view: Views): string {
  const { wait, now, insulation, state } = view;
  if (state.isolate.steps.has(step.id) && (step.kind === 'secondPerson' || step.kind === 'extra'))
    return 'said before a break or another day: say it again';
  if (step.kind === 'wait' && wait.endsAt !== null) return `${sayTime((wait.endsAt - now) / 1000)} to go`;
  if (step.kind === 'insulation' && insulation)
    return insulation.result.kind === 'answer'
      ? `${Math.round(insulation.result.value.ohmPerVolt)} ohm per volt: too low`
      : insulation.result.message;
  return '';
}

function sayCustody(custody: string | null): string {
  return custody === null ? 'custody not said' : `held: ${custody}`;
}
