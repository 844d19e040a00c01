/** What becomes of an act on a job: what the shop's tables and registers say of it is looked up, and the core decides. */
import {
  decide,
  DEFAULT_POLICY,
  inTimeOf,
  refuse,
  stampOf,
  startState,
  whyNotInPack,
  whyNotTake,
  type Act,
  type DecideContext,
  type Gear,
  type Refusal,
  type Result,
} from '@estuarine/core';
import { hasPaper } from '../customers/store.ts';
import type { Queryable } from '../database/database.ts';
import { findGear } from '../gear/store.ts';
import { whyNoSignature } from '../persons/principals.ts';
import { findPhoto } from '../photos/store.ts';
import { lockModules, type ShelfState } from '../stock/store.ts';
import type { AskedOfJob, JobActs } from './asked.ts';
import type { FoldedJob } from './job-states.ts';
import { findClosedJobs, findJobNumber, findNextNumber } from './store.ts';
import type { SealedPapers } from './writes.ts';

/** The job as an act finds it: folded up to its head, or just beginning. */
export async function beginAct(jobs: JobActs, db: Queryable, jobId: string, head: number, act: Act): Promise<FoldedJob | Refusal> {
  const known = await jobs.states.checkOut(db, jobId, head);
  if (known) return known;
  if (act.type !== 'job.opened') return refuse('gone', 'This job was never opened.');
  const { profileId, profileVersion, policyVersion } = act.body;
  const profile = await jobs.references.profile(db, profileId, profileVersion);
  if (!profile) return refuse('unknownName', `There is no profile ${profileId} of version ${profileVersion}.`, ['body', 'profileId']);
  if (!(await jobs.references.policy(db, policyVersion)))
    return refuse('unknownName', `There is no policy of version ${policyVersion}.`, ['body', 'policyVersion']);
  return { state: startState(profile), profile };
}

/** Decides one act; what it becomes names its papers by their hash. */
export function decideAct(
  jobs: JobActs,
  db: Queryable,
  job: FoldedJob,
  asked: AskedOfJob,
  papers: SealedPapers,
): Promise<Result<readonly Act[]>> {
  const { act } = asked.read;
  if (act.type === 'job.opened') return decideOpening(jobs, db, job, asked, act, papers);
  if (act.type === 'papers.corrected') return decideCorrecting(jobs, db, job, asked, act, papers);
  return decideOn(jobs, db, job, asked);
}

type Opening = Extract<Act, { type: 'job.opened' }>;
type Correcting = Extract<Act, { type: 'papers.corrected' }>;

/** Refused where rows of these names stand already: what was written once stays as it was. */
async function refuseTakenPapers(
  db: Queryable,
  shopId: string,
  { vehicle, customer }: Opening['body'] | Correcting['body'],
): Promise<Refusal | null> {
  for (const [paper, row] of [
    ['vehicle', vehicle],
    ['customer', customer],
  ] as const)
    if (row && (await hasPaper(db, shopId, paper, row.id)))
      return refuse('taken', `Other papers have the id ${row.id}.`, ['body', paper, 'id']);
  return null;
}

/** Names the new rows by their hash. */
async function decideCorrecting(
  jobs: JobActs,
  db: Queryable,
  job: FoldedJob,
  asked: AskedOfJob,
  act: Correcting,
  sealed: SealedPapers,
): Promise<Result<readonly Act[]>> {
  const taken = await refuseTakenPapers(db, jobs.shopId, act.body);
  if (taken) return taken;
  const body = { vehicle: sealed.vehicle?.row ?? act.body.vehicle, customer: sealed.customer?.row ?? null };
  return decide(job.state, { ...act, body }, await contextOf(jobs, db, job, asked, []));
}

