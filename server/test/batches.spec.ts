import { generateKeyPairSync } from 'node:crypto';
import { batchAnswerSchema, type BatchAnswer, type SentAct } from '@estuarine/contract';
import { jobStateSchema, type Act, type JobState } from '@estuarine/core';
import type { FastifyInstance } from 'fastify';
import { readEvents } from '../src/log/store.ts';
import { verifyChains } from '../src/log/verify.ts';
import {
  createDatabase,
  Desk,
  nextId,
  openAct,
  PAPERS,
  send,
  SHOP,
  signIn,
  signingDevice,
  startApp,
  TECHNICIAN,
  type TestDatabase,
} from './support.ts';

let db: TestDatabase;
let desk: Desk;
let app: FastifyInstance;
let om = '';
let ts = '';

beforeAll(async () => {
  db = await createDatabase();
  desk = new Desk(db);
  app = await startApp(db);
  [om, ts] = [await signIn(app), await signIn(app, 'ts')];
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

const plug = (isIn: boolean): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn } } });
const adopt: Act = { type: 'policy.adopted', body: { policyVersion: 1 } };
const post = (jobId: string, acts: readonly unknown[], cookie = om) =>
  app.inject({ method: 'POST', url: `/api/jobs/${jobId}/batches`, headers: { cookie }, payload: { acts } });
async function outcomes(jobId: string, acts: readonly unknown[], cookie = om): Promise<BatchAnswer['outcomes']> {
  const answer = await post(jobId, acts, cookie);
  if (answer.statusCode !== 200) throw new Error(answer.body);
  return batchAnswerSchema.parse(answer.json()).outcomes;
}
const kinds = (all: BatchAnswer['outcomes']): string[] => all.map((o) => (o.kind === 'kept' ? 'kept' : String(o.problem.status)));
const events = (jobId: string) => readEvents(db.pool, SHOP, jobId, 0, 1000);

