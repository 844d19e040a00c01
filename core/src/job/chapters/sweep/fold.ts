import type { EventHeader } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { isAfter, stampOf } from '../stamp.ts';
import type { Effect } from '../../../pack/effect.ts';
import type { Profile } from '../../../pack/profile.ts';
import { likelyRange } from '../../../quantity/module-quantities.ts';
import { kindFor, SWEEP, type SweepAct } from './acts.ts';
import { decideSweep } from './decide.ts';
import {
  choiceKey,
  findSweep,
  keyAt,
  isContradicted,
  keyFor,
  keyThen,
  moveModule,
  STANDING,
  standingVolt,
  unnamedKey,
  type Reading,
  type Run,
  type Sweep,
  type SweepState,
} from './state.ts';

type Kept<T extends SweepAct['type']> = EventHeader & Extract<SweepAct, { type: T }>;

/** The chapter of measuring. */
export const sweep: Chapter<SweepState, typeof SWEEP> = {
  table: SWEEP,
  start: ({ moduleCount, moduleType }) => ({
    sweeps: [],
    ...{ charges: [], voided: new Map(), runs: [], steepFallVolt: steepFallOf(moduleType) },
    keys: Array.from({ length: moduleCount }, (_, i) => [unnamedKey(i + 1, 0)]),
    arrivals: Array.from({ length: moduleCount }, () => [null]),
  }),
  fold: {
    'sweep.started': (slice, event) => {
      const begun = startSweep(event.commandId, event.body, event, null);
      // its readings came first: they stand in a sweep that nobody had told of
      const untold = findSweep(slice, begun.id);
      if (untold)
        Object.assign(untold, {
          ...begun,
          readings: untold.readings,
          chosen: untold.chosen,
          confirmed: untold.confirmed,
          aside: untold.aside,
        });
      else slice.sweeps.push(begun);
    },
    'sweep.ended': (slice, event) => {
      const ended = findSweep(slice, event.body.sweepId);
      if (ended) ended.endedAt = event.at;
    },
    'reading.taken': (slice, event) => {
      const { sweepId, quantity, place, moduleId, value } = event.body;
      let taken = findSweep(slice, sweepId);
      if (!taken) slice.sweeps.push((taken = startSweep(sweepId, { ...UNTOLD, kind: kindFor(quantity) }, event, null)));
      addReading(slice, taken, quantity, moduleId, readingOf(event, place, value));
    },
    'readings.imported': importReadings,
    'reading.chosen': (slice, event) => {
      const { sweepId, quantity, place, commandId } = event.body;
      const sweep = findSweep(slice, sweepId);
      const key = keyAt(slice, place);
      // one that is not there, or not any more, is no choice
      const isThere = sweep?.readings[quantity]?.get(key)?.some((r) => r.commandId === commandId) ?? false;
      if (sweep && isThere) sweep.chosen.set(choiceKey(quantity, key), commandId);
    },
    'readings.confirmed': (slice, { body: { sweepId, quantity, places }, commandId }) => {
      const sweep = findSweep(slice, sweepId);
      for (const place of places) {
        const key = keyAt(slice, place);
        if (sweep?.readings[quantity]?.has(key)) sweep.confirmed.set(choiceKey(quantity, key), commandId);
      }
    },
    'readings.moved': moveReadings,
  },
  effects: {},
  decide: decideSweep,
  hears: ['charged', 'measured', 'moved'],
  hear: (slice, effect, header, _pack, isLate) => {
    if (effect.kind === 'charged') {
      const charge = { ...stampOf(header), commandId: header.commandId };
      // one that an act can take back stands beside those before it
      const others = slice.charges.length < CHARGES_KEPT ? slice.charges : slice.charges.filter((c) => !isAfter(charge, c));
      slice.charges = [...others, charge];
    }
    if (effect.kind === 'measured') {
      const { from, to, volt } = effect;
      const isSame = (r: Run): boolean => r.from === from && r.to === to;
      const before = slice.runs.filter(isSame).slice(1 - RUNS_KEPT);
      slice.runs = [
        ...slice.runs.filter((r) => !isSame(r)),
        ...before,
        { ...stampOf(header), commandId: header.commandId, from, to, volt },
      ];
    }
    // what sat there before something else was said of the place stays what it was
    if (isLate) return;
    if (effect.kind === 'moved' && effect.what === 'module') comeToPlace(slice, effect, header);
  },
  withdraw: withdrawReadings,
};

