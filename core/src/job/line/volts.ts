/** What the exposure of a job is computed from: the voltages known of its modules, and the links that part its string. */
import type { PackState } from '../../pack/effect.ts';
import { listOpenLinks } from '../../pack/join.ts';
import type { Profile } from '../../pack/profile.ts';
import { isWithin, possibleRange } from '../../quantity/module-quantities.ts';
import { isAfter, type Stamp } from '../chapters/stamp.ts';
import { countingReading, isContradicted, isReadReversed, standingVolt, type Run, type Sweep } from '../chapters/sweep/state.ts';
import { keysOf } from '../chapters/sweep/view.ts';
import type { JobState } from '../frame/state.ts';
import { hazardsOfStatements, placesInDoubt } from '../frame/statements.ts';

/** Direct-current voltage from which a conductor counts as live here (ISO 6469-3, voltage class B from 60 V DC; from memory). */
export const LIVE_VOLT = 60;

export interface ModuleVolt {
  readonly place: number;
  /** Without its sign. */
  readonly volt: number;
  /** Its reading without its sign, which may be below the voltage that it counts at; null where none counts. */
  readonly readVolt: number | null;
  /** Read since the last charge; otherwise the most the module can stand at. */
  readonly isMeasured: boolean;
  /** Read below zero, or stated to sit turned: what it stands at is added where it would be taken away. */
  readonly isReversed: boolean;
  /** Two people's readings differ, or it cannot be told which was last: the higher counts. */
  readonly isDoubtful: boolean;
  /** A later reading fell further than a module does, and is neither confirmed nor read again. */
  readonly isFallDoubted: boolean;
  /** It was read, and a voltage measured across its run says that the readings add up to too little. */
  readonly isContradicted: boolean;
  readonly milliohm: number;
}

/**
 * Voltage of each module for exposure: its latest open-circuit reading by its size, never below nominal; else, and while a source is on
 * the pack, the most it can have.
 */
export function findModuleVolts(state: JobState, profile: Profile): ModuleVolt[] {
  const { nominalVolt, maximumModuleVolt, typicalMilliohm } = profile.moduleType;
  const inDoubt = placesInDoubt(state);
  const isCharging = state.late.length > 0 ? hazardsOfStatements(state, profile).chargerVolt !== null : state.pack.chargerVolt !== null;
  const resistances = state.sweep.sweeps.filter((s) => s.readings.resistanceMilliohm).toReversed();
  const range = possibleRange('resistanceMilliohm', profile.moduleType);
  const reads: (Stamp | null)[] = [];
  const modules = keysOf(state.sweep).map((key, i): ModuleVolt => {
    const place = i + 1;
    const read = inDoubt.has(place) ? null : standingVolt(state.sweep, key);
    reads.push(read?.read ?? null);
    const known = read ? Math.max(Math.abs(read.value), nominalVolt) : maximumModuleVolt;
    return {
      place,
      volt: isCharging ? Math.max(known, maximumModuleVolt) : known,
      readVolt: read && !isCharging ? Math.abs(read.value) : null,
      isMeasured: read !== null && !isCharging,
      isReversed: (state.pack.places[i]?.isTurned ?? false) || isReadReversed(state.sweep, key),
      isDoubtful: read?.isDoubtful ?? false,
      isFallDoubted: read?.isFallDoubted ?? false,
      isContradicted: false,
      milliohm: latestMilliohm(resistances, key, range) ?? typicalMilliohm,
    };
  });
  for (const run of state.sweep.runs) raiseToRun(modules, reads, run, maximumModuleVolt);
  return modules;
}

/**
 * A voltage measured across several modules is at least there: where their readings come to less, those that are not certainly newer make
 * up for it. As much as meters differ it is shared out; where it is more the readings are wrong, and the modules count as full.
 */
function raiseToRun(modules: ModuleVolt[], reads: readonly (Stamp | null)[], run: Run, maximumVolt: number): void {
  const sumOf = (places: readonly number[]): number => places.reduce((sum, i) => sum + (modules[i]?.volt ?? 0), 0);
  const places = Array.from({ length: run.to - run.from + 1 }, (_, i) => run.from - 1 + i).filter((i) => i < modules.length);
  if (sumOf(places) >= run.volt) return;
  const older = places.filter((i) => !reads[i] || !isAfter(reads[i], run));
  if (older.length === 0) return;
  const newerVolt = sumOf(places) - sumOf(older);
  const raise = (volt: (module: ModuleVolt) => number, isContradicted: boolean): void => {
    for (const i of older) {
      const module = modules[i];
      if (module)
        modules[i] = { ...module, volt: volt(module), ...(isContradicted ? { isContradicted: module.isMeasured, isMeasured: false } : {}) };
    }
  };
  if (isContradicted(run.volt, sumOf(places))) raise((m) => Math.max(m.volt, maximumVolt), true);
  const factor = (run.volt - newerVolt) / sumOf(older);
  if (factor > 1) raise((m) => m.volt * factor, false);
}

/** What no module can have, kept by an older application, tells nothing of a short circuit. */
function latestMilliohm(latestFirst: readonly Sweep[], key: string, range: ReturnType<typeof possibleRange>): number | null {
  for (const one of latestFirst) {
    const value = countingReading(one, 'resistanceMilliohm', key)?.value;
    if (value !== undefined && value > 0 && isWithin(range, value)) return value;
  }
  return null;
}

/** Links that part the string as it is stated. While the sense harness is plugged in it ties the islands, so they count as one string. */
export function partingLinks(pack: PackState, { moduleCount }: Pick<Profile, 'moduleCount'>): number[] {
  return pack.isHarnessUnplugged ? listOpenLinks(pack.joins, moduleCount) : [];
}