describe('a batch', () => {
  it('opens a job and goes on in it, each act with its own outcome, in order', async () => {
    const bad = { ...send(plug(false)), by: 7 };
    const all = [send(openAct('whole')), send(plug(false)), bad, send({ ...adopt, body: { policyVersion: 99 } }), send(plug(true))];
    expect(kinds(await outcomes('whole', all))).toEqual(['kept', 'kept', '422', '422', 'kept']);
    const opened = await events('whole');
    expect(opened.map((e) => e.number)).toEqual(opened.map((_, i) => i + 1));
    expect(opened.filter((e) => e.type === 'fact.stated').map((e) => e.commandId)).toEqual([all[1], all[4]].map((a) => a?.commandId));
    expect((await verifyChains(db.pool)).faults).toEqual([]);
  });

  it('sent twice, or holding an act twice, keeps each once with the same answer', async () => {
    await desk.keep('again', openAct('again'));
    const [one, two] = [send(plug(false)), send(plug(true))];
    const first = await outcomes('again', [one, two, one]);
    expect(first[2]).toEqual(first[0]);
    expect(await outcomes('again', [two, one])).toEqual([first[1], first[0]]);
    const other = { ...one, act: plug(true) };
    expect(kinds(await outcomes('again', [other, send(plug(false))]))).toEqual(['409', 'kept']);
    expect((await events('again')).filter((e) => e.commandId === one.commandId && e.type === 'fact.stated')).toHaveLength(1);
  });

  it('keeps nothing where one act fails the server, and all the others without it', async () => {
    await desk.keep('poison', openAct('poison'));
    await db.pool.query(`
      create function refuse_poison() returns trigger language plpgsql as $$
      begin if new.command_id = 'poison-act' then raise exception 'poison'; end if; return new; end $$;
      create trigger poison before insert on log_event for each row execute function refuse_poison()`);
    const [before, poison, after] = [send(plug(false)), send(plug(true), 'om', 'poison-act'), send(plug(true))];
    expect((await post('poison', [before, poison, after])).statusCode).toBe(500);
    expect(await events('poison')).toHaveLength(1);
    expect((await post('poison', [poison])).statusCode).toBe(500);
    expect(kinds(await outcomes('poison', [before, after]))).toEqual(['kept', 'kept']);
    await db.pool.query('drop trigger poison on log_event');
    expect(kinds(await outcomes('poison', [poison]))).toEqual(['kept']);
  });

  it('is decided anew where another process was quicker', async () => {
    const other = new Desk(db);
    await desk.keep('quick', openAct('quick'));
    const sweepId = await desk.openJob('quick-sweep');
    const reading = nextId();
    await desk.read('quick-sweep', sweepId, 1, 7.8, reading);
    const take: Act = { type: 'act.withdrawn', body: { commandId: reading, reason: 'mistyped' } };
    expect(await other.keep('quick-sweep', take)).toMatchObject({ kind: 'kept' });
    // this process still holds the state in which the reading stands
    expect(await desk.keep('quick-sweep', take)).toMatchObject({ kind: 'refused', code: 'gone' });
    expect(await desk.read('quick-sweep', sweepId, 2, 7.8)).toMatchObject({ kind: 'kept', first: 5 });
  });

  it('by two processes at once comes out as one chain in which each act stands once', async () => {
    await desk.keep('both', openAct('both'));
    const desks = [desk, new Desk(db), new Desk(db)] as const;
    const ids = Array.from({ length: 60 }, () => nextId());
    await Promise.all(ids.map((id, i) => (desks[i % 3] ?? desk).keep('both', plug(i % 2 === 0), id)));
    // and each again, by another
    await Promise.all(ids.map((id, i) => (desks[(i + 1) % 3] ?? desk).keep('both', plug(i % 2 === 0), id)));
    const kept = (await events('both')).filter((e) => e.type === 'fact.stated').map((e) => e.commandId);
    expect([...kept].sort()).toEqual([...ids].sort());
    expect((await verifyChains(db.pool)).faults).toEqual([]);
    const { rows } = await db.pool.query<{ sorted: boolean }>(
      `select bool_and(ok) as sorted from (select position > lag(position, 1, 0::bigint) over (order by number) as ok
       from log_event where stream = 'both') t`,
    );
    expect(rows[0]?.sorted).toBe(true);
  });

  it('of too many acts, of none, or for the shop’s own stream is refused', async () => {
    expect((await post('again', [])).statusCode).toBe(422);
    expect((await post('again', Array(101).fill(send(plug(true))))).statusCode).toBe(422);
    expect((await post('shop', [send(plug(true))])).statusCode).toBe(422);
    expect((await post('nowhere', [send(plug(true))])).statusCode).toBe(404);
  });

  it('with half an emoji in a text is told where, and nothing is stuck behind it', async () => {
    await desk.keep('half', openAct('half'));
    const note = { type: 'step.done', body: { stepId: 'keys-away', note: 'fine \ud83d' } };
    const answer = await post('half', [send(plug(true)), { ...send(plug(true)), act: note }]);
    expect(answer.statusCode).toBe(422);
    expect(answer.json()).toMatchObject({ path: ['acts', 1, 'act', 'body', 'note'] });
    expect(kinds(await outcomes('half', [send(plug(true))]))).toEqual(['kept']);
    // a whole one is fine
    const whole = { ...send(openAct('emoji')), papers: { ...PAPERS, vehicle: { ...PAPERS.vehicle, name: 'wagon 🚗' } } };
    expect(kinds(await outcomes('emoji', [whole]))).toEqual(['kept']);
  });
});

describe('a fact of somebody who is not at the device', () => {
  it('is forwarded where it is signed: both names stand in the event, and its author sending it too changes nothing', async () => {
    await desk.keep('forward', openAct('forward'));
    const signed = await signingDevice(app, om);
    const fact = signed('forward', send(plug(false)));
    const [kept] = await outcomes('forward', [fact], ts);
    const stated = (await events('forward')).filter((e) => e.commandId === fact.commandId);
    expect(stated.length).toBeGreaterThan(0);
    expect(stated.every((e) => e.by === 'om' && e.forwardedBy === 'ts')).toBe(true);
    expect(await outcomes('forward', [fact])).toEqual([kept]);
    const own = send(plug(true));
    await outcomes('forward', [own]);
    expect((await events('forward')).at(-1)).not.toHaveProperty('forwardedBy');
    expect((await verifyChains(db.pool)).faults).toEqual([]);
  });

  it('is forwarded after they have left the shop too; a permit waits, and a stranger’s is refused', async () => {
    await db.pool.query(`insert into person (shop_id, person_id, name, role, has_left) values ('shop', 'gone', 'G', 'apprentice', true)`);
    const acts = [send(plug(true), 'gone'), send(adopt, 'om'), send(plug(true), 'stranger')];
    const passed = { type: 'word.passed', by: 'ts', body: { of: 'gone' } };
    const fresh = await startApp(db);
    try {
      const answer = await fresh.inject({
        ...{ method: 'POST', url: '/api/jobs/forward/batches', headers: { cookie: ts }, payload: { acts } },
      });
      expect(kinds(batchAnswerSchema.parse(answer.json()).outcomes)).toEqual(['kept', '403', '422']);
      expect((await events('forward')).at(-1)).toMatchObject(passed);
    } finally {
      await fresh.close();
    }
  });

  it('is no second person: it is as if its author had sent it', async () => {
    await desk.keep('second', openAct('second'));
    const signed = await signingDevice(app, om);
    await outcomes('second', [signed('second', send(plug(false)))], ts);
    const answer = await app.inject({ method: 'GET', url: '/api/jobs/second/events', headers: { cookie: om } });
    expect(answer.json<{ events: object[] }>().events.at(-1)).toMatchObject({ by: 'om', forwardedBy: 'ts' });
  });
});