/** Charges, and voltages across the same run, that are remembered: taking the last back leaves those before. */
const CHARGES_KEPT = 30;
const RUNS_KEPT = 4;

/** Half of what modules of a type usually span at rest. */
function steepFallOf(type: Profile['moduleType']): number {
  const { least, most } = likelyRange('openCircuitVolt', type);
  return (most - least) / 2;
}

/** A module comes to a place, or the place is empty. What was measured across that place is of another run. */
function comeToPlace(slice: SweepState, { place, moduleId, isLaid }: Extract<Effect, { what: 'module' }>, header: EventHeader): void {
  const { number } = header;
  if (keyAt(slice, place) === moduleId) return;
  const isHere = moduleId !== null && slice.keys.some((list) => list.at(-1) === moduleId);
  const wasHere = moduleId !== null && slice.keys.some((list) => list.includes(moduleId));
  // what was done to it while it was away nobody said
  if (wasHere && !isHere && !isLaid) slice.voided.set(moduleId, number);
  if (moduleId !== null && !wasHere) claimReadings(slice, moduleId, number);
  const left = slice.keys.findIndex((list) => moduleId !== null && list.at(-1) === moduleId) + 1;
  const isOver = (r: Run): boolean => [place, left].some((p) => r.from <= p && p <= r.to);
  for (const run of slice.runs) if (isOver(run)) voidContradicted(slice, run, number);
  slice.runs = slice.runs.filter((r) => !isOver(r));
  moveModule(slice, place, moduleId, number, number === 1 ? null : stampOf(header));
}

/** A module that comes for the first time has what was read in its name before: of what lay there nothing was read then. */
function claimReadings({ sweeps, voided }: SweepState, moduleId: string, number: number): void {
  for (const { readings } of sweeps)
    for (const quantity of STANDING) {
      const row = readings[quantity];
      const own = new Set(row?.get(moduleId)?.map((r) => r.commandId));
      for (const [key, list] of own.size > 0 ? (row ?? []) : []) {
        const left = list.filter((r) => !own.has(r.commandId));
        if (key === moduleId || left.length === list.length) continue;
        voided.set(key, number);
        if (left.length > 0) row?.set(key, left);
        else row?.delete(key);
      }
    }
}

/** Readings that add up to less than was measured across them count no more once the run is broken up. */
function voidContradicted(slice: SweepState, { from, to, volt }: Run, number: number): void {
  const keys = Array.from({ length: to - from + 1 }, (_, i) => keyAt(slice, from + i));
  const volts = keys.map((key) => standingVolt(slice, key)?.value ?? null);
  const sum = volts.reduce<number>((all, v) => all + Math.abs(v ?? Infinity), 0);
  if (isContradicted(volt, sum)) for (const key of keys) slice.voided.set(key, number);
}

/** What is known of a sweep of which only readings came so far. */
const UNTOLD = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, resolution: null, recovered: 'all' } as const;

type How = Pick<Sweep, 'kind' | 'restSince' | 'restHour' | 'loadAmpere' | 'loadSecond' | 'resolution' | 'recovered'>;

function startSweep(id: string, how: How, event: EventHeader, fileName: string | null): Sweep {
  const { kind, restSince, restHour, loadAmpere, loadSecond, resolution, recovered } = how;
  return {
    ...{ kind, restSince, restHour, loadAmpere, loadSecond, resolution, recovered },
    ...{
      id,
      by: event.by,
      startedAt: event.deviceAt,
      endedAt: null,
      fileName,
      readings: {},
      chosen: new Map(),
      confirmed: new Map(),
      aside: new Map(),
    },
  };
}

function readingOf(event: EventHeader, place: number, value: number): Reading {
  // told of most of all: written out, which is quicker than spread
  const { number, by, saidAt, keptAt, device } = stampOf(event);
  return { number, by, saidAt, keptAt, device, commandId: event.commandId, value, place };
}

function addReading(slice: SweepState, into: Sweep, quantity: keyof Sweep['readings'], moduleId: string | null, reading: Reading): void {
  const key = keyFor(slice, reading.place, moduleId);
  addTo(into, quantity, key, reading);
  // a name that is not of this pack may be one that comes to it: whoever put the module there is heard later
  if (moduleId !== null && moduleId !== key) addTo(into, quantity, moduleId, reading);
}