/** Numbers a job, names its papers by their hash, and looks whether its modules can be in its pack. */
async function decideOpening(
  jobs: JobActs,
  db: Queryable,
  job: FoldedJob,
  asked: AskedOfJob,
  act: Opening,
  sealed: SealedPapers,
): Promise<Result<readonly Act[]>> {
  const { shopId } = jobs;
  const { jobId } = asked;
  const { comebackOf, moduleIds } = act.body;
  if (comebackOf !== null && (await findJobNumber(db, shopId, comebackOf)) === null)
    return refuse('unknownName', 'The job that it comes back from is not there.', ['body', 'comebackOf']);
  const known = await lockModules(db, shopId, moduleIds);
  const closed = await findClosedJobs(
    db,
    shopId,
    known.flatMap((m) => (m.inJob === null ? [] : [m.inJob])),
  );
  const taker = { job: jobId, typeId: job.profile.moduleType.id };
  for (const module of known) {
    const why = whyNotInPack({ ...module, isJobClosed: module.inJob !== null && closed.has(module.inJob) }, taker);
    if (why !== null) return refuse('taken', why, ['body', 'moduleIds', moduleIds.indexOf(module.moduleId)]);
  }
  const taken = await refuseTakenPapers(db, shopId, act.body);
  if (taken) return taken;
  const body = {
    ...act.body,
    number: await findNextNumber(db, shopId),
    vehicle: sealed.vehicle?.row ?? act.body.vehicle,
    customer: sealed.customer?.row ?? null,
  };
  return decide(job.state, { ...act, body }, await contextOf(jobs, db, job, asked, []));
}

async function decideOn(jobs: JobActs, db: Queryable, job: FoldedJob, asked: AskedOfJob): Promise<Result<readonly Act[]>> {
  const { act } = asked.read;
  const { shopId, references } = jobs;
  const shelf = act.type === 'plan.chosen' ? await lockModules(db, shopId, act.body.fromShelf) : [];
  const decided = decide(job.state, act, await contextOf(jobs, db, job, asked, shelf));
  if (decided.kind === 'refused') return decided;
  if (act.type === 'policy.adopted' && !(await references.policy(db, act.body.policyVersion)))
    return refuse('unknownName', `There is no policy of version ${act.body.policyVersion}.`, ['body', 'policyVersion']);
  if (act.type === 'photo.taken') {
    const known = await findPhoto(db, shopId, asked.jobId, act.body.photoId);
    if (known && known.sha256 !== act.body.sha256)
      return refuse('mismatch', 'Another picture is kept under the id of this photograph.', ['body', 'sha256']);
  }
  return decided;
}

/** Who asks, when, by which rules of the shop, and the gear and modules that the act names. */
async function contextOf(
  { references, clock, shopId }: JobActs,
  db: Queryable,
  job: FoldedJob,
  { jobId, sent, device, read, actor, proof }: AskedOfJob,
  shelf: readonly ShelfState[],
): Promise<DecideContext> {
  const { act } = read;
  const version = act.type === 'job.opened' ? act.body.policyVersion : job.state.policyVersion;
  const policy = (await references.policy(db, version)) ?? DEFAULT_POLICY;
  const now = clock();
  const gear = new Map<string, Gear>();
  for (const id of gearIdsOf(act)) {
    const row = await findGear(db, shopId, id);
    if (row?.retired === null) gear.set(id, row.gear);
  }
  const taker = { job: jobId, typeId: job.profile.moduleType.id };
  const modules = new Map<string, { readonly why: string | null; readonly capacityAh: number | null }>();
  for (const module of shelf) {
    const holder = module.reservedBy === null ? null : await findJobNumber(db, shopId, module.reservedBy);
    modules.set(module.moduleId, { why: whyNotTake(module, taker, holder), capacityAh: module.capacityAh });
  }
  return {
    ...{ profile: job.profile, by: actor.id, role: actor.role },
    ...{ now: now.getTime(), isolation: policy.isolation, gearPolicy: policy.gear },
    stamp: stampOf(
      inTimeOf(job.state, {
        ...{ number: job.state.head + 1, by: actor.id },
        ...{ at: now.toISOString(), deviceAt: sent.deviceAt, device },
      }),
    ),
    whyNotFree: (id) => {
      const module = modules.get(id);
      return module ? module.why : `There is no module ${id} on the shelf.`;
    },
    shelfCapacityAh: (id) => modules.get(id)?.capacityAh ?? null,
    provenRange: proof,
    findGear: (id) => gear.get(id) ?? null,
    // telling the day in the shop's time zone takes longer than most acts, and few are signed
    get whyNotSign() {
      return whyNoSignature(actor, now, policy.isolation.timeZone);
    },
  };
}

function gearIdsOf(act: Act): string[] {
  if (act.type === 'gear.picked') return [act.body.gearId];
  if (act.type === 'insulation.tested') return [act.body.testerId];
  if (act.type === 'torque.set') return [act.body.toolId];
  if (act.type === 'proof.started') return [act.body.meterId, ...(act.body.sourceId === null ? [] : [act.body.sourceId])];
  return [];
}
