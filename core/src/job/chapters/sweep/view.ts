/** What the sweeps of a job say of each module, and the verdicts that follow. Derived anew from the state; never stored. */
import type { Profile } from '../../../pack/profile.ts';
import { doubtAgainst, doubtLoad, doubtSweep, doubtUnlikely, type Doubt, type Row } from '../../../reading/doubt.ts';
import { mendRow } from '../../../reading/mend.ts';
import { findResistance } from '../../../reading/resistance.ts';
import type { SweepFigure } from '../../../reading/sweep-file.ts';
import { judgeModules, type Figure, type ModuleFigures, type ModuleVerdict, type VerdictLimits } from '../../../reading/verdict.ts';
import type { PackState } from '../../../pack/effect.ts';
import type { SweepAct, SweepKind } from './acts.ts';
import { countingReading, keyAt, twoReadings, type Reading, type Sweep, type SweepState } from './state.ts';

/** What of a job its readings are seen by. */
export interface SweepScene {
  readonly sweep: SweepState;
  readonly pack: PackState;
}

/** The latest sweep of a kind that holds a reading. */
export function latestSweep({ sweep }: Pick<SweepScene, 'sweep'>, kind: SweepKind): Sweep | undefined {
  return sweep.sweeps.findLast((s) => s.kind === kind && Object.values(s.readings).some((row) => row.size > 0));
}

/** What the readings of each place are kept under, place 1 first. */
export function keysOf(slice: Pick<SweepState, 'keys'>): string[] {
  return slice.keys.map((_, i) => keyAt(slice, i + 1));
}

/** The values of one quantity of a sweep by the place where each module is now. */
export function rowOf(sweep: Sweep | undefined, quantity: SweepFigure, keys: readonly string[]): Map<number, number> {
  const row = new Map<number, number>();
  if (!sweep?.readings[quantity]) return row;
  for (const [i, key] of keys.entries()) {
    const reading = countingReading(sweep, quantity, key);
    if (reading) row.set(i + 1, reading.value);
  }
  return row;
}

/** Capacity of a module by the latest sweep that measured any; null where it was not measured. */
export function capacityOf(slice: SweepState, moduleId: string): number | null {
  const capacity = latestSweep({ sweep: slice }, 'capacity');
  return (capacity && countingReading(capacity, 'capacityAh', moduleId)?.value) ?? null;
}

/** Whether every module was read before and after a rest. */
export function isEveryModuleRested({ sweep }: Pick<SweepScene, 'sweep'>): boolean {
  const keys = keysOf(sweep);
  const isWhole = (kind: 'openCircuit' | 'rest', quantity: 'openCircuitVolt' | 'restVolt'): boolean =>
    rowOf(latestSweep({ sweep }, kind), quantity, keys).size === keys.length;
  return isWhole('openCircuit', 'openCircuitVolt') && isWhole('rest', 'restVolt');
}

/** Whether what sat at each place, then or now, was read before and after a rest: another module laid since takes nothing of it away. */
export function wasEveryPlaceRested({ sweep }: Pick<SweepScene, 'sweep'>): boolean {
  const wasRead = (kind: 'openCircuit' | 'rest', quantity: 'openCircuitVolt' | 'restVolt', keys: readonly string[]): boolean =>
    sweep.sweeps.some((s) => s.kind === kind && keys.some((key) => countingReading(s, quantity, key) !== null));
  return sweep.keys.every((keys) => wasRead('openCircuit', 'openCircuitVolt', keys) && wasRead('rest', 'restVolt', keys));
}

/** Everything known of one module at its place. */
export interface ModuleRecord extends ModuleVerdict {
  readonly moduleId: string;
  readonly figures: Partial<Record<Figure, number>>;
  /** Latest open-circuit voltage, after rest where there is one. */
  readonly restingVolt: number | null;
  /** For matching: measured, else from the load sweep when its current is known. */
  readonly milliohm: number | null;
  /** Rest drop in millivolt per hour, where the time of the rest is known. */
  readonly restDropPerHour: number | null;
  /** Readings of two people that differ, until one is chosen. */
  readonly two: readonly { readonly sweepId: string; readonly quantity: SweepFigure; readonly readings: readonly Reading[] }[];
}

const HOUR = 3_600_000;
/** The same capacity or resistance this many times running is doubted. */
const COARSE_RUN = 8;

