/** Where the insulation leaks, as a pin on the drawing of the pack. */
import { findInsulationFault } from '@estuarine/core';
import type { JobLog } from '../../transport/job-log.ts';
import type { DrawingPin } from '../../ui/pack-drawing.ts';

/** Null while insulation passes, was not measured by two voltages, or leaks at no one place. */
export function faultPin(log: JobLog): DrawingPin | null {
  const [state, profile] = [log.state(), log.profile()];
  const last = log.isolation()?.insulation;
  if (!state || !profile || last?.result.kind !== 'answer' || last.result.value.passes) return null;
  const found = findInsulationFault(state, profile);
  return found && { at: found.modulesFromNegative, text: `leak, ${found.modulesFromNegative.toFixed(1)} modules up` };
}