describe('a word in another’s name that nothing proves', () => {
  const stateOf = async (jobId: string): Promise<JobState> => {
    const answer = await app.inject({ method: 'GET', url: `/api/jobs/${jobId}`, headers: { cookie: om } });
    return jobStateSchema.parse(answer.json<{ state: unknown }>().state);
  };
  const lasting = { ...plug(false) };

  it('is kept as the word of whoever sends it, changes nothing, and counts once its author says that it is so', async () => {
    await desk.keep('passed', openAct('passed'));
    const fact = { ...send(lasting), deviceAt: new Date(Date.now() - 60_000).toISOString() };
    const reading = send({ type: 'wait.lengthened', body: { minute: 5, reason: 'a cold morning' } });
    const before = await stateOf('passed');
    expect(kinds(await outcomes('passed', [fact, reading], ts))).toEqual(['kept', 'kept']);
    const [first, second] = (await events('passed')).slice(-2);
    expect(first).toMatchObject({ type: 'word.passed', by: 'ts', commandId: fact.commandId, body: { of: 'om', said: { type: 'fact.stated', commandId: fact.commandId } } }); // prettier-ignore
    expect(first).not.toHaveProperty('forwardedBy');
    expect(second).toMatchObject({ type: 'word.passed', by: 'ts' });
    const after = await stateOf('passed');
    expect(after.pack).toEqual(before.pack);
    expect(after.isolate.lengthened).toEqual(before.isolate.lengthened);
    expect(after.passed.map((p) => [p.of, p.by, p.said.type])).toEqual([['om', 'ts', 'fact.stated'], ['om', 'ts', 'wait.lengthened']]); // prettier-ignore
    const answer: Act = { type: 'word.confirmed', body: { commandIds: [fact.commandId, reading.commandId], areSo: true } };
    // nobody answers in another's name, by its own session or by another's
    expect(kinds(await outcomes('passed', [send(answer), send(answer, 'ts')], ts))).toEqual(['403', '409']);
    expect(kinds(await outcomes('passed', [send(answer)]))).toEqual(['kept']);
    const kept = (await events('passed')).slice(-3);
    expect(kept.map((e) => [e.type, e.by, e.commandId === fact.commandId, e.deviceAt === fact.deviceAt])).toEqual([
      ['word.confirmed', 'om', false, false],
      ['fact.stated', 'om', true, true],
      ['wait.lengthened', 'om', false, false],
    ]);
    const last = await stateOf('passed');
    expect([last.pack.isPlugIn, last.isolate.lengthened.at(-1)?.by, last.passed]).toEqual([false, 'om', []]);
    expect((await verifyChains(db.pool)).faults).toEqual([]);
    // sent again it is the same act
    expect(kinds(await outcomes('passed', [fact], ts))).toEqual(['kept']);
    expect((await events('passed')).at(-1)?.type).toBe('wait.lengthened');
  });

  it('sets a module aside that was dropped once its author says so, and not before', async () => {
    await desk.openJob('dropped');
    const { rows } = await db.pool.query<{ module_id: string }>(`select module_id from module where quarantine is null limit 1`);
    const moduleId = rows[0]?.module_id ?? '';
    const drop = send({ type: 'module.dropped', body: { moduleId, note: '' } });
    const aside = async (): Promise<number | null> =>
      (await db.pool.query('select 1 from module where module_id = $1 and quarantine is not null', [moduleId])).rowCount;
    expect(await aside()).toBe(0);
    const [sent] = await outcomes('dropped', [drop], ts);
    expect([sent?.kind, await aside()]).toEqual(['kept', 0]);
    const confirm: Act = { type: 'word.confirmed', body: { commandIds: [drop.commandId], areSo: true } };
    expect(kinds(await outcomes('dropped', [send(confirm)]))).toEqual(['kept']);
    expect(await aside()).toBe(1);
  });

  it('waits for its author where it takes back, ends a shift, writes papers, or opens a job with all that builds on it', async () => {
    const reading = nextId();
    const sweepId = await desk.openJob('mine');
    await desk.read('mine', sweepId, 1, 7.8, reading);
    const head = (await events('mine')).length;
    const acts = [
      { type: 'act.withdrawn', body: { commandId: reading, reason: 'mistyped' } },
      { type: 'shift.ended', body: {} },
      { type: 'photo.taken', body: { stage: 'open', photoId: 'p1', sha256: 'ab'.repeat(32), byte: 10, width: 10, height: 10, caption: '', place: null, pairOf: null } }, // prettier-ignore
    ] as Act[];
    expect(kinds(await outcomes('mine', acts.map((a) => send(a)), ts))).toEqual(['403', '403', '403']); // prettier-ignore
    expect(await events('mine')).toHaveLength(head);
    expect(kinds(await outcomes('unborn', [send(openAct('unborn')), send(lasting)], ts))).toEqual(['403', '403']);
    // signed they go
    const signed = await signingDevice(app, om, 'bench-9');
    expect(kinds(await outcomes('mine', [signed('mine', send(acts[1] as Act))], ts))).toEqual(['kept']);
    expect(kinds(await outcomes('unborn', [signed('unborn', send(openAct('unborn')))], ts))).toEqual(['kept']);
    expect((await events('unborn'))[0]).toMatchObject({ by: 'om', forwardedBy: 'ts' });
  });

  it('takes no id from its author: the same said by them counts once, by whichever way, and something else stands beside it', async () => {
    await desk.keep('twice', openAct('twice'));
    const own = (commandId: string) => events('twice').then((all) => all.filter((e) => e.commandId === commandId && e.type !== 'word.confirmed').map((e) => [e.type, e.by])); // prettier-ignore
    const [same, answered, other] = [send(plug(false)), send(plug(true)), send(plug(false))];
    // said by the author after it was heard
    await outcomes('twice', [same], ts);
    expect(kinds(await outcomes('twice', [same, same]))).toEqual(['kept', 'kept']);
    expect(await own(same.commandId)).toEqual([['word.passed', 'ts'], ['fact.stated', 'om']]); // prettier-ignore
    // answered first, then sent by the author's own device as well
    await outcomes('twice', [answered], ts);
    await outcomes('twice', [send({ type: 'word.confirmed', body: { commandIds: [answered.commandId], areSo: true } })]);
    expect(kinds(await outcomes('twice', [answered]))).toEqual(['kept']);
    expect(await own(answered.commandId)).toEqual([['word.passed', 'ts'], ['fact.stated', 'om']]); // prettier-ignore
    // heard with other words in one batch with the true ones
    const signed = await signingDevice(app, om, 'bench-7');
    const { signature, ...bare } = signed('twice', send(plug(false)));
    expect(
      kinds(
        await outcomes(
          'twice',
          [
            { ...bare, act: plug(true) },
            { ...bare, signature },
          ],
          ts,
        ),
      ),
    ).toEqual(['kept', 'kept']);
    expect(await own(bare.commandId)).toEqual([['word.passed', 'ts'], ['fact.stated', 'om']]); // prettier-ignore
    // heard with other words and never proven
    await outcomes('twice', [{ ...other, act: plug(true) }], ts);
    expect(kinds(await outcomes('twice', [other, { ...send(plug(true)), commandId: other.commandId }]))).toEqual(['kept', '409']);
    expect(await own(other.commandId)).toEqual([['word.passed', 'ts'], ['fact.stated', 'om']]); // prettier-ignore
    expect((await stateOf('twice')).passed.map((p) => p.said.commandId)).not.toContain(other.commandId);
    expect((await stateOf('twice')).pack.isPlugIn).toBe(false);
    expect((await verifyChains(db.pool)).faults).toEqual([]);
  });

  it('is what every forged signature comes to', async () => {
    await desk.keep('forged', openAct('forged'));
    const [signed, ofTs, old] = [await signingDevice(app, om), await signingDevice(app, ts), await signingDevice(app, om, 'bench-2')];
    const real = signed('forged', send(lasting));
    const { certificate, value } = real.signature as NonNullable<typeof real.signature>;
    const anew = (more: object, way = signed): SentAct => ({ ...way('forged', send(lasting)), ...more });
    const late = new Date(Date.parse(certificate.until) + 10_000).toISOString();
    const forged: SentAct[] = [
      // another act, another moment, another turn under the same signature
      { ...real, commandId: nextId(), act: plug(true) },
      { ...real, commandId: nextId(), deviceAt: new Date(Date.parse(real.deviceAt) - 1000).toISOString() },
      { ...real, commandId: nextId(), device: { id: 'bench-1', isClockSure: true, turn: 99 } },
      // signed for another job, by another's key, by a certificate whose words were changed
      { ...signed('elsewhere', send(lasting)) },
      ofTs('forged', send(lasting)),
      anew({
        signature: {
          certificate: { ...(ofTs('forged', send(lasting)).signature?.certificate as typeof certificate), person: 'om' },
          value,
        },
      }),
      anew({ signature: { certificate: { ...certificate, until: late }, value } }),
      anew({ device: { id: 'bench-2', isClockSure: true, turn: 1 } }),
      anew({
        signature: { certificate: (old('forged', send(lasting)).signature as NonNullable<SentAct['signature']>).certificate, value },
      }),
      // said before the session and after it
      signed('forged', { ...send(lasting), deviceAt: new Date(Date.parse(certificate.from) - 60_000).toISOString() }),
      signed('forged', { ...send(lasting), deviceAt: late }),
      send(lasting),
    ];
    const all = await outcomes('forged', forged, ts);
    expect(kinds(all)).toEqual(forged.map(() => 'kept'));
    const kept = (await events('forged')).slice(1);
    expect(kept.map((e) => [e.type, e.by])).toEqual(forged.map(() => ['word.passed', 'ts']));
    expect((await stateOf('forged')).pack.isPlugIn).toBe(true);
    // and the one that is real
    await outcomes('forged', [real], ts);
    expect((await events('forged')).at(-1)).toMatchObject({ type: 'fact.stated', by: 'om', forwardedBy: 'ts' });
  });

  it('cannot be sent as what it is, and no key of another kind is certified', async () => {
    const direct = { type: 'word.passed', body: { of: 'om', said: { commandId: 'x', deviceAt: '2026-05-04T08:00:00.000Z', device: { id: 'd', isClockSure: true, turn: 1 }, type: 'fact.stated', version: 3, body: plug(true).body } } } as unknown as Act; // prettier-ignore
    expect(kinds(await outcomes('forged', [send(direct, 'ts')], ts))).toEqual(['422']);
    for (const key of [
      'A'.repeat(40),
      generateKeyPairSync('ed25519').publicKey.export({ format: 'der', type: 'spki' }).toString('base64url'),
    ]) {
      const answer = await app.inject({ method: 'POST', url: '/api/session/key', headers: { cookie: om }, payload: { device: 'd', key } });
      expect(answer.statusCode).toBe(422);
    }
    expect((await app.inject({ method: 'POST', url: '/api/session/key', payload: { device: 'd', key: 'A'.repeat(40) } })).statusCode).toBe(
      401,
    );
  });
});

