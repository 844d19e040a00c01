/** Folding events into the state of a job. Server and browser run the same fold; only the server appends. */
import { applyFact, type Fact, type PackState } from '../pack/fact.ts';
import { linksOf, type Profile } from '../pack/profile.ts';
import type { EventHeader, JobEvent } from './event.ts';
import { applyIsolation, lapseByTime, lapseOnFact, standingProof, withdrawProofReading } from './isolation-fold.ts';
import { startState, type JobState, type Reading, type Sweep, type UndoableType } from './state.ts';
import { applyStrip, withdrawStrip } from './strip-fold.ts';

/** How many acts a person can take back. */
const UNDO_DEPTH = 20;

/** The state after all events, in number order. O(1) an event. */
export function fold(profile: Profile, events: readonly JobEvent[]): JobState {
  const state = startState();
  for (const event of events) apply(state, profile, event);
  return state;
}

/** A new state with the events added; the old one stays as it was. Events already in it are passed over. */
export function extend(state: JobState, profile: Profile, events: readonly JobEvent[]): JobState {
  const fresh = events.filter((e) => e.number > state.head);
  if (fresh.length === 0) return state;
  const next = JSON.parse(JSON.stringify(state)) as JobState;
  for (const event of fresh) apply(next, profile, event);
  return next;
}

/** How many command ids a state remembers; a browser has one act under way at a time. */
const RECENT_IDS = 100;

/** A gap between two events longer than this is a break: nobody worked on the job meanwhile. */
const BREAK_MINUTE = 30;

/** Adds one event to a state that the caller owns. */
export function apply(state: JobState, profile: Profile, event: JobEvent): void {
  const before = state.lastAt;
  applyEvent(state, profile, event);
  if (state.recentIds.at(-1) !== event.commandId) state.recentIds.push(event.commandId);
  if (state.recentIds.length > RECENT_IDS) state.recentIds.shift();
  const minute = before === '' ? 0 : (Date.parse(event.at) - Date.parse(before)) / 60_000;
  // what was done since the last event is what this one tells of
  if (minute > 0 && minute <= BREAK_MINUTE) state.minutes[state.stage] = (state.minutes[state.stage] ?? 0) + minute;
}

function applyEvent(state: JobState, profile: Profile, event: JobEvent): void {
  lapseByTime(state, event.at, event.number);
  state.head = event.number;
  state.lastAt = event.at;
  switch (event.type) {
    case 'job.opened':
      state.opened = { ...event.body, by: event.by, at: event.at };
      state.moduleIds = [...event.body.moduleIds];
      state.policyVersion = event.body.policyVersion;
      return;
    case 'fact.stated': {
      const { stage, fact } = event.body;
      const { number, by, at } = event;
      const isProven = standingProof(state) !== null;
      state.facts.push({ number, stage, by, at, fact, outOfOrder: findOutOfOrder(state.pack, fact, isProven) });
      lapseOnFact(state, fact, at, number);
      state.pack = applyFact(state.pack, fact, linksOf(profile));
      if (fact.kind === 'charged') state.chargedNumber = number;
      state.stage = stage;
      return;
    }
    case 'sweep.started':
      state.sweeps.push(startSweep(event.commandId, event.body, event, null));
      remember(state, event.by, event.commandId, event.type);
      state.stage = 'test';
      return;
    case 'sweep.ended': {
      const sweep = findSweep(state, event.body.sweepId);
      if (sweep) sweep.endedAt = event.at;
      return;
    }
    case 'reading.taken': {
      const { sweepId, quantity, place, value } = event.body;
      const sweep = findSweep(state, sweepId);
      if (sweep) addReading(sweep, quantity, place, { commandId: event.commandId, value, by: event.by, number: event.number });
      remember(state, event.by, event.commandId, event.type);
      state.stage = 'test';
      return;
    }
    case 'readings.imported':
      for (const { sweepId, readings, ...how } of event.body.sweeps) {
        const sweep = startSweep(sweepId, how, event, event.body.fileName);
        sweep.endedAt = event.at;
        for (const { place, quantity, value } of readings)
          addReading(sweep, quantity, place, { commandId: event.commandId, value, by: event.by, number: event.number });
        state.sweeps.push(sweep);
      }
      remember(state, event.by, event.commandId, event.type);
      state.stage = 'test';
      return;
    case 'reading.chosen': {
      const { sweepId, quantity, place, commandId } = event.body;
      const sweep = findSweep(state, sweepId);
      if (sweep) sweep.chosen[`${quantity}:${place}`] = commandId;
      return;
    }
    case 'act.withdrawn':
      withdraw(state, event.by, event.body.commandId);
      return;
    case 'plan.chosen':
      state.plan = { ...event.body, planId: event.commandId, by: event.by, at: event.at, number: event.number };
      state.stage = 'match';
      return;
    case 'plan.withdrawn':
      if (state.plan?.planId === event.body.planId) state.plan = null;
      return;
    case 'policy.adopted':
      state.policyVersion = event.body.policyVersion;
      return;
    case 'proof.read':
      remember(state, event.by, event.commandId, event.type);
      applyIsolation(state, event);
      return;
    default:
      applyIsolation(state, event);
      if (applyStrip(state, event)) remember(state, event.by, event.commandId, event.type as UndoableType);
  }
}

