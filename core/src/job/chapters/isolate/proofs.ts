/** Which proof stands, and what makes one lapse. */
import type { Effect, PackState } from '../../../pack/effect.ts';
import type { EventHeader } from '../chapter.ts';
import type { IsolateState, ProofRecord } from './state.ts';

const MINUTE = 60_000;

/**
 * The proof that was signed last, where no event has ended it; whether it still stands now also hangs on the time. A later signature
 * takes the place of an earlier one for good: when the later lapses, the earlier does not come back.
 */
export function standingProof({ proofs }: IsolateState): ProofRecord | null {
  let last: ProofRecord | null = null;
  for (const proof of proofs) if ((proof.signed?.number ?? 0) > (last?.signed?.number ?? 0)) last = proof;
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

/** Ends the standing proof. */
export function lapse(slice: IsolateState, reason: string, { at, number }: Pick<EventHeader, 'at' | 'number'>): void {
  const proof = standingProof(slice);
  if (proof) proof.lapsed = { at, number, reason };
}

const TOUCHED = { key: 'The key', twelveVolt: 'The 12 V', plug: 'The plug' } as const;

/** What an effect does to proof and wait; `pack` is as it was before. */
export function hearIsolate(slice: IsolateState, effect: Effect, header: EventHeader, pack: PackState): void {
  const { at, number, by } = header;
  switch (effect.kind) {
    case 'elapsed': {
      const proof = standingProof(slice);
      const ended = proof && endedByTime(proof, effect.since, Date.parse(at));
      if (proof && ended) proof.lapsed = { at: new Date(ended.at).toISOString(), number, reason: ended.reason };
      return;
    }
    case 'touched':
      slice.touchedNumber = number;
      slice.touches[effect.what] = { by, at, number };
      lapse(slice, `${TOUCHED[effect.what]} was touched.`, header);
      // a part said to be out again while it is out does not begin the wait anew; one that comes out does
      if (effect.what === 'plug') slice.plugOutAt = effect.isIn ? null : (slice.plugOutAt ?? at);
      if (effect.what === 'twelveVolt') slice.twelveVoltOffAt = effect.isOff ? (slice.twelveVoltOffAt ?? at) : null;
      return;
    case 'bared':
      if (effect.what !== 'carSide') return;
      if (effect.how === 'closed' && pack.connectors !== 'closed') lapse(slice, 'The HV cables were joined again.', header);
      if (effect.how === 'open' && pack.connectors === 'insulated') lapse(slice, 'The HV posts were opened again.', header);
      return;
    case 'moved':
      if (effect.what === 'pack' && !effect.isOnBench && pack.isOnBench) lapse(slice, 'The pack went back into the car.', header);
      return;
    case 'charged':
      if (effect.by === 'source' && effect.volt !== null) lapse(slice, 'A source was joined to the pack.', header);
      return;
    case 'parted':
    case 'joined':
      return;
  }
}

/** Takes a reading out of what counts; a signed proof that rested on it ends. */
export function withdrawReading(slice: IsolateState, commandId: string, { at, number }: EventHeader): void {
  for (const proof of slice.proofs) {
    const left = proof.readings.filter((r) => r.commandId !== commandId);
    if (left.length === proof.readings.length) continue;
    proof.readings = left;
    if (proof.signed && !proof.lapsed) proof.lapsed = { at, number, reason: 'A reading of it was taken back.' };
  }
}
