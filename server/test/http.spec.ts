import { gunzipSync } from 'node:zlib';
import type { FastifyInstance, InjectOptions } from 'fastify';
import type { Act } from '@estuarine/core';
import { problemSchema } from '@estuarine/contract';
import { createDatabase, Desk, nextId, openAct, send, SHOP, signIn, startApp, type TestDatabase } from './support.ts';

let db: TestDatabase;
let app: FastifyInstance;
let cookie = '';

async function call(options: InjectOptions, withCookie = true) {
  return app.inject({ ...options, headers: { ...(withCookie ? { cookie } : {}), ...options.headers } });
}
const post = (url: string, payload: unknown, withCookie = true) => call({ method: 'POST', url, payload: payload as object }, withCookie);

beforeAll(async () => {
  db = await createDatabase();
  app = await startApp(db);
  cookie = await signIn(app);
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

describe('what comes in', () => {
  it.each([
    [
      'JSON that cannot be read',
      { method: 'POST', url: '/api/jobs/x/acts', payload: '{"act', headers: { 'content-type': 'application/json' } },
      400,
      'unreadable',
    ],
    [
      'another content type',
      { method: 'POST', url: '/api/jobs/x/acts', payload: 'hello', headers: { 'content-type': 'text/plain' } },
      415,
      'contentType',
    ],
    [
      'an empty body',
      { method: 'POST', url: '/api/jobs/x/acts', headers: { 'content-type': 'application/json' }, payload: '' },
      400,
      'unreadable',
    ],
    ['a body too large', { method: 'POST', url: '/api/jobs/x/acts', payload: { x: 'y'.repeat(1_100_000) } }, 413, 'tooLarge'],
    ['a wrong schema', { method: 'POST', url: '/api/jobs/x/acts', payload: {} }, 422, 'schema'],
    ['an unknown host', { method: 'GET', url: '/api/jobs', headers: { host: 'evil.example' } }, 403, 'unknownHost'],
    [
      'a page of another origin',
      { method: 'POST', url: '/api/session', payload: {}, headers: { origin: 'http://evil.example' } },
      403,
      'otherOrigin',
    ],
    ['an unknown job', { method: 'GET', url: '/api/jobs/nowhere' }, 404, 'unknownJob'],
    ['an unknown place', { method: 'GET', url: '/api/nowhere' }, 404, 'notFound'],
    ['a job id that cannot be', { method: 'GET', url: '/api/jobs/..%2f..%2fetc' }, 422, 'schema'],
    ['a page number that cannot be', { method: 'GET', url: '/api/jobs/x/events?after=-1' }, 422, 'schema'],
  ] as [string, InjectOptions, number, string][])('%s is answered in the one shape', async (_what, options, status, code) => {
    const answer = await call(options);
    expect(answer.statusCode).toBe(status);
    expect(answer.headers['content-type']).toContain('application/problem+json');
    expect(problemSchema.parse(answer.json())).toMatchObject({ type: `urn:estuarine:${code}`, status });
  });

  it('is waited for two minutes, and then let go', () => {
    expect(app.server.requestTimeout).toBe(120_000);
  });

  it('names the path of a field that does not fit', async () => {
    const act = { type: 'fact.stated', body: { stage: 'open', fact: { kind: 'plug', isIn: 'yes' } } };
    const answer = await post('/api/jobs/x/acts', { ...send(openAct('x')), act });
    expect(answer.json()).toMatchObject({ status: 422, path: ['act', 'body', 'fact', 'isIn'] });
  });

  it('names the path of a field that is too many', async () => {
    const answer = await post('/api/devices/desk', { jobId: 'j', isOpen: true, price: 3 });
    expect(answer.json()).toMatchObject({ status: 422, path: ['price'] });
  });
});

describe('who may act', () => {
  it('takes acts only in the author’s own session', async () => {
    expect((await post('/api/jobs/who/acts', send(openAct('who')), false)).json()).toMatchObject({
      status: 401,
      type: 'urn:estuarine:signIn',
    });
    const permit = { type: 'policy.adopted', body: { policyVersion: 1 } } as const;
    expect((await post('/api/jobs/who/acts', send(permit, 'ts'))).json()).toMatchObject({ status: 403, type: 'urn:estuarine:otherAuthor' });
    expect((await post('/api/jobs/who/acts', send(openAct('who')))).json()).toMatchObject({ kind: 'kept', first: 1 });
  });
  it('does not believe a cookie that was not signed here', async () => {
    const answer = await call({ method: 'GET', url: '/api/session', headers: { cookie: 'estuarine_session=ts.forged' } }, false);
    expect(answer.json()).toMatchObject({ person: null });
  });
});

describe('a job', () => {
  let sweep: string;
  beforeAll(async () => {
    const desk = new Desk(db);
    sweep = await desk.openJob('job');
    for (let place = 1; place <= 28; place++) await desk.read('job', sweep, place, 7.8 + place / 1000);
    // written beside the application: it hears of it by the notice
    for (let i = 0; i < 200 && !String((await call({ method: 'GET', url: '/api/jobs/job' })).headers.etag).endsWith('.30"'); i++)
      await new Promise((r) => setTimeout(r, 10));
  });

  it('is answered with its head as ETag, and as unchanged when it is', async () => {
    const answer = await call({ method: 'GET', url: '/api/jobs/job' });
    const etag = String(answer.headers.etag);
    expect(etag).toMatch(/^W\/"[-0-9a-f]{36}\.30"$/);
    expect(Number(answer.headers['estuarine-position'])).toBeGreaterThanOrEqual(30);
    expect(answer.json()).toMatchObject({ jobId: 'job', state: { head: 30 } });
    expect(Buffer.byteLength(answer.body)).toBeLessThan(20_000);
    expect((await call({ method: 'GET', url: '/api/jobs/job', headers: { 'if-none-match': etag } })).statusCode).toBe(304);
    // the same number in a log before a restore was another state
    expect((await call({ method: 'GET', url: '/api/jobs/job', headers: { 'if-none-match': 'W/"before.30"' } })).statusCode).toBe(200);
  });

  it('is answered packed to those who can unpack it, and is the same', async () => {
    const plain = await call({ method: 'GET', url: '/api/jobs/job' });
    const packed = await call({ method: 'GET', url: '/api/jobs/job', headers: { 'accept-encoding': 'br, gzip' } });
    expect(packed.headers).toMatchObject({ 'content-encoding': 'gzip', vary: 'accept-encoding', etag: plain.headers.etag });
    expect(gunzipSync(packed.rawPayload).toString()).toBe(plain.body);
    expect(packed.rawPayload.length).toBeLessThan(plain.rawPayload.length / 3);
    expect(plain.headers['content-encoding']).toBeUndefined();
  });

  it('is seen at once after an act over HTTP, with a new head', async () => {
    const body = { sweepId: sweep, place: 1, moduleId: 'job-1', quantity: 'openCircuitVolt', value: 7.7 } as const;
    const kept = await post('/api/jobs/job/acts', send({ type: 'reading.taken', body }));
    expect(kept.json()).toMatchObject({ first: 31 });
    expect((await call({ method: 'GET', url: '/api/jobs/job', headers: { 'if-none-match': '"30"' } })).headers.etag).toMatch(/\.31"$/);
  });

  it('gives its events by pages', async () => {
    const first = await call({ method: 'GET', url: '/api/jobs/job/events?limit=20' });
    expect(first.json()).toMatchObject({ next: 20 });
    const second = await call({ method: 'GET', url: '/api/jobs/job/events?after=20&limit=20' });
    expect(second.json<{ next: null; events: unknown[] }>()).toMatchObject({ next: null });
    expect(second.json<{ events: unknown[] }>().events).toHaveLength(11);
  });

  it('goes out as JSON and CSV, corrections beside what they correct', async () => {
    const whole = await call({ method: 'GET', url: '/api/jobs/job/job.json' });
    expect(whole.json()).toMatchObject({ format: 'estuarine-job', version: 2, profile: { id: 'dunlin-28' } });
    const csv = await call({ method: 'GET', url: '/api/jobs/job/sweeps.csv' });
    expect(csv.headers['content-disposition']).toContain('sweeps.csv');
    const lines = csv.body.split('\r\n');
    expect(lines[0]).toContain('sweep,kind,started');
    expect(lines.filter((l) => l.includes(',1,job-1,'))).toHaveLength(2);
    expect((await call({ method: 'GET', url: '/api/jobs/job/plan.csv' })).json()).toMatchObject({
      status: 404,
      type: 'urn:estuarine:noPlan',
    });
  });

  it('goes out with its plan once it has one, and is listed with the others or alone', async () => {
    const desk = new Desk(db);
    for (const jobId of ['planned', 'other']) await desk.openJob(jobId);
    const told = { rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] };
    const moduleIds = Array.from({ length: 28 }, (_, i) => `planned-${[2, 1][i] ?? i + 1}`);
    const chosen: Act = { type: 'plan.chosen', body: { school: 'spotRepairReordered', moduleIds, fromShelf: [], ...told } };
    expect((await post('/api/jobs/planned/acts', send(chosen))).json()).toMatchObject({ kind: 'kept' });
    const csv = await call({ method: 'GET', url: '/api/jobs/planned/plan.csv' });
    expect([csv.headers['content-type'], csv.headers['content-disposition']]).toEqual(['text/csv; charset=utf-8', expect.stringMatching(/job-\d+-plan\.csv/)]); // prettier-ignore
    expect(csv.body.split('\r\n').slice(1, 4)).toEqual([
      '1,planned-2,from place 2,,,',
      '2,planned-1,from place 1,,,',
      '3,planned-3,stays,,,',
    ]);
    const ids = async (query: string) =>
      (await call({ method: 'GET', url: `/api/jobs${query}` })).json<{ jobs: { jobId: string }[] }>().jobs.map((j) => j.jobId).sort(); // prettier-ignore
    expect(await ids('?ids=planned,other')).toEqual(['other', 'planned']);
    expect(await ids('?ids=planned')).toEqual(['planned']);
    expect(await ids('')).toEqual(expect.arrayContaining(['job', 'other', 'planned']));
  });

  it('refuses what is not there with 409, and the sentence of the core', async () => {
    expect((await post('/api/jobs/job/acts', send({ type: 'plan.withdrawn', body: { planId: 'none' } }))).json()).toMatchObject({
      status: 409,
      type: 'urn:estuarine:gone',
    });
  });
});

describe('the shop', () => {
  const shopAct = (act: unknown) => post('/api/shop/acts', { commandId: nextId(), by: 'om', deviceAt: new Date().toISOString(), act });

  it('makes a new version of its limits, and refuses one made on an old version', async () => {
    const { version, policy } = (await call({ method: 'GET', url: '/api/policy' })).json<{ version: number; policy: { limits: object } }>();
    const changed = { ...policy, limits: { ...policy.limits, rejectZ: 4 } };
    expect((await shopAct({ type: 'policy.set', body: { version: version + 1, policy: changed } })).json()).toMatchObject({ kind: 'kept' });
    expect((await shopAct({ type: 'policy.set', body: { version: version + 1, policy: changed } })).json()).toMatchObject({ status: 409 });
    expect((await call({ method: 'GET', url: '/api/policy' })).json()).toMatchObject({
      version: version + 1,
      policy: { limits: { rejectZ: 4 } },
    });
  });

  it('refuses a profile whose parts do not fit, with the part', async () => {
    const { profiles } = (await call({ method: 'GET', url: '/api/profiles' })).json<{ profiles: { blocks: number[] }[] }>();
    const profile = { ...profiles[0], version: 2, blocks: [2] };
    expect((await shopAct({ type: 'profile.published', body: { profile } })).json()).toMatchObject({
      status: 422,
      path: ['body', 'profile', 'blocks'],
    });
  });

  it('takes ten thousand modules in one act and lists them', async () => {
    const modules = Array.from({ length: 10_000 }, (_, i) => ({
      ...{
        moduleId: `T${i}`,
        label: `T${i}`,
        typeId: 'nimh-6-prismatic',
        capacityAh: 5,
        resistanceMilliohm: null,
        restDropMillivolt: null,
        ocvVolt: null,
        bin: '',
      },
    }));
    expect((await shopAct({ type: 'stock.imported', body: { fileName: 'all.csv', modules } })).statusCode).toBe(200);
    const stock = (await call({ method: 'GET', url: '/api/stock' })).json<{ rows: unknown[] }>();
    expect(stock.rows.length).toBeGreaterThanOrEqual(10_000);
    const twice = await shopAct({ type: 'stock.imported', body: { fileName: 'two.csv', modules: [modules[0], modules[0]] } });
    expect(twice.json()).toMatchObject({ status: 422, path: ['body', 'modules', 1] });
  });
});

describe('the registry of calculations', () => {
  it('answers, refuses with the path, and lists what it has', async () => {
    expect((await post('/api/reckon/torque.convert', { value: 50, unit: 'lbfin' })).json()).toMatchObject({ poundForceInch: 50 });
    expect((await post('/api/reckon/torque.convert', { value: 50, unit: 'stone' })).json()).toMatchObject({ status: 422, path: ['unit'] });
    expect((await post('/api/reckon/no.such', {})).statusCode).toBe(404);
    const { entries } = (await call({ method: 'GET', url: '/api/reckon' })).json<{
      entries: { name: string; input: { type: string } }[];
    }>();
    expect(entries.map((e) => e.name)).toContain('match.arrange');
    expect(entries.every((e) => typeof e.input === 'object')).toBe(true);
  });

  it('runs the heavy ones apart, feasible or not', async () => {
    const short = await post('/api/reckon/match.select', { pool: [], count: 2, objective: 'strongest' });
    expect(short.statusCode).toBe(200);
    expect(short.json()).toMatchObject({ ids: [], shortfall: 2 });
    expect((await post('/api/reckon/pack.cuts', { moduleVolts: [7, 7, 7], limitVolt: 8, groups: [[1], [1]] })).json()).toMatchObject({
      status: 422,
    });
  });
});

it('finds everything again after a restart', async () => {
  const before = (await call({ method: 'GET', url: '/api/jobs/job' })).body;
  await app.close();
  app = await startApp(db);
  expect((await call({ method: 'GET', url: '/api/jobs/job' })).body).toBe(before);
  expect((await db.pool.query('select 1 from shop where shop_id = $1', [SHOP])).rowCount).toBe(1);
});