export function findSweep(state: JobState, sweepId: string): Sweep | undefined {
  return state.sweeps.findLast((s) => s.id === sweepId);
}

type How = Pick<Sweep, 'kind' | 'restSince' | 'restHour' | 'loadAmpere' | 'loadSecond' | 'resolution'>;

function startSweep(id: string, how: How, event: EventHeader, fileName: string | null): Sweep {
  return { ...how, id, by: event.by, startedAt: event.deviceAt, endedAt: null, fileName, readings: {}, chosen: {} };
}

function addReading(sweep: Sweep, quantity: keyof Sweep['readings'], place: number, reading: Reading): void {
  const row = (sweep.readings[quantity] ??= {});
  (row[place] ??= []).push(reading);
  // a choice was between the readings of its time: a later one counts until it is chosen otherwise
  Reflect.deleteProperty(sweep.chosen, `${quantity}:${place}`);
}

function remember(state: JobState, by: string, commandId: string, type: UndoableType): void {
  const list = (state.undoable[by] ??= []);
  list.push({ commandId, type });
  if (list.length > UNDO_DEPTH) list.shift();
}

/** Takes a person's act out of what counts. The event that kept it stays in the log. */
function withdraw(state: JobState, by: string, commandId: string): void {
  state.undoable[by] = (state.undoable[by] ?? []).filter((u) => u.commandId !== commandId);
  withdrawProofReading(state, commandId);
  withdrawStrip(state, commandId);
  const isStart = state.sweeps.some((s) => s.id === commandId);
  if (isStart) state.sweeps = state.sweeps.filter((s) => s.id !== commandId);
  for (const sweep of state.sweeps)
    for (const row of Object.values(sweep.readings))
      for (const [place, list] of Object.entries(row)) {
        const left = list.filter((r) => r.commandId !== commandId);
        if (left.length === list.length) continue;
        if (left.length > 0) row[Number(place)] = left;
        else Reflect.deleteProperty(row, place);
      }
  state.sweeps = state.sweeps.filter((s) => s.fileName === null || Object.values(s.readings).some((r) => Object.keys(r).length > 0));
}

/** A sentence when a fact comes in an order that the trade avoids; facts are kept all the same. Common practice, no source. */
export function findOutOfOrder(pack: PackState, fact: Fact, isProven: boolean): string | null {
  const isExposing = pack.isCaseOpen && pack.areCoversOff;
  switch (fact.kind) {
    case 'connectors':
      if (fact.are !== 'closed' && pack.isPlugIn) return 'HV connectors were taken off with the plug in.';
      return fact.are === 'insulated' && !isProven && !pack.isOnBench ? 'The HV cables were handled while no proof of dead stood.' : null;
    case 'pack':
      return fact.isOnBench && pack.connectors === 'closed' ? 'The pack came out with its HV connectors stated on.' : null;
    case 'case':
      return fact.isOpen && pack.isPlugIn ? 'The case was opened with the plug in.' : null;
    case 'covers':
      return fact.areOff && (pack.isPlugIn || !pack.isCaseOpen)
        ? `The covers came off with the ${pack.isPlugIn ? 'plug in' : 'case shut'}.`
        : null;
    case 'frame':
    case 'links': {
      if (!isExposing) return 'Links were moved with the case or the covers stated on.';
      return pack.isHarnessUnplugged ? null : 'Links were moved with the sense harness still plugged in.';
    }
    case 'plug':
      if (fact.isIn) return isExposing ? 'The plug went in with the posts bare.' : null;
      return pack.isKeyAway ? null : 'The plug was pulled with the key stated in the car.';
    case 'twelveVolt':
      return fact.isOff && !pack.isKeyAway ? 'The 12 V came off with the key stated in the car.' : null;
    case 'key':
    case 'harness':
    case 'charger':
    case 'charged':
      return null;
  }
}
