/** The row of a job in the yard, computed from its state. */
import {
  DEFAULT_POLICY,
  findLedger,
  findLookAt,
  findRest,
  findStanding,
  findSteady,
  findWait,
  FOLD_VERSION,
  recordModules,
  rememberJob,
  summariseExposure,
  type JobState,
  type Policy,
  type Profile,
} from '@estuarine/core';
import type { Queryable } from '../database/database.ts';
import type { YardRow } from '../log/store.ts';
import type { References } from '../profiles/references.ts';
import type { FoldedJob } from './job-states.ts';
import type { StoredSummary } from './store.ts';

/** What stands of a job beside its log. */
export async function yardRowOf(
  { references }: { readonly references: References },
  db: Queryable,
  jobId: string,
  job: FoldedJob,
): Promise<YardRow> {
  const policy = (await references.policy(db, job.state.policyVersion)) ?? DEFAULT_POLICY;
  const summary = summarise(jobId, job.state, job.profile, policy);
  const memory = rememberJob(job.state, job.profile, policy.isolation.timeZone);
  return { number: summary.number, summary: JSON.stringify(summary), memory: JSON.stringify(memory) };
}

/** As it stands at its last event: what the time alone changes later is given as the time at which it does. */
export function summarise(jobId: string, state: JobState, profile: Profile, policy: Policy | null): StoredSummary {
  const { opened, closed } = state.intake;
  const now = Date.parse(state.lastAt);
  const exposure = summariseExposure(state, profile, now);
  const standing = findStanding(state, now);
  const { endsAt } = findWait(state, profile, (policy ?? DEFAULT_POLICY).isolation);
  const last = state.isolate.proofs.at(-1);
  const isWaiting = !standing && endsAt !== null && !state.pack.isOnBench;
  const records = state.sweep.sweeps.length > 0 ? recordModules(state, profile, (policy ?? DEFAULT_POLICY).limits) : [];
  const lookAt = findLookAt(state);
  const rest = closed ? null : findRest(state, (policy ?? DEFAULT_POLICY).limits);
  return {
    jobId,
    fold: FOLD_VERSION,
    number: opened?.number ?? 0,
    kind: opened?.kind ?? 'wholeRepair',
    closed: closed?.outcome ?? null,
    closedAt: closed?.at ?? null,
    vehicleId: opened?.vehicle.id ?? '',
    customerId: opened?.customer?.id ?? null,
    comebackOfId: opened?.comebackOf ?? null,
    profileId: profile.id,
    profileName: profile.name,
    stage: state.stage,
    reachableVolt: exposure.reachableVolt,
    lapsedVolt: standing ? summariseExposure(state, profile).reachableVolt : exposure.reachableVolt,
    proofEndsAt: standing ? new Date(standing.endsAt).toISOString() : null,
    waitEndsAt: isWaiting ? new Date(endsAt).toISOString() : null,
    rest: rest && { since: new Date(rest.since).toISOString(), judgedFrom: new Date(rest.judgedFrom).toISOString() },
    lookAt: lookAt && new Date(lookAt.look).toISOString(),
    stripAt: lookAt?.strip ? new Date(lookAt.strip).toISOString() : null,
    steadyVolt: state.intake.closed ? null : (findSteady(state)?.volt ?? null),
    asksCosign: last !== undefined && last.asked !== null && last.signed === null,
    behindVolt: exposure.behindVolt,
    highestVolt: exposure.highestVolt,
    measuredCount: exposure.measuredCount,
    moduleCount: profile.moduleCount,
    rejectCount: records.filter((r) => r.verdict === 'reject').length,
    hasSource: state.pack.chargerVolt !== null,
    toOrder: findLedger(state, profile).toOrder,
    lastBy: state.lastBy,
    openedAt: opened?.at ?? '',
    lastAt: state.lastAt,
  };
}