function addTo(into: Sweep, quantity: keyof Sweep['readings'], key: string, reading: Reading): void {
  const row = (into.readings[quantity] ??= new Map());
  const list = row.get(key);
  if (list) list.push(reading);
  else row.set(key, [reading]);
  // a choice was between the readings of its time: a later one counts until it is chosen otherwise
  into.chosen.delete(choiceKey(quantity, key));
  into.confirmed.delete(choiceKey(quantity, key));
  into.aside.delete(choiceKey(quantity, key));
}

/** Puts readings to the modules that they are of, as they were measured and by whom; what was written stays beside them. */
function moveReadings(slice: SweepState, event: Kept<'readings.moved'>): void {
  const { sweepId, quantity, moves, anew } = event.body;
  const sweep = findSweep(slice, sweepId);
  const row = sweep?.readings[quantity];
  if (!sweep || !row) return;
  const written = [...row].flatMap(([key, list]) => list.map((reading) => ({ key, reading })));
  // modules may have been moved since: a place is what it was when the sweep was read
  const keyOf = (place: number): string => written.findLast((w) => w.reading.place === place)?.key ?? keyAt(slice, place);
  for (const { commandId, from, to } of moves) {
    const reading = written.find((w) => w.reading.commandId === commandId && w.reading.place === from)?.reading;
    if (!reading) continue;
    const key = keyOf(to);
    addReading(slice, sweep, quantity, key, { ...reading, commandId: event.commandId, place: to, movedAt: event.number });
    // over what another person wrote there as well
    sweep.chosen.set(choiceKey(quantity, key), event.commandId);
  }
  for (const place of anew) {
    const key = keyOf(place);
    if (row.has(key)) sweep.aside.set(choiceKey(quantity, key), event.commandId);
  }
}

function importReadings(slice: SweepState, event: Kept<'readings.imported'>): void {
  const { fileName, measured } = event.body;
  const stamp = stampOfFile(event, measured);
  for (const { sweepId, readings, ...how } of event.body.sweeps) {
    const imported = startSweep(sweepId, how, event, fileName);
    if (measured !== 'unsaid' && measured !== 'asKept') imported.startedAt = measured;
    imported.endedAt = event.at;
    for (const { place, quantity, value } of readings) {
      const reading = { ...readingOf(event, place, value), ...stamp };
      addTo(imported, quantity, measured === 'asKept' ? keyAt(slice, place) : keyThen(slice, place, reading), reading);
    }
    slice.sweeps.push(imported);
  }
}

/** When the readings of a file were taken: as somebody said, else at any time before it came, and so before every charge. */
function stampOfFile(event: EventHeader, measured: Kept<'readings.imported'>['body']['measured']): Pick<Reading, 'saidAt' | 'device'> {
  const { saidAt, keptAt, device } = stampOf(event);
  if (measured === 'asKept') return { saidAt, device };
  const file = { id: `file ${event.commandId}`, turn: 0 };
  return measured === 'unsaid'
    ? { saidAt, device: { ...file, isClockSure: false } }
    : { saidAt: Math.min(Date.parse(measured), keptAt), device: { ...file, isClockSure: true } };
}

/** Takes a reading, a whole import or a whole sweep out of what counts. What it told of a voltage, nothing before it tells either. */
function withdrawReadings(slice: SweepState, commandId: string, { number }: EventHeader): void {
  for (const sweep of slice.sweeps)
    for (const quantity of STANDING)
      for (const [key, list] of sweep.readings[quantity] ?? [])
        if (sweep.id === commandId || list.some((r) => r.commandId === commandId && r.movedAt === undefined)) slice.voided.set(key, number);
  slice.sweeps = slice.sweeps.filter((s) => s.id !== commandId);
  slice.charges = slice.charges.filter((c) => c.commandId !== commandId);
  slice.runs = slice.runs.filter((r) => r.commandId !== commandId);
  for (const { confirmed } of slice.sweeps) for (const [key, act] of confirmed) if (act === commandId) confirmed.delete(key);
  for (const { aside } of slice.sweeps) for (const [key, act] of aside) if (act === commandId) aside.delete(key);
  for (const { readings } of slice.sweeps)
    for (const row of Object.values(readings))
      for (const [key, list] of row) {
        const left = list.filter((r) => r.commandId !== commandId);
        if (left.length === list.length) continue;
        if (left.length > 0) row.set(key, left);
        else row.delete(key);
      }
  // an import of which nothing is left is gone; a sweep that was begun by hand stays
  slice.sweeps = slice.sweeps.filter((s) => s.fileName === null || Object.values(s.readings).some((row) => row.size > 0));
}
