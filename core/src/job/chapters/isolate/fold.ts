import { markOf, type Decided, type EventHeader } from '../chapter.ts';
import type { ISOLATE_TRAITS, IsolateAct } from './acts.ts';
import { decideIsolate } from './decide.ts';
import { hearIsolate, lapse, standingProof, withdrawReading } from './proofs.ts';
import type { IsolateState } from './state.ts';

/** The chapter of making dead. */
export const isolate: Decided<IsolateState, IsolateAct, typeof ISOLATE_TRAITS> = {
  start: () => ({
    ...{ steps: new Map(), picks: [], lengthened: [], overrides: [], proofs: [], insulation: [] },
    touches: { key: null, twelveVolt: null, plug: null },
    ...{ plugOutAt: null, twelveVoltOffAt: null, touchedNumber: 0 },
  }),
  fold: {
    'step.done': (slice, event) => {
      slice.steps.set(event.body.stepId, { ...markOf(event), note: event.body.note });
    },
    'step.reopened': (slice, event) => {
      slice.steps.delete(event.body.stepId);
    },
    'gear.picked': (slice, event) => {
      slice.picks.push({ ...markOf(event), ...event.body });
    },
    'wait.lengthened': (slice, event) => {
      slice.lengthened.push({ ...markOf(event), ...event.body });
    },
    'proof.started': (slice, event) => {
      const fresh = { proofId: event.commandId, readings: [], asked: null, signed: null, lapsed: null };
      slice.proofs.push({ ...markOf(event), ...event.body, ...fresh });
    },
    'proof.read': takeReading,
    'cosign.asked': (slice, event) => {
      const proof = findProof(slice, event.body.proofId);
      if (proof) proof.asked = markOf(event);
    },
    'proof.signed': (slice, event) => {
      const { proofId, until, breakMinute } = event.body;
      const proof = findProof(slice, proofId);
      if (proof && !proof.signed) proof.signed = { ...markOf(event), until, breakMinute };
    },
    'shift.ended': (slice, event) => {
      lapse(slice, 'The shift ended.', event);
    },
    'step.overridden': (slice, event) => {
      slice.overrides.push({ ...markOf(event), ...event.body });
    },
    'insulation.read': (slice, event) => {
      slice.insulation.push({ ...markOf(event), read: event.body });
    },
    'insulation.tested': (slice, event) => {
      slice.insulation.push({ ...markOf(event), tested: event.body });
    },
  },
  decide: decideIsolate,
  hears: ['elapsed', 'touched', 'bared', 'moved', 'charged'],
  hear: hearIsolate,
  findOdd: (slice, effect, pack) =>
    effect.kind === 'bared' && effect.what === 'carSide' && effect.how === 'insulated' && !pack.isOnBench && standingProof(slice) === null
      ? 'The HV cables were handled while no proof of dead stood.'
      : null,
  withdraw: withdrawReading,
};

function findProof(slice: IsolateState, proofId: string): IsolateState['proofs'][number] | undefined {
  return slice.proofs.find((p) => p.proofId === proofId);
}

/** A reading counts for its proof; one above the limit, or off the known source, ends whatever proof stands. */
function takeReading(slice: IsolateState, event: EventHeader & Extract<IsolateAct, { type: 'proof.read' }>): void {
  const { proofId, entry, volt, isFromMeter } = event.body;
  const proof = findProof(slice, proofId);
  if (!proof) return;
  const { commandId, by, number } = event;
  const [readAt, keptAt] = [Date.parse(event.deviceAt), Date.parse(event.at)];
  proof.readings.push({ entry, volt, isFromMeter, commandId, by, number, readAt, keptAt });
  const isAtPosts = entry !== 'knownBefore' && entry !== 'knownAfter';
  const { lowVolt, highVolt } = proof.known;
  if (!isAtPosts && (Math.abs(volt) < lowVolt || Math.abs(volt) > highVolt)) lapse(slice, 'The meter failed its known source.', event);
  if (isAtPosts && Math.abs(volt) > proof.limitVolt) lapse(slice, `${Math.abs(volt).toFixed(1)} V was read at the posts.`, event);
}
