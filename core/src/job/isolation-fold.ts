/** How events of isolation change the state of a job: steps, picks, proofs, and what makes a proof lapse. */
import { isTouch, type Fact } from '../pack/fact.ts';
import type { EventHeader, JobEvent } from './event.ts';
import type { JobState, Mark, ProofRecord } from './state.ts';

const MINUTE = 60_000;

function mark({ by, at, number }: EventHeader): Mark {
  return { by, at, number };
}

/**
 * The proof that was signed last, where no event has ended it; whether it still stands now also hangs on the time. A later signature
 * takes the place of an earlier one for good: when the later lapses, the earlier does not come back.
 */
export function standingProof(state: JobState): ProofRecord | null {
  let last: ProofRecord | null = null;
  for (const proof of state.isolation.proofs) if ((proof.signed?.number ?? 0) > (last?.signed?.number ?? 0)) last = proof;
  return last?.lapsed === null ? last : null;
}

/** Why a signed proof has ended by a time, as a sentence; null while it has not. */
export function endedByTime(proof: ProofRecord, lastAt: string, now: number): { readonly at: number; readonly reason: string } | null {
  if (!proof.signed) return null;
  const { until, breakMinute } = proof.signed;
  const breakEnd = Date.parse(lastAt) + breakMinute * MINUTE;
  const shiftEnd = until === null ? Infinity : Date.parse(until);
  const at = Math.min(breakEnd, shiftEnd);
  if (!(now > at)) return null;
  return { at, reason: shiftEnd <= breakEnd ? 'The shift ended.' : `Nothing was recorded for more than ${breakMinute} minutes.` };
}

/** Ends the standing proof where the time since the last event did. */
export function lapseByTime(state: JobState, at: string, number: number): void {
  const proof = standingProof(state);
  const ended = proof && endedByTime(proof, state.lastAt, Date.parse(at));
  if (proof && ended) proof.lapsed = { at: new Date(ended.at).toISOString(), number, reason: ended.reason };
}

function lapse(state: JobState, reason: string, at: string, number: number): void {
  const proof = standingProof(state);
  if (proof) proof.lapsed = { at, number, reason };
}

/** What a fact does to proof and wait; called before the fact is applied to the pack. */
export function lapseOnFact(state: JobState, fact: Fact, at: string, number: number): void {
  const { pack, isolation } = state;
  if (isTouch(fact)) {
    isolation.touchedNumber = number;
    lapse(state, `${fact.kind === 'twelveVolt' ? 'The 12 V' : fact.kind === 'plug' ? 'The plug' : 'The key'} was touched.`, at, number);
  }
  // a part said to be out again while it is out does not begin the wait anew; one that comes out does
  if (fact.kind === 'plug') isolation.plugOutAt = fact.isIn ? null : (isolation.plugOutAt ?? at);
  if (fact.kind === 'twelveVolt') isolation.twelveVoltOffAt = fact.isOff ? (isolation.twelveVoltOffAt ?? at) : null;
  if (fact.kind === 'connectors') {
    const isJoined = fact.are === 'closed' && pack.connectors !== 'closed';
    const isReopened = fact.are === 'open' && pack.connectors === 'insulated';
    if (isJoined || isReopened) lapse(state, isJoined ? 'The HV cables were joined again.' : 'The HV posts were opened again.', at, number);
  }
  if (fact.kind === 'pack' && !fact.isOnBench && pack.isOnBench) lapse(state, 'The pack went back into the car.', at, number);
  if (fact.kind === 'charger' && fact.volt !== null) lapse(state, 'A source was joined to the pack.', at, number);
}

/** Takes a reading out of what counts; a signed proof that rested on it ends. */
export function withdrawProofReading(state: JobState, commandId: string): void {
  for (const proof of state.isolation.proofs) {
    const left = proof.readings.filter((r) => r.commandId !== commandId);
    if (left.length === proof.readings.length) continue;
    proof.readings = left;
    if (proof.signed && !proof.lapsed) proof.lapsed = { at: state.lastAt, number: state.head, reason: 'A reading of it was taken back.' };
  }
}

/** Events that belong to isolation alone; others change nothing here. */
export function applyIsolation(state: JobState, event: JobEvent): void {
  const { isolation } = state;
  switch (event.type) {
    case 'step.done':
      isolation.steps[event.body.stepId] = { ...mark(event), note: event.body.note };
      state.stage = 'isolate';
      return;
    case 'step.reopened':
      Reflect.deleteProperty(isolation.steps, event.body.stepId);
      return;
    case 'gear.picked':
      isolation.picks.push({ ...mark(event), ...event.body });
      return;
    case 'wait.lengthened':
      isolation.lengthened.push({ ...mark(event), ...event.body });
      return;
    case 'proof.started':
      isolation.proofs.push({
        ...mark(event),
        ...event.body,
        proofId: event.commandId,
        readings: [],
        asked: null,
        signed: null,
        lapsed: null,
      });
      state.stage = 'isolate';
      return;
    case 'proof.read':
      takeReading(state, event);
      return;
    case 'cosign.asked': {
      const proof = isolation.proofs.find((p) => p.proofId === event.body.proofId);
      if (proof) proof.asked = mark(event);
      return;
    }
    case 'proof.signed': {
      const proof = isolation.proofs.find((p) => p.proofId === event.body.proofId);
      if (proof && !proof.signed) proof.signed = { ...mark(event), until: event.body.until, breakMinute: event.body.breakMinute };
      return;
    }
    case 'shift.ended':
      lapse(state, 'The shift ended.', event.at, event.number);
      return;
    case 'step.overridden':
      isolation.overrides.push({ ...mark(event), ...event.body });
      return;
    case 'insulation.read':
      isolation.insulation.push({ ...mark(event), read: event.body });
      return;
    case 'insulation.tested':
      isolation.insulation.push({ ...mark(event), tested: event.body });
      return;
    default:
  }
}

/** A reading counts for its proof; one above the limit, or off the known source, ends whatever proof stands. */
function takeReading(state: JobState, event: Extract<JobEvent, { type: 'proof.read' }>): void {
  const { proofId, entry, volt, isFromMeter } = event.body;
  const proof = state.isolation.proofs.find((p) => p.proofId === proofId);
  if (!proof) return;
  const { commandId, by, number } = event;
  proof.readings.push({
    entry,
    volt,
    isFromMeter,
    commandId,
    by,
    number,
    readAt: Date.parse(event.deviceAt),
    keptAt: Date.parse(event.at),
  });
  const isAtPosts = entry !== 'knownBefore' && entry !== 'knownAfter';
  const { lowVolt, highVolt } = proof.known;
  if (!isAtPosts && (Math.abs(volt) < lowVolt || Math.abs(volt) > highVolt))
    lapse(state, 'The meter failed its known source.', event.at, number);
  if (isAtPosts && Math.abs(volt) > proof.limitVolt)
    lapse(state, `${Math.abs(volt).toFixed(1)} V was read at the posts.`, event.at, number);
  state.stage = 'isolate';
}
