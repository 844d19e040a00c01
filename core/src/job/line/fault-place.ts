/** Where in the string a single insulation fault lies, walked by what each module really stands at. */
import { findFaultPlace } from '../../isolate/insulation.ts';
import type { Profile } from '../../pack/profile.ts';
import type { JobState } from '../frame/state.ts';
import { findModuleVolts } from './volts.ts';

export interface FaultPlace {
  /** Modules up from the negative end; 8.0 is the joint of modules 8 and 9. */
  readonly modulesFromNegative: number;
  /** The module that it lies in, or whose plus post it lies at. */
  readonly place: number;
  /** Whether every module was measured; else unmeasured ones count as all alike. */
  readonly isMeasured: boolean;
}

/** Null where insulation was not measured by two voltages, or passes. */
export function findInsulationFault(state: JobState, profile: Profile): FaultPlace | null {
  const last = state.isolate.insulation.at(-1);
  if (!last || !('read' in last)) return null;
  const { minusChassisVolt, plusChassisVolt } = last.read;
  const modules = findModuleVolts(state, profile);
  const isMeasured = modules.every((m) => m.isMeasured);
  const found = findFaultPlace({
    moduleCount: profile.moduleCount,
    ...{ negativeToChassisVolt: minusChassisVolt, positiveToChassisVolt: plusChassisVolt },
    ...(isMeasured ? { moduleVolts: modules.map((m) => m.volt) } : {}),
  });
  if (found.kind === 'refused') return null;
  const { modulesFromNegative } = found.value;
  return { modulesFromNegative, place: Math.min(profile.moduleCount, Math.max(1, Math.ceil(modulesFromNegative - 1e-9))), isMeasured };
}
