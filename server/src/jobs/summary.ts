/** The row of a job in the yard, computed from its state. */
import type { JobSummary } from '@estuarine/contract';
import { DEFAULT_POLICY, recordModules, summariseExposure, type JobState, type Policy, type Profile } from '@estuarine/core';

export function summarise(jobId: string, state: JobState, profile: Profile, policy: Policy | null): JobSummary {
  const exposure = summariseExposure(state, profile);
  const records = state.sweeps.length > 0 ? recordModules(state, profile, (policy ?? DEFAULT_POLICY).limits) : [];
  return {
    jobId,
    number: state.opened?.number ?? 0,
    vehicleName: state.opened?.vehicle.name ?? '',
    plate: state.opened?.vehicle.plate ?? '',
    profileId: profile.id,
    profileName: profile.name,
    stage: state.stage,
    reachableVolt: exposure.reachableVolt,
    behindVolt: exposure.behindVolt,
    measuredCount: exposure.measuredCount,
    moduleCount: profile.moduleCount,
    rejectCount: records.filter((r) => r.verdict === 'reject').length,
    openedAt: state.opened?.at ?? '',
    lastAt: state.lastAt,
  };
}
