/** Jobs over HTTP: the yard, a job's folded state, its events, its acts, its files. */
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import {
  batchSchema,
  sentActSchema,
  SHOP_STREAM,
  type BatchAnswer,
  type ErasedAnswer,
  type EventsAnswer,
  type JobPapers,
} from '@estuarine/contract';
import { ACT_TRAITS, DEFAULT_POLICY, FOLD_VERSION, idSchema, numberSchema, writeState, type JobState } from '@estuarine/core';
import type { FastifyReply, FastifyRequest } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import { findCustomer, findVehicle, isAnyWritten, listErased } from '../customers/store.ts';
import { findEpoch, findHead, readEvents } from '../log/store.ts';
import type { Tail } from '../log/tail.ts';
import type { ActKeys } from '../persons/act-keys.ts';
import type { Principals } from '../persons/principals.ts';
import { HttpProblem, problemBody, problemOfIssue, problemOfRefusal } from '../problem.ts';
import { keepJobActs } from './acts.ts';
import type { JobActs, SignedAct } from './asked.ts';
import { planCsv, sweepsCsv } from './export.ts';
import { toWireEvent, type FoldedJob } from './job-states.ts';
import { readSent } from './sent.ts';
import { listJobs, listMemories } from './store.ts';

export interface JobRoutes {
  readonly jobs: JobActs;
  readonly tail: Tail;
  readonly principals: Principals;
  readonly actKeys: ActKeys;
}

const params = z.object({ jobId: idSchema });
const page = z.object({
  after: z.coerce.number().pipe(numberSchema).default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(500),
});

const someJobs = z.object({ ids: z.string().min(1).max(20_000).optional() });

/** Header of an answer: position in the order of the shop that it includes all events up to. */
const UP_TO = 'estuarine-position';

const pack = promisify(gzip);

/** A job's state at a head as it is sent, plain and packed. */
interface StateText {
  readonly head: number;
  readonly text: Buffer;
  readonly packed: Buffer;
}

