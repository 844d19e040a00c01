/** A job as its acts leave it, folded without a database. */
import { fold, NO_HASH, type Act, type JobEvent, type JobState } from '@estuarine/core';
import { readShippedProfile } from '../src/shop/begin.ts';

export const profile = readShippedProfile('dunlin-28');
export const moduleIds = Array.from({ length: 28 }, (_, i) => `m${i + 1}`);
export const AT = '2026-05-04T08:00:00.000Z';

/** The opening is act `c1`, the next `c2`, and so on, a minute between them. */
export function stateOf(...acts: Act[]): JobState {
  const opened: Act = {
    type: 'job.opened',
    body: {
      ...{ number: 1, kind: 'wholeRepair', profileId: profile.id, profileVersion: 1, policyVersion: 1, moduleIds },
      ...{ vehicle: { id: 'v', hash: NO_HASH }, customer: null, comebackOf: null },
    },
  };
  const events = [opened, ...acts].map((act, i): JobEvent => {
    const at = new Date(Date.parse(AT) + i * 60_000).toISOString();
    return { number: i + 1, commandId: `c${i + 1}`, by: 'om', at, deviceAt: at, ...act };
  });
  return fold(profile, events);
}
