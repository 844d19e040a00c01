/** Devices of earlier releases that come back with what they hold: their queues are frozen as those releases wrote them. */
import { readFileSync } from 'node:fs';
import { batchAnswerSchema } from '@estuarine/contract';
import { jobStateSchema, type JobState } from '@estuarine/core';
import type { FastifyInstance } from 'fastify';
import { readEvents } from '../src/log/store.ts';
import { verifyChains } from '../src/log/verify.ts';
import { createDatabase, profile, SHOP, signIn, startApp, type TestDatabase } from './support.ts';

interface Before {
  readonly release: string;
  readonly jobId: string;
  readonly acts: readonly { readonly commandId: string; readonly act: { readonly type: string } }[];
}
/** A release is added with every change of what devices send, and never changed. */
const TEXT = readFileSync(new URL('fixtures/devices-before.json', import.meta.url), 'utf8');
// a shop that begins today has the profile as it is shipped today
const BEFORE = JSON.parse(TEXT.replaceAll('"profileVersion": 1', `"profileVersion": ${profile.version}`)) as Before[];

let db: TestDatabase;
let app: FastifyInstance;
let om = '';
let ts = '';

beforeEach(async () => {
  db = await createDatabase();
  app = await startApp(db);
  [om, ts] = [await signIn(app), await signIn(app, 'ts')];
});
afterEach(async () => {
  await app.close();
  await db.drop();
});

async function sendAll(jobId: string, acts: readonly object[], cookie: string): Promise<string[]> {
  const answer = await app.inject({ method: 'POST', url: `/api/jobs/${jobId}/batches`, headers: { cookie }, payload: { acts } });
  return batchAnswerSchema.parse(answer.json()).outcomes.map((o) => (o.kind === 'kept' ? 'kept' : String(o.problem.status)));
}

async function stateOf(jobId: string): Promise<JobState> {
  const answer = await app.inject({ method: 'GET', url: `/api/jobs/${jobId}`, headers: { cookie: om } });
  return jobStateSchema.parse(answer.json<{ state: unknown }>().state);
}

function valuesOf({ sweeps }: JobState['sweep']): number[] {
  return [...(sweeps[0]?.readings.openCircuitVolt?.values() ?? [])].flat().map((r) => r.value);
}

describe.each(BEFORE.map((b) => [b.release, b] as const))('a device with %s', (_release, { jobId, acts }) => {
  it('is heard in the session of whoever worked on it: all is kept, once, and reads as it was meant', async () => {
    expect(await sendAll(jobId, acts, om)).toEqual(acts.map(() => 'kept'));
    const { pack, sweep, head } = await stateOf(jobId);
    expect([pack.isKeyAway, pack.isPlugIn]).toEqual([true, false]);
    expect(valuesOf(sweep)).toEqual([7.81]);
    expect(await sendAll(jobId, acts, om)).toEqual(acts.map(() => 'kept'));
    expect((await stateOf(jobId)).head).toBe(head);
    expect((await verifyChains(db.pool)).faults).toEqual([]);
  });

  it('sends by another’s session what lowers nothing until its author says it, and opens nothing', async () => {
    const [opening, ...rest] = acts;
    expect(await sendAll(jobId, acts, ts)).toEqual(acts.map(() => '403'));
    expect(await sendAll(jobId, [opening as object], om)).toEqual(['kept']);
    expect(await sendAll(jobId, rest, ts)).toEqual(rest.map(() => 'kept'));
    const heard = (await readEvents(db.pool, SHOP, jobId, 0, 100)).slice(1);
    expect(heard.map((e) => [e.type, e.by, e.commandId])).toEqual(rest.map((a) => ['word.passed', 'ts', a.commandId]));
    const before = await stateOf(jobId);
    expect([before.pack.isKeyAway, before.pack.isPlugIn, before.sweep.sweeps]).toEqual([false, true, []]);
    // their author comes with the same device: it is said now
    expect(await sendAll(jobId, rest, om)).toEqual(rest.map(() => 'kept'));
    const after = await stateOf(jobId);
    expect([after.pack.isKeyAway, after.pack.isPlugIn, after.passed]).toEqual([true, false, []]);
    expect(valuesOf(after.sweep)).toEqual([7.81]);
    expect((await verifyChains(db.pool)).faults).toEqual([]);
  });
});
