/** What the exposure of a job is computed from: the voltages known of its modules, and the links that part its string. */
import type { PackState } from '../../pack/effect.ts';
import { listOpenLinks } from '../../pack/join.ts';
import type { Profile } from '../../pack/profile.ts';
import { isWithin, possibleRange } from '../../quantity/module-quantities.ts';
import { countingReading } from '../chapters/sweep/state.ts';
import { keysOf, rowOf } from '../chapters/sweep/view.ts';
import type { JobState } from '../frame/state.ts';

/** Direct-current voltage from which a conductor counts as live here (ISO 6469-3, voltage class B from 60 V DC; from memory). */
export const LIVE_VOLT = 60;

export interface ModuleVolt {
  readonly place: number;
  readonly volt: number;
  /** Read since the last charge; otherwise the most the module can stand at. */
  readonly isMeasured: boolean;
  readonly milliohm: number;
}

/** Voltage of each module for exposure: its latest open-circuit reading, never below nominal; else the most it can have. */
export function findModuleVolts(state: JobState, profile: Profile): ModuleVolt[] {
  const { nominalVolt, maximumModuleVolt, typicalMilliohm } = profile.moduleType;
  const keys = keysOf(state.sweep);
  const resistance = rowOf(
    state.sweep.sweeps.findLast((s) => s.kind === 'resistance'),
    'resistanceMilliohm',
    keys,
  );
  return keys.map((key, i) => {
    const place = i + 1;
    const read = latestVolt(state, key);
    const volt = read === null ? maximumModuleVolt : Math.max(read, nominalVolt);
    const measured = resistance.get(place);
    // what no module can have, kept by an older application, tells nothing of a short circuit
    const isUsable = measured !== undefined && measured > 0 && isWithin(possibleRange('resistanceMilliohm', profile.moduleType), measured);
    return { place, volt, isMeasured: read !== null, milliohm: isUsable ? measured : typicalMilliohm };
  });
}

/** The latest open-circuit reading of a module since the last charge. */
function latestVolt({ sweep }: JobState, key: string): number | null {
  let latest: { readonly value: number; readonly number: number } | null = null;
  for (const one of sweep.sweeps)
    for (const quantity of ['openCircuitVolt', 'restVolt'] as const) {
      const reading = countingReading(one, quantity, key);
      if (reading && reading.number > sweep.chargedNumber && reading.number > (latest?.number ?? 0)) latest = reading;
    }
  return latest?.value ?? null;
}

/** Links that part the string. While the sense harness is plugged in it ties the islands, so they count as one string. */
export function partingLinks(pack: PackState, { moduleCount }: Pick<Profile, 'moduleCount'>): number[] {
  return pack.isHarnessUnplugged ? listOpenLinks(pack.joins, moduleCount) : [];
}

/** The most that the last known state allows when the truth cannot be known: the whole string, every module. */
export function findHighestPossible(state: JobState, profile: Profile): number {
  const { maximumModuleVolt } = profile.moduleType;
  const string = findModuleVolts(state, profile).reduce((sum, m) => sum + Math.max(m.volt, maximumModuleVolt), 0);
  return Math.max(string, state.pack.chargerVolt ?? 0);
}
