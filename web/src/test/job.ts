import { NO_HASH, versionOf, type Act, type JobEvent, type Profile } from '@estuarine/core';
import type { WireEvent } from '@estuarine/contract';

/** The act that opens a job on a profile, for specs. */
export function openAct(profile: Profile, number = 1): Extract<Act, { type: 'job.opened' }> {
  return {
    type: 'job.opened',
    body: {
      ...{ number, kind: 'wholeRepair', profileId: profile.id, profileVersion: profile.version, policyVersion: 1 },
      ...{ vehicle: { id: 'v', hash: NO_HASH }, customer: null, comebackOf: null },
      moduleIds: Array.from({ length: profile.moduleCount }, (_, i) => `m${i + 1}`),
    },
  };
}

/** A job of these acts after its opening; `at` gives the time of each. */
export function eventsOf(profile: Profile, acts: readonly Act[], at: (i: number) => string, number = 1): JobEvent[] {
  return [openAct(profile, number), ...acts].map((act, i) => ({
    ...{ number: i + 1, commandId: `c${i + 1}`, by: 'om', at: at(i), deviceAt: at(i) },
    ...act,
  }));
}

/** An event as the server sends it. */
export function onWire(event: JobEvent): WireEvent {
  return { ...event, version: versionOf(event) };
}
