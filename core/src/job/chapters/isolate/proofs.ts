/** Which proof stands, and what makes one lapse. */
import type { Effect, PackState } from '../../../pack/effect.ts';
import type { Join } from '../../../pack/join.ts';
import type { ProofReading } from '../../../isolate/proof.ts';
import type { EventHeader } from '../chapter.ts';
import { isAfter, stampOf } from '../stamp.ts';
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

/** How far a clock may stand behind the last event before the age of a proof cannot be told: more than servers differ, less than a break. */
const SET_BACK_MILLISECOND = MINUTE;
const SET_BACK = 'The server’s clock was set back: how old the proof is cannot be told.';

/** Why a signed proof has ended by a time, as a sentence; null while it has not. */
export function endedByTime(proof: ProofRecord, lastAt: string, now: number): { readonly at: number; readonly reason: string } | null {
  if (!proof.signed) return null;
  if (now < Date.parse(lastAt) - SET_BACK_MILLISECOND) return { at: Date.parse(lastAt), reason: SET_BACK };
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

/** How many touches of plug, 12 V and key, and the like, are remembered: a proof is taken within minutes. */
const TOUCHES_KEPT = 40;

/** Highest magnitude at the posts among the last readings of each kind; null where none was taken. */
export function highestAtPosts(readings: readonly Pick<ProofReading, 'entry' | 'volt'>[]): number | null {
  const last = new Map(readings.map((r) => [r.entry, Math.abs(r.volt)]));
  const volts = [...last].filter(([entry]) => !entry.startsWith('known')).map(([, volt]) => volt);
  return volts.length > 0 ? Math.max(...volts) : null;
}

/** Ends the standing proof, unless what happened was certainly before its first reading. */
function lapseUnlessBefore(slice: IsolateState, reason: string, header: EventHeader): void {
  const [first] = standingProof(slice)?.readings ?? [];
  if (first && isAfter(first.stamp, stampOf(header))) return;
  lapse(slice, `${reason}.`, header);
}

/** Energy was or may have been switched: what was read before proves nothing, and no proof over it stands. */
function noteSwitched(slice: IsolateState, what: string, header: EventHeader): void {
  slice.touched = [...slice.touched.slice(1 - TOUCHES_KEPT), { ...stampOf(header), what }];
  lapseUnlessBefore(slice, what, header);
}

const TOUCHED = { key: 'The key', twelveVolt: 'The 12 V', plug: 'The plug' } as const;

/** What an effect does to proof and wait; `pack` is as it was before. A late one ends proofs all the same, and moves nothing. */
export function hearIsolate(slice: IsolateState, effect: Effect, header: EventHeader, pack: PackState, isLate: boolean): void {
  const { at, number, by } = header;
  switch (effect.kind) {
    case 'elapsed': {
      noteGap(slice, number, (Date.parse(at) - Date.parse(effect.since)) / MINUTE);
      const proof = standingProof(slice);
      const ended = proof && endedByTime(proof, effect.since, Date.parse(at));
      // by a clock that was set back, capacitors drain from now on at the latest
      if (slice.plugOutAt !== null && slice.plugOutAt > at) slice.plugOutAt = at;
      if (slice.twelveVoltOffAt !== null && slice.twelveVoltOffAt > at) slice.twelveVoltOffAt = at;
      if (proof && ended) proof.lapsed = { at: new Date(ended.at).toISOString(), number, reason: ended.reason };
      return;
    }
    case 'touched':
      noteSwitched(slice, `${TOUCHED[effect.what]} was touched`, header);
      if (isLate) return;
      slice.touches[effect.what] = { by, at, number };
      // put back in place: a wait that ran is over, and with it what it was lengthened by
      if (slice.plugOutAt !== null && slice.twelveVoltOffAt !== null && isPutBack(effect)) slice.lengthened = [];
      // a part said to be out again while it is out does not begin the wait anew; one that comes out does
      if (effect.what === 'plug') slice.plugOutAt = effect.isIn ? null : (slice.plugOutAt ?? at);
      if (effect.what === 'twelveVolt') slice.twelveVoltOffAt = effect.isOff ? (slice.twelveVoltOffAt ?? at) : null;
      return;
    case 'bared':
      if (effect.what !== 'carSide') return;
      if (effect.how === 'closed' && (isLate || pack.connectors !== 'closed'))
        lapseUnlessBefore(slice, 'The HV cables were joined again', header);
      if (effect.how === 'open' && (isLate || pack.connectors === 'insulated'))
        lapseUnlessBefore(slice, 'The HV posts were opened again', header);
      return;
    case 'moved':
      if (effect.what === 'pack' && !effect.isOnBench && (isLate || pack.isOnBench))
        lapseUnlessBefore(slice, 'The pack went back into the car', header);
      if (effect.what === 'module' && effect.moduleId !== null && pack.places[effect.place - 1]?.holds !== 'module')
        noteSwitched(slice, `A module was put to place ${effect.place}`, header);
      return;
    case 'charged':
      noteSwitched(slice, sayCharged(effect), header);
      return;
    case 'energised':
      noteSwitched(slice, effect.seen, header);
      return;
    case 'joined':
    case 'parted': {
      const joined = sayJoined(effect, pack, isLate);
      if (joined !== null) noteSwitched(slice, joined, header);
      return;
    }
    case 'measured':
    case 'stowed':
      return;
  }
}

function sayCharged(effect: Extract<Effect, { kind: 'charged' }>): string {
  if (effect.by === 'said') return 'The pack was charged';
  return effect.volt === null ? 'A source was taken off the pack' : 'A source was joined to the pack';
}

/**
 * What brings a voltage to posts that were dead: contactors shut, a relay block that is back and may be, a string that is whole again.
 * Null where an effect brings none.
 */
function sayJoined(effect: Extract<Effect, { kind: 'joined' | 'parted' }>, pack: PackState, isLate: boolean): string | null {
  if (effect.what === 'contactors') {
    if (effect.are === 'shut') return 'The contactors were stated shut';
    return effect.are !== 'takenOut' && (isLate || pack.contactors === 'takenOut') ? 'The relay block was put back' : null;
  }
  if (effect.kind === 'parted') return null;
  if (effect.what === 'harness') return isLate || pack.isHarnessUnplugged ? 'The sense harness was plugged in' : null;
  const isJoined = ({ a, b }: Join): boolean => pack.joins.some((j) => j.a === a && j.b === b);
  return isLate || effect.links.some((j) => !isJoined(j)) ? 'Links of the string were joined' : null;
}

function isPutBack(effect: Extract<Effect, { kind: 'touched' }>): boolean {
  return (effect.what === 'plug' && effect.isIn) || (effect.what === 'twelveVolt' && !effect.isOff);
}

/** Keeps, for every moment, the longest time since then in which nothing was recorded. */
function noteGap(slice: IsolateState, number: number, minute: number): void {
  if (!(minute >= 1)) return;
  while ((slice.gaps.at(-1)?.minute ?? Infinity) <= minute) slice.gaps.pop();
  slice.gaps.push({ number, minute });
}

/** The longest time in which nothing was recorded after an event, in minutes. */
export function longestGapSince({ gaps }: IsolateState, number: number): number {
  return gaps.find((g) => g.number > number)?.minute ?? 0;
}

/** Takes a reading out of what counts; a signed proof that rested on it ends. */
export function withdrawReading(slice: IsolateState, commandId: string, { at, number }: EventHeader): void {
  slice.orphans = slice.orphans.filter((r) => r.commandId !== commandId);
  for (const proof of slice.proofs) {
    const left = proof.readings.filter((r) => r.commandId !== commandId);
    if (left.length === proof.readings.length) continue;
    proof.readings = left;
    if (proof.signed && !proof.lapsed) proof.lapsed = { at, number, reason: 'A reading of it was taken back.' };
  }
}
