/** Where in the string a single insulation fault lies, walked by what each module really stands at. */
import { findFaultPlace } from '../../isolate/insulation.ts';
import type { Profile } from '../../pack/profile.ts';
import { restingVolts, type JobState } from '../frame/state.ts';

export interface FaultPlace {
  /** Modules up from the negative end; 8.0 is the joint of modules 8 and 9. */
  readonly modulesFromNegative: number;
  /** The module that it lies in, or whose plus post it lies at. */
  readonly place: number;
  /** Whether every module was measured; else all count as alike. */
  readonly isMeasured: boolean;
}

/** Null where insulation was not measured by two voltages, or passes. */
export function findInsulationFault(state: JobState, profile: Profile): FaultPlace | null {
  const last = state.isolate.insulation.at(-1);
  if (!last || !('read' in last)) return null;
  const { minusChassisVolt, plusChassisVolt } = last.read;
  // as they were read, a weak one too: what the line counts with is never below nominal. Beside one that sits turned they do not add up
  const volts = restingVolts(state).filter((v): v is number => v !== null && v > 0);
  const isMeasured = volts.length === profile.moduleCount && state.pack.chargerVolt === null && !state.pack.places.some((p) => p.isTurned);
  const found = findFaultPlace({
    moduleCount: profile.moduleCount,
    ...{ negativeToChassisVolt: minusChassisVolt, positiveToChassisVolt: plusChassisVolt },
    ...(isMeasured ? { moduleVolts: volts } : {}),
  });
  if (found.kind === 'refused') return null;
  const { modulesFromNegative } = found.value;
  return { modulesFromNegative, place: Math.min(profile.moduleCount, Math.max(1, Math.ceil(modulesFromNegative - 1e-9))), isMeasured };
}