describe('a locked screen', () => {
  it('sends the facts that were stated before it was locked, and nothing else', async () => {
    await desk.keep('locked', openAct('locked'));
    const cookie = await signIn(app);
    const [before, permit] = [send(plug(false)), send(adopt)];
    await app.inject({ method: 'POST', url: '/api/session/lock', headers: { cookie } });
    const after = { ...send(plug(true)), deviceAt: new Date(Date.now() + 60_000).toISOString() };
    expect(kinds(await outcomes('locked', [before, permit, after], cookie))).toEqual(['kept', '401', '401']);
    expect((await app.inject({ method: 'GET', url: '/api/jobs/locked', headers: { cookie } })).statusCode).toBe(401);
    const single = { method: 'POST', url: '/api/jobs/locked/acts', headers: { cookie }, payload: send(plug(true)) } as const;
    expect((await app.inject(single)).statusCode).toBe(401);
    expect(TECHNICIAN.id).toBe('om');
  });
});

it('says that it is busy, and when to come back, where the database takes no more connections', async () => {
  const answer = await startApp({
    ...db,
    pool: Object.assign(Object.create(db.pool) as typeof db.pool, {
      query: (what: unknown, ...more: unknown[]) =>
        what === 'select 1'
          ? Promise.reject(Object.assign(new Error('sorry, too many clients already'), { code: '53300' }))
          : (db.pool.query as (...all: unknown[]) => unknown).call(db.pool, what, ...more),
    }),
  });
  const health = await answer.inject({ method: 'GET', url: '/api/health' });
  await answer.close();
  expect(health.statusCode).toBe(503);
  expect(health.headers['retry-after']).toBe('1');
  expect(health.json()).toMatchObject({ type: 'urn:estuarine:busy' });
});
