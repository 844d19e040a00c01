/** Acts on a job: decided on its folded state, kept in its stream, and shown in the cross-job tables. */
import type { SentAct } from '@estuarine/contract';
import {
  apply,
  decide,
  DEFAULT_POLICY,
  refuse,
  rememberJob,
  startState,
  type Act,
  type DecideContext,
  type Gear,
  type JobEvent,
  type Refusal,
  type Result,
} from '@estuarine/core';
import type pg from 'pg';
import type { Queryable } from '../database/database.ts';
import { findGear } from '../gear/store.ts';
import { keepAct } from '../log/append.ts';
import type { ChainedEvent } from '../log/chain.ts';
import type { Outcome } from '../log/store.ts';
import { freeModules, lockModules, reserveModules, savePackModules } from '../shop/store.ts';
import { whyNoSignature, type Actor } from '../persons/principals.ts';
import { erasePhoto, findPhoto } from '../photos/store.ts';
import { toJobEvent, type FoldedJob, type JobStates } from './job-states.ts';
import type { References } from './references.ts';
import { findJobNumber, findNextNumber, saveSummary } from './store.ts';
import { summarise } from './summary.ts';

export interface JobActs {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  readonly states: JobStates;
  readonly references: References;
}

/** Keeps one act of a person on a job. */
export async function keepJobAct(jobs: JobActs, jobId: string, sent: SentAct, actor: Actor): Promise<Outcome> {
  const { pool, shopId, clock, states } = jobs;
  const held: { job: FoldedJob | null } = { job: null };
  const outcome = await keepAct(
    pool,
    {
      ...{ shopId, stream: jobId, commandId: sent.commandId, by: sent.by, deviceAt: sent.deviceAt, act: sent.act, clock },
      opens: sent.act.type === 'job.opened',
    },
    {
      decide: async (client, head) => {
        const begun = await beginJob(jobs, client, jobId, head, sent.act);
        if ('kind' in begun) return begun;
        held.job = begun;
        return decideOn(jobs, client, jobId, begun, sent, actor);
      },
      project: async (client, events) => {
        if (held.job) await projectJobEvents(jobs, client, jobId, held.job, events);
      },
    },
  );
  // a refused or failed act leaves the cache without the job: it is folded anew when next asked for
  if (outcome.kind === 'kept' && held.job) states.checkIn(jobId, held.job);
  return outcome;
}

async function beginJob(jobs: JobActs, db: Queryable, jobId: string, head: number, act: Act): Promise<FoldedJob | Refusal> {
  const known = await jobs.states.checkOut(db, jobId, head);
  if (known) return known;
  if (act.type !== 'job.opened') return refuse('gone', 'This job was never opened.');
  const { profileId, profileVersion, policyVersion } = act.body;
  const profile = await jobs.references.profile(db, profileId, profileVersion);
  if (!profile) return refuse('unknownName', `There is no profile ${profileId} of version ${profileVersion}.`, ['body', 'profileId']);
  if (!(await jobs.references.policy(db, policyVersion)))
    return refuse('unknownName', `There is no policy of version ${policyVersion}.`, ['body', 'policyVersion']);
  return { state: startState(), profile };
}

async function decideOn(
  jobs: JobActs,
  db: Queryable,
  jobId: string,
  job: FoldedJob,
  sent: SentAct,
  actor: Actor,
): Promise<Result<readonly Act[]>> {
  const { act } = sent;
  const { shopId, references } = jobs;
  if (act.type === 'policy.adopted' && !(await references.policy(db, act.body.policyVersion)))
    return refuse('unknownName', `There is no policy of version ${act.body.policyVersion}.`, ['body', 'policyVersion']);
  if (act.type === 'job.opened') {
    const lost = await lockModules(db, shopId, act.body.moduleIds);
    const elsewhere = lost.find((m) => m.inJob !== null && m.inJob !== jobId);
    if (elsewhere) return refuse('taken', `Module ${elsewhere.moduleId} sits in another job's pack.`, ['body', 'moduleIds']);
    const next = await findNextNumber(db, shopId);
    const numbered = { ...act, body: { ...act.body, number: next } };
    return decide(job.state, numbered, await contextOf(jobs, db, job, sent, actor));
  }
  if (act.type === 'photo.taken') {
    const known = await findPhoto(db, shopId, jobId, act.body.photoId);
    if (known && known.sha256 !== act.body.sha256)
      return refuse('mismatch', 'Another picture is kept under the id of this photograph.', ['body', 'sha256']);
  }
  const shelf = act.type === 'plan.chosen' ? await lockModules(db, shopId, act.body.fromShelf) : [];
  const reasons = new Map<string, string | null>();
  for (const module of shelf) reasons.set(module.moduleId, await whyNotFree(db, shopId, jobId, job, module));
  const missing = (id: string): string => `There is no module ${id} on the shelf.`;
  const context = await contextOf(jobs, db, job, sent, actor);
  return decide(job.state, act, { ...context, whyNotFree: (id) => (reasons.has(id) ? (reasons.get(id) ?? null) : missing(id)) });
}