/** Figures and verdict of every module, in place order. */
export function recordModules(state: SweepScene, profile: Profile, limits: VerdictLimits): ModuleRecord[] {
  const keys = keysOf(state.sweep);
  const row = (sweep: Sweep | undefined, quantity: SweepFigure): Map<number, number> => rowOf(sweep, quantity, keys);
  const { before, rest } = restPair(state);
  const latestOpen = latestSweep(state, 'openCircuit');
  const load = latestSweep(state, 'load');
  const open = row(latestOpen, 'openCircuitVolt');
  const opened = row(before, 'openCircuitVolt');
  const rested = row(rest, 'restVolt');
  const loaded = row(load, 'loadVolt');
  const recovered = row(load, 'recoveredVolt');
  const capacity = row(latestSweep(state, 'capacity'), 'capacityAh');
  const resistance = row(latestSweep(state, 'resistance'), 'resistanceMilliohm');
  const restHours = rest?.restHour ?? hoursBetween(before, rest);

  // laid at the same moment by an import, how long is not known; too short a rest is
  const isTooShort = restHours > 0 && restHours < limits.leastRestHour;

  const measured = keys.map((_, index): ModuleFigures => {
    const place = index + 1;
    // what the load is measured against: the voltage before it, else the voltage it came back to
    const unloaded = rested.get(place) ?? open.get(place) ?? recovered.get(place);
    const figures: Partial<Record<Figure, number>> = {};
    put(figures, 'openCircuitVolt', open.get(place) ?? rested.get(place));
    if (!isTooShort) put(figures, 'restDropMillivolt', millivolts(opened.get(place), rested.get(place)));
    put(figures, 'loadDropMillivolt', millivolts(unloaded, loaded.get(place)));
    put(figures, 'resistanceMilliohm', resistance.get(place) ?? loadMilliohm(load, unloaded, loaded.get(place)) ?? undefined);
    put(figures, 'capacityAh', capacity.get(place));
    return { place, figures };
  });
  const doubts = [
    ...doubtRows([open, rested, loaded, recovered]),
    // a tester of coarse steps shows the same a few times; for a whole row it stands still
    ...[capacity, resistance].flatMap((one) => doubtSweep(one, COARSE_RUN)),
    ...doubtLoad(new Map([...open, ...rested]), loaded, load?.resolution ?? 1e-3),
    ...doubtUnlikely(
      {
        openCircuitVolt: open,
        restVolt: rested,
        loadVolt: loaded,
        recoveredVolt: recovered,
        capacityAh: capacity,
        resistanceMilliohm: resistance,
      },
      profile.moduleType,
    ),
    ...doubtAgainst(opened, rested, rest?.resolution ?? 1e-3),
  ];
  const verdicts = judgeModules(measured, profile.moduleType.chemistry, limits, doubts, resolutions(latestOpen, rest, load));
  return verdicts.map((verdict, index) => {
    const { place } = verdict;
    const figures = measured[index]?.figures ?? {};
    const drop = figures.restDropMillivolt;
    return {
      ...verdict,
      moduleId: state.pack.places[index]?.moduleId ?? '',
      figures,
      restingVolt: rested.get(place) ?? open.get(place) ?? null,
      milliohm: figures.resistanceMilliohm ?? null,
      restDropPerHour: drop !== undefined && restHours > 0.25 ? drop / restHours : null,
      two: findTwo(state, keys[index] ?? ''),
    };
  });
}

/** The sweep after rest and the one that its drop is counted from. */
function restPair(state: Pick<SweepScene, 'sweep'>): { readonly before: Sweep | undefined; readonly rest: Sweep | undefined } {
  const rest = latestSweep(state, 'rest');
  return { rest, before: state.sweep.sweeps.find((s) => s.id === rest?.restSince) ?? latestSweep(state, 'openCircuit') };
}

/** The rest that runs since the modules were read last: from when, and from when on a drop is judged; epoch milliseconds. */
export interface Rest {
  readonly since: number;
  readonly judgedFrom: number;
}

/** The rest that runs; null before an open-circuit sweep is whole or ended, and once one after rest was begun that counts from it. */
export function findRest({ sweep }: Pick<SweepScene, 'sweep'>, limits: VerdictLimits): Rest | null {
  const open = latestSweep({ sweep }, 'openCircuit');
  if (!open || sweep.sweeps.some((s) => s.restSince === open.id)) return null;
  const keys = keysOf(sweep);
  if (open.endedAt === null && rowOf(open, 'openCircuitVolt', keys).size < keys.length) return null;
  const since = Date.parse(open.startedAt);
  return { since, judgedFrom: since + limits.leastRestHour * HOUR };
}

