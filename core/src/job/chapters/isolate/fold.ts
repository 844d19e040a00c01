import { markOf, type EventHeader } from '../chapter.ts';
import { stampOf } from '../stamp.ts';
import type { Chapter } from '../table.ts';
import { ISOLATE, type IsolateAct } from './acts.ts';
import { decideIsolate } from './decide.ts';
import type { Effect, PackState } from '../../../pack/effect.ts';
import { hearIsolate, highestAtPosts, lapse, standingProof, withdrawReading } from './proofs.ts';
import type { IsolateState } from './state.ts';

/** The chapter of making dead. */
export const isolate: Chapter<IsolateState, typeof ISOLATE> = {
  table: ISOLATE,
  start: () => ({
    ...{ steps: new Map(), picks: [], lengthened: [], overrides: [], proofs: [], orphans: [], insulation: [] },
    touches: { key: null, twelveVolt: null, plug: null },
    ...{ plugOutAt: null, twelveVoltOffAt: null, touched: [], gaps: [], shiftNumber: 0 },
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
      const proofId = event.commandId;
      const readings = slice.orphans.filter((r) => r.proofId === proofId).map(({ proofId: _, ...reading }) => reading);
      slice.orphans = slice.orphans.filter((r) => r.proofId !== proofId);
      slice.proofs.push({
        ...markOf(event),
        ...event.body,
        proofId,
        stamp: stampOf(event),
        readings,
        asked: null,
        signed: null,
        lapsed: null,
      });
    },
    'proof.read': takeReading,
    'cosign.asked': (slice, event) => {
      const proof = findProof(slice, event.body.proofId);
      if (proof) proof.asked = markOf(event);
    },
    'proof.signed': (slice, event, pack) => {
      const { proofId, until, breakMinute } = event.body;
      const proof = findProof(slice, proofId);
      if (!proof || proof.signed) return;
      // until the cables are off and insulated, the car's posts and the pack's are one
      const isOutletToo = proof.point.at === 'outletPosts' || (!pack.isOnBench && pack.connectors !== 'insulated');
      proof.signed = { ...markOf(event), until, breakMinute, volt: highestAtPosts(proof.readings) ?? 0, isOutletToo };
    },
    'shift.ended': (slice, event) => {
      slice.shiftNumber = event.number;
      lapse(slice, 'The shift ended.', event);
    },
    'step.overridden': (slice, event) => {
      slice.overrides.push({ ...markOf(event), ...event.body });
    },
    'insulation.read': (slice, event, pack) => {
      slice.insulation.push({ ...markOf(event), isAcJoined: isAcJoined(pack), read: event.body });
    },
    'insulation.tested': (slice, event, pack) => {
      slice.insulation.push({ ...markOf(event), isAcJoined: isAcJoined(pack), tested: event.body });
    },
  },
  effects: {
    // the ends of the string, or what was fed by it
    'proof.read': ({ body: { entry, volt } }, { moduleCount }) =>
      entry === 'plusMinus' || entry === 'minusPlus' ? [{ kind: 'measured', from: 1, to: moduleCount, volt: Math.abs(volt) }] : [],
    'insulation.read': ({ body }, { moduleCount }) => [{ kind: 'measured', from: 1, to: moduleCount, volt: body.packVolt }],
  },
  doubt: {
    'proof.read': endByReading,
  },
  decide: decideIsolate,
  hears: ['elapsed', 'touched', 'bared', 'moved', 'charged', 'parted', 'joined', 'energised'],
  hear: hearIsolate,
  findOdd: (slice, effect, pack) => {
    const what = sayHandled(effect, pack);
    return what === null || isProvenEnough(slice, pack) ? null : `${what} while no proof of dead stood.`;
  },
  withdraw: withdrawReading,
};

function findProof(slice: IsolateState, proofId: string): IsolateState['proofs'][number] | undefined {
  return slice.proofs.find((p) => p.proofId === proofId);
}

/** What an effect says was handled that a proof of dead comes before; null where it is nothing of the kind. */
function sayHandled(effect: Effect, pack: PackState): string | null {
  if (effect.kind === 'bared') {
    if (effect.what === 'carSide') return effect.how === 'insulated' && !pack.isOnBench ? 'The HV cables were handled' : null;
    if (effect.what === 'outletPosts' || !effect.isBare) return null;
    return effect.what === 'case' ? 'The case was opened' : 'The terminal covers came off';
  }
  return effect.kind === 'parted' && effect.what === 'links' ? 'Bus bars came off' : null;
}

/** In the car a proof must stand; on the bench the contactors are out, or dead was proven on this job before. */
function isProvenEnough(slice: IsolateState, pack: PackState): boolean {
  if (!pack.isOnBench) return standingProof(slice) !== null;
  return pack.contactors === 'takenOut' || slice.proofs.some((p) => p.signed !== null);
}

/** Whether the cables join the pack to the inverter, whose side is an alternating-current bus (UN R100, from memory). */
function isAcJoined({ isOnBench, connectors }: PackState): boolean {
  return !isOnBench && connectors === 'closed';
}

/** A reading counts for its proof; one above the limit, or off the known source, ends whatever proof stands. */
function takeReading(slice: IsolateState, event: EventHeader & Extract<IsolateAct, { type: 'proof.read' }>): void {
  const { proofId, entry, volt, isFromMeter } = event.body;
  const proof = findProof(slice, proofId);
  const { commandId, by, number } = event;
  const [readAt, keptAt] = [Date.parse(event.deviceAt), Date.parse(event.at)];
  const reading = {
    ...{ entry, volt, isFromMeter, commandId, by, number, readAt: Math.min(readAt, keptAt), keptAt },
    stamp: stampOf(event),
  };
  if (proof) proof.readings.push(reading);
  else slice.orphans.push({ ...reading, proofId });
  endByReading(slice, event);
}

function endByReading(slice: IsolateState, event: EventHeader & Extract<IsolateAct, { type: 'proof.read' }>): void {
  const { proofId, entry, volt } = event.body;
  const isAtPosts = entry !== 'knownBefore' && entry !== 'knownAfter';
  // of what nobody told yet, the limit of the proof that stands is the one to judge by
  const { known, limitVolt } = findProof(slice, proofId) ?? standingProof(slice) ?? { known: null, limitVolt: Infinity };
  if (!isAtPosts && known && (Math.abs(volt) < known.lowVolt || Math.abs(volt) > known.highVolt))
    lapse(slice, 'The meter failed its known source.', event);
  if (isAtPosts && Math.abs(volt) > limitVolt) lapse(slice, `${Math.abs(volt).toFixed(1)} V was read at the posts.`, event);
}