export const jobRoutes: FastifyPluginCallbackZod<JobRoutes> = (app, { jobs, tail, principals, actKeys }, done) => {
  const { pool, shopId, states, references } = jobs;
  const texts = new Map<string, StateText>();
  let epoch: string | null = null;
  /** Of another log before a restore the same number means something else. Weak: the same state goes out packed and as it is. */
  const etagOf = (head: number): string => `W/"${epoch}.${head}"`;

  async function headOf(jobId: string): Promise<number> {
    if (jobId === SHOP_STREAM) throw new HttpProblem(404, 'unknownJob', 'The shop’s own stream is no job.');
    const head = tail.headOf(jobId) ?? (await findHead(pool, shopId, jobId));
    if (head === null || head === 0) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
    tail.noteHead(jobId, head);
    return head;
  }

  async function foldedAt(jobId: string): Promise<FoldedJob> {
    const job = await states.lookAt(pool, jobId, await headOf(jobId));
    if (!job) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
    return job;
  }

  app.get(
    '/api/profiles/:profileId/memory',
    { schema: { tags: ['jobs'], params: z.object({ profileId: idSchema }), querystring: z.object({ job: idSchema.optional() }) } },
    async ({ params: { profileId }, query: { job } }) => ({
      memories: await listMemories(pool, shopId, profileId, job ?? null),
    }),
  );

  app.get('/api/jobs', { schema: { tags: ['jobs'], querystring: someJobs } }, async (request, reply) => {
    void reply.header(UP_TO, tail.cursor);
    const { ids } = request.query;
    return { jobs: await listJobs(pool, shopId, ids === undefined ? null : ids.split(',')) };
  });

  /** Answers with a state that is at hand, or that nothing is new. */
  function sendText(request: FastifyRequest, reply: FastifyReply, { head, text, packed }: StateText, upTo: number): FastifyReply {
    const etag = etagOf(head);
    void reply.header('etag', etag).header('cache-control', 'no-cache').header(UP_TO, upTo);
    if (request.headers['if-none-match'] === etag) return reply.code(304).send();
    void reply.type('application/json; charset=utf-8').header('vary', 'accept-encoding');
    if (!/\bgzip\b/.test(request.headers['accept-encoding'] ?? '')) return reply.send(text);
    return reply.header('content-encoding', 'gzip').send(packed);
  }

  async function makeText(jobId: string): Promise<StateText> {
    const head = await headOf(jobId);
    epoch ??= await findEpoch(pool, shopId);
    const known = texts.get(jobId);
    if (known?.head === head) return known;
    const { state, profile } = await foldedAt(jobId);
    const about = JSON.stringify({ jobId, fold: FOLD_VERSION, epoch, profileId: profile.id, profileVersion: profile.version });
    const text = Buffer.from(`${about.slice(0, -1)},"state":${writeState(state)}}`);
    const made = { head: state.head, text, packed: await pack(text) };
    texts.set(jobId, made);
    if (texts.size > 500) texts.delete(texts.keys().next().value ?? '');
    return made;
  }

  // asked most of all: compressed once for each state, not for each asking, and what is at hand is sent without waiting
  app.get('/api/jobs/:jobId', { compress: false, schema: { tags: ['jobs'], params } }, (request, reply) => {
    const { jobId } = request.params;
    // before the head is looked up: whatever came by then is in it
    const upTo = tail.cursor;
    const known = texts.get(jobId);
    if (known && known.head === tail.headOf(jobId)) return sendText(request, reply, known, upTo);
    return makeText(jobId).then((made) => sendText(request, reply, made, upTo));
  });

  app.get('/api/jobs/:jobId/events', { schema: { tags: ['jobs'], params, querystring: page } }, async (request): Promise<EventsAnswer> => {
    const { jobId } = request.params;
    await headOf(jobId);
    const { after, limit } = request.query;
    const events = await readEvents(pool, shopId, jobId, after, limit);
    return { events: events.map(toWireEvent), next: events.length === limit ? (events[events.length - 1]?.number ?? null) : null };
  });

  /** Reads one act as its device stored it. Throws a problem for what does not fit, or whom the session does not answer for. */
  async function readAct(request: FastifyRequest, jobId: string, raw: unknown): Promise<SignedAct> {
    const parsed = sentActSchema.safeParse(raw);
    if (!parsed.success) throw problemOfIssue(parsed.error.issues[0]);
    const sent = parsed.data;
    const read = readSent(sent, jobId);
    if (read.act.type === 'word.passed')
      throw new HttpProblem(422, 'schema', 'What is passed on is sent as it was said, in the name of whoever said it.', ['act', 'type']);
    const { nature, isPassedOn } = ACT_TRAITS[read.act.type];
    const isProven = (): boolean => actKeys.proves(jobId, sent, raw as Readonly<Record<string, unknown>>, jobs.clock());
    return { sent, read, ...(await principals.answerFor(request, sent, { isFact: nature === 'fact', isPassedOn, isProven })) };
  }

  // one act by itself, as devices of earlier releases send them
  app.post('/api/jobs/:jobId/acts', { schema: { tags: ['jobs'], params, body: sentActSchema } }, async (request) => {
    const jobId = jobOf(request.params);
    const [outcome] = await keepJobActs(jobs, jobId, [await readAct(request, jobId, request.body)]);
    if (outcome instanceof HttpProblem) throw outcome;
    if (outcome?.kind !== 'kept') throw outcome ? problemOfRefusal(outcome) : new HttpProblem(500, 'internal', 'Nothing came of the act.');
    return outcome;
  });

  app.post(
    '/api/jobs/:jobId/batches',
    { config: { isForLocked: true }, schema: { tags: ['jobs'], params, body: batchSchema } },
    async (request): Promise<BatchAnswer> => {
      const jobId = jobOf(request.params);
      const outcomes: BatchAnswer['outcomes'] = [];
      const asked: { readonly index: number; readonly act: SignedAct }[] = [];
      let opening: HttpProblem | null = null;
      for (const [index, raw] of request.body.acts.entries())
        try {
          if (opening) throw opening;
          asked.push({ index, act: await readAct(request, jobId, raw) });
        } catch (error) {
          if (!(error instanceof HttpProblem)) throw error;
          outcomes[index] = { kind: 'refused', problem: problemBody(error) };
          // what builds on an opening that waits for its author waits with it
          if (isOpening(raw) && error.status === 403) opening = error;
        }
      const kept =
        asked.length === 0
          ? []
          : await keepJobActs(
              jobs,
              jobId,
              asked.map((a) => a.act),
            );
      for (const [i, { index }] of asked.entries()) {
        const outcome = kept[i];
        if (!outcome) throw new Error('an act of the batch came to nothing');
        if (outcome instanceof HttpProblem) outcomes[index] = { kind: 'refused', problem: problemBody(outcome) };
        else outcomes[index] = outcome.kind === 'kept' ? outcome : { kind: 'refused', problem: problemBody(problemOfRefusal(outcome)) };
      }
      return { outcomes };
    },
  );

  async function papersOf({ intake }: JobState): Promise<JobPapers> {
    const { vehicle, customer } = intake.opened ?? { vehicle: null, customer: null };
    return {
      vehicle: vehicle && (await findVehicle(pool, shopId, vehicle.id)),
      customer: customer && (await findCustomer(pool, shopId, customer.id)),
      corrected: {
        vehicle: await isAnyWritten(pool, shopId, 'vehicle', intake.before.vehicles),
        customer: await isAnyWritten(pool, shopId, 'customer', intake.before.customers),
      },
    };
  }

  app.get('/api/erased', { schema: { tags: ['jobs'] } }, async (): Promise<ErasedAnswer> => ({
    vehicles: await listErased(pool, shopId, 'vehicle'),
    customers: await listErased(pool, shopId, 'customer'),
  }));

  // apart from the state: they can be erased while the job stays as it is
  app.get('/api/jobs/:jobId/papers', { schema: { tags: ['jobs'], params } }, async (request) =>
    papersOf((await foldedAt(request.params.jobId)).state),
  );

  app.get('/api/jobs/:jobId/job.json', { schema: { tags: ['jobs'], params } }, async (request, reply) => {
    const { jobId } = request.params;
    const { state, profile } = await foldedAt(jobId);
    const events = (await readEvents(pool, shopId, jobId, 0, 100_000)).map(toWireEvent);
    const policy = await references.policy(pool, state.policyVersion);
    return attach(reply, `job-${numberOf(state)}.json`, 'application/json; charset=utf-8').send(
      JSON.stringify(
        {
          ...{ format: 'estuarine-job', version: 2, fold: FOLD_VERSION, jobId, profile, policy, papers: await papersOf(state) },
          ...{ state: JSON.parse(writeState(state)) as unknown, events },
        },
        null,
        2,
      ),
    );
  });

  app.get('/api/jobs/:jobId/sweeps.csv', { schema: { tags: ['jobs'], params } }, async (request, reply) => {
    const { state } = await foldedAt(request.params.jobId);
    return attach(reply, `job-${numberOf(state)}-sweeps.csv`, 'text/csv; charset=utf-8').send(sweepsCsv(state));
  });

  app.get('/api/jobs/:jobId/plan.csv', { schema: { tags: ['jobs'], params } }, async (request, reply) => {
    const { state, profile } = await foldedAt(request.params.jobId);
    if (!state.plan.chosen) throw new HttpProblem(404, 'noPlan', 'No plan is chosen on this job yet.');
    const policy = (await references.policy(pool, state.policyVersion)) ?? DEFAULT_POLICY;
    return attach(reply, `job-${numberOf(state)}-plan.csv`, 'text/csv; charset=utf-8').send(planCsv(state, profile, policy));
  });

  done();
};

function isOpening(raw: unknown): boolean {
  return typeof raw === 'object' && raw !== null && (raw as { act?: { type?: unknown } }).act?.type === 'job.opened';
}

/** The shop's own stream is no job. */
function jobOf({ jobId }: { readonly jobId: string }): string {
  if (jobId === SHOP_STREAM) throw new HttpProblem(422, 'unknownName', 'A job cannot be called "shop".', ['jobId']);
  return jobId;
}

function numberOf({ intake }: JobState): number {
  return intake.opened?.number ?? 0;
}

function attach(reply: FastifyReply, name: string, type: string): FastifyReply {
  return reply.header('content-disposition', `attachment; filename="${name}"`).type(type);
}
