/** Acts on a job: decided on its folded state, kept in its stream, and shown in the cross-job tables. */
import type { SentAct } from '@estuarine/contract';
import {
  ACT_TRAITS,
  decide,
  DEFAULT_POLICY,
  inTimeOf,
  refuse,
  rememberJob,
  stampOf,
  startState,
  versionOf,
  whyNotInPack,
  whyNotTake,
  type Act,
  type DecideContext,
  type DeviceWord,
  type Gear,
  type Refusal,
  type Result,
} from '@estuarine/core';
import type pg from 'pg';
import { hasPaper, sealPaper } from '../customers/store.ts';
import type { Queryable } from '../database/database.ts';
import { findGear } from '../gear/store.ts';
import { keepActs, type ActOutcome } from '../log/append.ts';
import type { Outcome, YardRow } from '../log/store.ts';
import { HttpProblem } from '../problem.ts';
import { whyNoSignature, type Actor, type Answerer } from '../persons/principals.ts';
import { findPhoto } from '../photos/store.ts';
import type { References } from '../profiles/references.ts';
import { lockModules, type ShelfState } from '../stock/store.ts';
import type { FoldedJob, JobStates } from './job-states.ts';
import { noProof, type PlanProver, type ProvenRange } from './plan-proof.ts';
import { readSent, type ReadAct } from './sent.ts';
import { findClosedJobs, findJobNumber, findNextNumber } from './store.ts';
import { summarise } from './summary.ts';
import { NO_PAPERS, projectJobEvent, type SealedPapers } from './writes.ts';

export interface JobActs {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  readonly states: JobStates;
  readonly references: References;
  /** Told of what was kept, after the commit; left out where nobody listens. */
  readonly announce?: (stream: string, head: number) => void;
  /** Proves the range of a plan before its job is locked; without one nothing is proven. */
  readonly prove?: PlanProver;
}

/** An act with whoever answers for it. */
export interface SignedAct extends Answerer {
  readonly sent: SentAct;
  readonly read: ReadAct;
}

/** What is at hand while one act is decided. */
interface Asked extends SignedAct {
  readonly jobId: string;
  readonly proof: ProvenRange;
}

/** Keeps one act of a person on a job. Throws a problem for what cannot be read. */
export async function keepJobAct(jobs: JobActs, jobId: string, sent: SentAct, actor: Actor): Promise<Outcome> {
  const [outcome] = await keepJobActs(jobs, jobId, [{ sent, read: readSent(sent, jobId), actor, forwardedBy: null, passedFor: null }]);
  if (outcome instanceof HttpProblem) throw outcome;
  return outcome ?? refuse('gone', 'Nothing was asked.');
}

/** Keeps acts on one job in order, all in one transaction, each with its own outcome. */
export async function keepJobActs(jobs: JobActs, jobId: string, acts: readonly SignedAct[]): Promise<readonly ActOutcome[]> {
  const asked: Asked[] = [];
  for (const came of acts) {
    const act = asPassed(came);
    const { read } = act;
    const proof = read.act.type === 'plan.chosen' && jobs.prove ? await jobs.prove(jobId, read.act.body) : noProof;
    asked.push({ ...act, jobId, proof });
  }
  return jobs.states.inTurn(jobId, () => keepInTurn(jobs, jobId, asked));
}

async function keepInTurn(jobs: JobActs, jobId: string, asked: readonly Asked[]): Promise<readonly ActOutcome[]> {
  const { pool, shopId, clock, states } = jobs;
  const held: { job: FoldedJob | null; papers: SealedPapers } = { job: null, papers: NO_PAPERS };
  const { outcomes, place } = await keepActs(
    pool,
    {
      ...{ shopId, stream: jobId, clock, opens: asked.some(({ read }) => read.act.type === 'job.opened') },
      acts: asked.map(({ sent, read, actor, forwardedBy }) => ({
        ...{ commandId: sent.commandId, by: sent.by, keptBy: actor.id, forwardedBy, deviceAt: sent.deviceAt, given: read.given },
        device: deviceOf(sent),
      })),
    },
    {
      known: () => {
        // the stream is locked first for what other jobs, the shelf or the photographs have a part in
        const last = asked.some(({ read }) => ACT_TRAITS[read.act.type].writes.length > 0) ? null : states.takeLast(jobId);
        held.job = last?.job ?? null;
        return last?.place ?? null;
      },
      decide: async (db, index, head) => {
        const one = asked[index];
        if (!one) return refuse('gone', 'Nothing was asked.');
        if (!held.job) {
          const begun = await beginAct(jobs, db, jobId, head, one.read.act);
          if ('kind' in begun) return begun;
          held.job = begun;
        }
        held.papers = sealPapers(one.read);
        const { act } = one.read;
        if (act.type === 'job.opened') return decideOpening(jobs, db, held.job, one, act, held.papers);
        if (act.type === 'papers.corrected') return decideCorrecting(jobs, db, held.job, one, act, held.papers);
        return decideOn(jobs, db, held.job, one);
      },
      versionOf: (act) => versionOf(act as Act),
      project: async (db, events) => {
        const { job, papers } = held;
        held.papers = NO_PAPERS;
        if (job) for (const event of events) await projectJobEvent(db, { shopId, jobId, job, papers }, event);
      },
      row: async (db) => held.job && yardRowOf(jobs, db, jobId, held.job),
      drop: () => {
        held.job = null;
      },
    },
  );
  const { job } = held;
  if (job && place?.head === job.state.head) states.checkIn(jobId, job, place.hash);
  for (const outcome of outcomes) if (!(outcome instanceof HttpProblem) && outcome.kind === 'kept') jobs.announce?.(jobId, outcome.last);
  return outcomes;
}