/** Who asks, when, by which rules of the shop, and the gear that the act names. */
async function contextOf(jobs: JobActs, db: Queryable, job: FoldedJob, sent: SentAct, actor: Actor): Promise<DecideContext> {
  const { act } = sent;
  const version = act.type === 'job.opened' ? act.body.policyVersion : job.state.policyVersion;
  const policy = (await jobs.references.policy(db, version)) ?? DEFAULT_POLICY;
  const now = jobs.clock();
  const gear = new Map<string, Gear>();
  for (const id of gearIdsOf(act)) {
    const row = await findGear(db, jobs.shopId, id);
    if (row?.retired === null) gear.set(id, row.gear);
  }
  return {
    ...{ profile: job.profile, by: sent.by, role: actor.role, whyNotFree: () => null },
    ...{ now: now.getTime(), isolation: policy.isolation, gearPolicy: policy.gear },
    findGear: (id) => gear.get(id) ?? null,
    whyNotSign: whyNoSignature(actor, now, policy.isolation.timeZone),
  };
}

function gearIdsOf(act: Act): string[] {
  if (act.type === 'gear.picked') return [act.body.gearId];
  if (act.type === 'insulation.tested') return [act.body.testerId];
  if (act.type === 'proof.started') return [act.body.meterId, ...(act.body.sourceId === null ? [] : [act.body.sourceId])];
  return [];
}

async function whyNotFree(
  db: Queryable,
  shopId: string,
  jobId: string,
  job: FoldedJob,
  module: Awaited<ReturnType<typeof lockModules>>[number],
): Promise<string | null> {
  const { moduleId, reservedBy, inJob, quarantine, typeId } = module;
  if (reservedBy !== null && reservedBy !== jobId) {
    const number = await findJobNumber(db, shopId, reservedBy);
    return `Module ${moduleId} was taken by job ${number ?? reservedBy} meanwhile. Compute the match again without it.`;
  }
  if (inJob !== null) return `Module ${moduleId} sits in a pack, not on the shelf.`;
  if (quarantine !== null) return `Module ${moduleId} is in quarantine: ${quarantine}`;
  if (typeId !== job.profile.moduleType.id) return `Module ${moduleId} is of another type (${typeId}).`;
  return null;
}

/** Applies kept events to the state and to the cross-job tables; also run by a rebuild. */
export async function projectJobEvents(
  jobs: Pick<JobActs, 'shopId' | 'references'>,
  db: Queryable,
  jobId: string,
  job: FoldedJob,
  events: readonly ChainedEvent[],
): Promise<void> {
  const { shopId } = jobs;
  for (const chained of events) {
    const event = toJobEvent(chained);
    apply(job.state, job.profile, event);
    await projectModules(db, shopId, jobId, job, event);
    await projectPhoto(db, shopId, jobId, job, event);
  }
  const policy = await jobs.references.policy(db, job.state.policyVersion);
  await saveSummary(db, shopId, summarise(jobId, job.state, job.profile, policy), rememberJob(job.state, job.profile));
}

async function projectPhoto(db: Queryable, shopId: string, jobId: string, job: FoldedJob, event: JobEvent): Promise<void> {
  if (event.type !== 'photo.erased') return;
  const photo = job.state.strip.photos.find((p) => p.photoId === event.body.photoId);
  if (photo) await erasePhoto(db, shopId, { jobId, photoId: photo.photoId, sha256: photo.sha256, by: photo.by, at: new Date(photo.at) });
}

async function projectModules(db: Queryable, shopId: string, jobId: string, job: FoldedJob, event: JobEvent): Promise<void> {
  if (event.type === 'job.opened') await savePackModules(db, shopId, jobId, job.profile.moduleType.id, event.body.moduleIds);
  if (event.type === 'plan.chosen' && event.body.fromShelf.length > 0) await reserveModules(db, shopId, jobId, event.body.fromShelf);
  if (event.type === 'plan.withdrawn') await freeModules(db, shopId, jobId);
}
