import type { Chapter, EventHeader } from '../chapter.ts';
import { isAfter, stampOf } from '../stamp.ts';
import { kindFor, type SweepAct } from './acts.ts';
import { decideSweep } from './decide.ts';
import {
  choiceKey,
  findSweep,
  keyAt,
  keyFor,
  moveModule,
  STANDING,
  unnamedKey,
  type Reading,
  type Sweep,
  type SweepState,
} from './state.ts';

type Kept<T extends SweepAct['type']> = EventHeader & Extract<SweepAct, { type: T }>;

/** The chapter of measuring. */
export const sweep: Chapter<SweepState, SweepAct> = {
  start: ({ moduleCount }) => ({
    sweeps: [],
    ...{ charges: [], voided: new Map() },
    keys: Array.from({ length: moduleCount }, (_, i) => [unnamedKey(i + 1, 0)]),
  }),
  fold: {
    'sweep.started': (slice, event) => {
      const begun = startSweep(event.commandId, event.body, event, null);
      // its readings came first: they stand in a sweep that nobody had told of
      const untold = findSweep(slice, begun.id);
      if (untold) Object.assign(untold, { ...begun, readings: untold.readings, chosen: untold.chosen, aside: untold.aside });
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
    'readings.moved': moveReadings,
  },
  decide: decideSweep,
  hears: ['charged', 'moved'],
  hear: (slice, effect, header, _pack, isLate) => {
    if (effect.kind === 'charged') {
      const stamp = stampOf(header);
      slice.charges = [...slice.charges.filter((c) => !isAfter(stamp, c)), stamp];
    }
    // what sat there before something else was said of the place stays what it was
    if (isLate) return;
    if (effect.kind === 'moved' && effect.what === 'module') moveModule(slice, effect.place, effect.moduleId, header.number);
  },
  withdraw: withdrawReadings,
};

/** What is known of a sweep of which only readings came so far. */
const UNTOLD = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, resolution: null, recovered: 'all' } as const;

type How = Pick<Sweep, 'kind' | 'restSince' | 'restHour' | 'loadAmpere' | 'loadSecond' | 'resolution' | 'recovered'>;

function startSweep(id: string, how: How, event: EventHeader, fileName: string | null): Sweep {
  const { kind, restSince, restHour, loadAmpere, loadSecond, resolution, recovered } = how;
  return {
    ...{ kind, restSince, restHour, loadAmpere, loadSecond, resolution, recovered },
    ...{ id, by: event.by, startedAt: event.deviceAt, endedAt: null, fileName, readings: {}, chosen: new Map(), aside: new Map() },
  };
}

function readingOf(event: EventHeader, place: number, value: number): Reading {
  // told of most of all: written out, which is quicker than spread
  const { number, by, saidAt, keptAt, device } = stampOf(event);
  return { number, by, saidAt, keptAt, device, commandId: event.commandId, value, place };
}

function addReading(slice: SweepState, into: Sweep, quantity: keyof Sweep['readings'], moduleId: string | null, reading: Reading): void {
  const key = keyFor(slice, reading.place, moduleId);
  const row = (into.readings[quantity] ??= new Map());
  const list = row.get(key);
  if (list) list.push(reading);
  else row.set(key, [reading]);
  // a choice was between the readings of its time: a later one counts until it is chosen otherwise
  into.chosen.delete(choiceKey(quantity, key));
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
  for (const { sweepId, readings, ...how } of event.body.sweeps) {
    const imported = startSweep(sweepId, how, event, event.body.fileName);
    imported.endedAt = event.at;
    for (const { place, quantity, value } of readings) addReading(slice, imported, quantity, null, readingOf(event, place, value));
    slice.sweeps.push(imported);
  }
}

/** Takes a reading, a whole import or a whole sweep out of what counts. What it told of a voltage, nothing before it tells either. */
function withdrawReadings(slice: SweepState, commandId: string, { number }: EventHeader): void {
  for (const sweep of slice.sweeps)
    for (const quantity of STANDING)
      for (const [key, list] of sweep.readings[quantity] ?? [])
        if (sweep.id === commandId || list.some((r) => r.commandId === commandId && r.movedAt === undefined)) slice.voided.set(key, number);
  slice.sweeps = slice.sweeps.filter((s) => s.id !== commandId);
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