/** A row that can be put right in one act, with what it says now and would say then. */
export interface ProposedMend {
  readonly kind: Sweep['kind'];
  /** Why, as the doubt says it. */
  readonly sentence: string;
  /** Every place that would say something else, ascending; `after` is null for one to be read anew. */
  readonly rows: readonly { readonly place: number; readonly before: number | null; readonly after: number | null }[];
  readonly act: Extract<SweepAct, { type: 'readings.moved' }>;
}

/** For each doubt that a mend answers the later row's, then the earlier one's: which of the two is at fault they do not tell. */
export function proposeMends(state: Pick<SweepScene, 'sweep'>): ProposedMend[][] {
  const keys = keysOf(state.sweep);
  const { before, rest } = restPair(state);
  if (!before || !rest) return [];
  const earlier = rowOf(before, 'openCircuitVolt', keys);
  const later = rowOf(rest, 'restVolt', keys);
  return doubtAgainst(earlier, later, rest.resolution ?? 1e-3).map((doubt) =>
    (['later', 'earlier'] as const).flatMap((which): ProposedMend[] => {
      const [sweep, row, quantity] =
        which === 'later' ? ([rest, later, 'restVolt'] as const) : ([before, earlier, 'openCircuitVolt'] as const);
      const mend = mendRow(row, keys.length, which, doubt);
      if (!mend) return [];
      const moves = mend.moves.flatMap(({ from, to }) => {
        const reading = countingReading(sweep, quantity, keys[from - 1] ?? '');
        // moved to and fro it is the one that was written that is named
        return reading ? [{ commandId: reading.commandId, from: reading.place, to }] : [];
      });
      const then = new Map(mend.moves.map(({ from, to }) => [to, row.get(from) ?? null]));
      for (const place of mend.anew) then.set(place, null);
      const rows = [...then].map(([place, after]) => ({ place, before: row.get(place) ?? null, after })).sort((a, b) => a.place - b.place);
      const body = { sweepId: sweep.id, quantity, moves, anew: [...mend.anew] };
      return [{ kind: sweep.kind, sentence: doubt.sentence, rows, act: { type: 'readings.moved', body } }];
    }),
  );
}

/** An import lays both sweeps at the same moment: then nothing is known of the rest. */
function hoursBetween(before: Sweep | undefined, rest: Sweep | undefined): number {
  return before && rest ? (Date.parse(rest.startedAt) - Date.parse(before.startedAt)) / HOUR : 0;
}

function put(figures: Partial<Record<Figure, number>>, figure: Figure, value: number | undefined): void {
  if (value !== undefined) figures[figure] = value;
}

function millivolts(before: number | undefined, after: number | undefined): number | undefined {
  return before === undefined || after === undefined ? undefined : Math.round((before - after) * 1e5) / 100;
}

function loadMilliohm(load: Sweep | undefined, unloaded: number | undefined, loaded: number | undefined): number | null {
  if (load?.loadAmpere == null || unloaded === undefined || loaded === undefined) return null;
  const found = findResistance({ ampere: 0, volt: unloaded }, { ampere: load.loadAmpere, volt: loaded });
  return found.kind === 'answer' && found.value > 0 ? found.value : null;
}

function doubtRows(rows: readonly Row[]): Doubt[] {
  return rows.flatMap((row) => doubtSweep(row));
}

function resolutions(open: Sweep | undefined, rest: Sweep | undefined, load: Sweep | undefined): Partial<Record<Figure, number>> {
  const known: Partial<Record<Figure, number>> = {};
  if (open?.resolution) known.openCircuitVolt = open.resolution;
  if (rest?.resolution) known.restDropMillivolt = 1000 * rest.resolution;
  if (load?.resolution) known.loadDropMillivolt = 1000 * load.resolution;
  return known;
}

function findTwo(state: SweepScene, key: string): ModuleRecord['two'] {
  return state.sweep.sweeps.flatMap((sweep) =>
    (Object.keys(sweep.readings) as SweepFigure[]).flatMap((quantity) => {
      const readings = twoReadings(sweep, quantity, key);
      return readings.length > 0 ? [{ sweepId: sweep.id, quantity, readings }] : [];
    }),
  );
}