/** What is sent in another's name and nothing proves is kept as heard: the word of whoever sends it. */
function asPassed(act: SignedAct): SignedAct {
  const { sent, read, passedFor } = act;
  if (passedFor === null) return act;
  const { commandId, deviceAt } = sent;
  const { type, body } = read.act;
  const said = { commandId, deviceAt, device: deviceOf(sent), type, version: versionOf(read.act), body: { ...body } };
  return { ...act, read: { ...read, act: { type: 'word.passed', body: { of: passedFor, said } } } };
}

function deviceOf({ device, commandId }: SentAct): DeviceWord {
  return device ?? unsureDevice(commandId);
}

/**
 * What an act that names no device is kept with: nothing tells when it was said but that it was before it came, so that of two such words
 * on one thing neither is the later. What older releases kept without a device reads as it did.
 */
function unsureDevice(commandId: string): DeviceWord {
  return { id: `act ${commandId}`.slice(0, 64), isClockSure: false, turn: 0 };
}

function sealPapers({ act, papers }: ReadAct): SealedPapers {
  if ((act.type !== 'job.opened' && act.type !== 'papers.corrected') || !papers) return NO_PAPERS;
  const { vehicle, customer } = act.body;
  return {
    vehicle: sealPaper(vehicle.id, papers.vehicle),
    customer: customer && papers.customer ? sealPaper(customer.id, papers.customer) : null,
  };
}

async function beginAct(jobs: JobActs, db: Queryable, jobId: string, head: number, act: Act): Promise<FoldedJob | Refusal> {
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
  asked: Asked,
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
  asked: Asked,
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

async function decideOn(jobs: JobActs, db: Queryable, job: FoldedJob, asked: Asked): Promise<Result<readonly Act[]>> {
  const { act } = asked.read;
  const { shopId, references } = jobs;
  if (act.type === 'policy.adopted' && !(await references.policy(db, act.body.policyVersion)))
    return refuse('unknownName', `There is no policy of version ${act.body.policyVersion}.`, ['body', 'policyVersion']);
  if (act.type === 'photo.taken') {
    const known = await findPhoto(db, shopId, asked.jobId, act.body.photoId);
    if (known && known.sha256 !== act.body.sha256)
      return refuse('mismatch', 'Another picture is kept under the id of this photograph.', ['body', 'sha256']);
  }
  const shelf = act.type === 'plan.chosen' ? await lockModules(db, shopId, act.body.fromShelf) : [];
  return decide(job.state, act, await contextOf(jobs, db, job, asked, shelf));
}

/** Who asks, when, by which rules of the shop, and the gear and modules that the act names. */
async function contextOf(
  { references, clock, shopId }: JobActs,
  db: Queryable,
  job: FoldedJob,
  { jobId, sent, read, actor, proof }: Asked,
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
        ...{ at: now.toISOString(), deviceAt: sent.deviceAt, device: deviceOf(sent) },
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

type Projecting = Pick<JobActs, 'references'>;

/** The row of a job as it stands. */
export async function yardRowOf({ references }: Projecting, db: Queryable, jobId: string, job: FoldedJob): Promise<YardRow> {
  const policy = (await references.policy(db, job.state.policyVersion)) ?? DEFAULT_POLICY;
  const summary = summarise(jobId, job.state, job.profile, policy);
  const memory = rememberJob(job.state, job.profile, policy.isolation.timeZone);
  return { number: summary.number, summary: JSON.stringify(summary), memory: JSON.stringify(memory) };
}
