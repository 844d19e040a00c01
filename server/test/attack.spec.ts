/** Bad input and attack, seen from outside: the answer is a problem in the one shape, never a failure and never a stack trace. */
import fc from 'fast-check';
import type { FastifyInstance, InjectOptions, LightMyRequestResponse, RouteOptions } from 'fastify';
import { problemSchema } from '@estuarine/contract';
import { Malformed } from './malformed.ts';
import { createDatabase, Desk, nextId, openAct, send, signIn, startApp, type TestDatabase } from './support.ts';

let db: TestDatabase;
let app: FastifyInstance;
let cookie = '';
const routes: RouteOptions[] = [];
const SCRIPT = '<script>alert(1)</script>"\'`{{7*7}}${1}\u0000\u202e';

beforeAll(async () => {
  db = await createDatabase();
  app = await startApp(db, { onRoute: (route) => routes.push(route) });
  cookie = await signIn(app, 'ts');
  await new Desk(db).openJob('target');
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

const call = (options: InjectOptions): Promise<LightMyRequestResponse> =>
  app.inject({ ...options, headers: { cookie, ...options.headers } });

function expectProblem(answer: LightMyRequestResponse): void {
  expect([400, 401, 403, 404, 409, 413, 414, 415, 422, 429]).toContain(answer.statusCode);
  expect(answer.headers['content-type']).toContain('application/problem+json');
  expect(problemSchema.safeParse(answer.json()).success).toBe(true);
  expect(answer.body).not.toMatch(/\bat .+:\d+:\d+|node_modules|\.ts:|\.js:|select |insert into/i);
}

/** POST routes with a body, their parameters filled in. */
function posts(): string[] {
  return routes.flatMap(({ method, url }) =>
    [method].flat().includes('POST') && !url.endsWith('/lock')
      ? [
          url
            .replace(':jobId', 'target')
            .replace(':personId', 'om')
            .replace(':instrumentId', 'sim-meter')
            .replace(':name', 'torque.convert'),
        ]
      : [],
  );
}

describe('bodies', () => {
  it('of any JSON at all are answered with a problem, on every route that takes one', async () => {
    expect(posts().length).toBeGreaterThan(8);
    for (const url of posts())
      await fc.assert(
        fc.asyncProperty(fc.jsonValue({ maxDepth: 3 }), async (payload) => {
          // a report is asked for with nothing more to say: that is no fault
          fc.pre(!(url.endsWith('/reports') && JSON.stringify(payload) === '{}'));
          const answer = await call({
            method: 'POST',
            url,
            payload: JSON.stringify(payload),
            headers: { 'content-type': 'application/json' },
          });
          expectProblem(answer);
        }),
        { numRuns: 25 },
      );
  });

  it.each<[string, string | Buffer, string, number]>([
    ['NaN', '{"a":NaN}', 'application/json', 400],
    ['Infinity by exponent', '{"commandId":1e999}', 'application/json', 422],
    ['a half character', Buffer.from([0x7b, 0x22, 0xff, 0x22, 0x3a, 0x31, 0x7d]), 'application/json', 422],
    ['a prototype', '{"__proto__":{"isAdmin":true}}', 'application/json', 400],
    ['a constructor', '{"constructor":{"prototype":{"x":1}}}', 'application/json', 400],
    ['ten megabytes', `{"x":"${'y'.repeat(10_000_000)}"}`, 'application/json', 413],
    ['a form', 'a=1&b=2', 'application/x-www-form-urlencoded', 415],
    ['a file upload', '--x\r\n\r\n--x--', 'multipart/form-data; boundary=x', 415],
    ['XML', '<a/>', 'application/xml', 415],
    ['plain text', 'hello', 'text/plain', 415],
    ['depth', `${'['.repeat(20_000)}${']'.repeat(20_000)}`, 'application/json', 422],
  ])('%s', async (_what, payload, type, status) => {
    for (const url of posts()) {
      const answer = await call({ method: 'POST', url, payload, headers: { 'content-type': type } });
      expectProblem(answer);
      // routes that take more bytes read more before they say no
      if (status !== 413 || !/shop\/acts|reckon/.test(url)) expect([url, answer.statusCode]).toEqual([url, status]);
    }
  });

  it('numbers beyond what can be are refused with the field', async () => {
    for (const value of [1e308, -1e308, 2 ** 53 + 1, -1e-320]) {
      const act = { type: 'wait.lengthened', body: { minute: value, reason: 'r' } };
      const answer = await call({
        method: 'POST',
        url: '/api/jobs/target/acts',
        payload: { ...send(openAct('x'), 'ts'), version: 1, act },
      });
      expectProblem(answer);
      expect(answer.json()).toMatchObject({ status: 422, path: ['act', 'body', 'minute'] });
    }
  });

  it('with a field too many, at any depth, are refused and nothing is kept', async () => {
    const good = send({ type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } }, 'ts');
    const before = (await call({ method: 'GET', url: '/api/jobs/target' })).headers.etag;
    for (const payload of [
      { ...good, surplus: 1 },
      { ...good, act: { ...good.act, surplus: 1 } },
      { ...good, act: { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false, surplus: 1 } } } },
    ])
      expect((await call({ method: 'POST', url: '/api/jobs/target/acts', payload })).json()).toMatchObject({ status: 422 });
    expect((await call({ method: 'GET', url: '/api/jobs/target' })).headers.etag).toBe(before);
  });
});

describe('text that would be script', () => {
  it('is data: kept as it came, sent as JSON, never as a page', async () => {
    const opened = openAct('script');
    if (opened.type !== 'job.opened') throw new Error('not opened');
    const clean = SCRIPT.replaceAll('\u0000', '');
    const papers = { vehicle: { name: clean, plate: '=1+1', odometerKilometre: null, note: clean }, customer: null };
    const payload = { ...send(opened, 'ts'), papers };
    expect((await call({ method: 'POST', url: '/api/jobs/script/acts', payload })).json()).toMatchObject({ kind: 'kept' });
    for (const url of ['/api/jobs', '/api/jobs/script/papers', '/api/jobs/script/job.json']) {
      const answer = await call({ method: 'GET', url });
      expect(answer.headers['content-type']).toContain('application/json');
      expect(answer.headers['x-content-type-options']).toBe('nosniff');
      expect(answer.body).toContain('<script>');
    }
  });

  it('with a zero character, which no database column holds, is refused and not a failure', async () => {
    const gear = { kind: 'mask', gearId: 'K-0', label: SCRIPT, standard: 'FFP2', expiresOn: '2030-01-01' };
    const acts = [
      { type: 'gear.saved', body: { gear } },
      { type: 'module.quarantined', body: { moduleId: 'target-1', reason: SCRIPT } },
      {
        type: 'competence.recorded',
        body: { personId: 'om', kind: 'highVoltage', training: SCRIPT, givenBy: 'g', validUntil: '2030-01-01' },
      },
    ];
    for (const act of acts)
      expectProblem(
        await call({
          method: 'POST',
          url: '/api/shop/acts',
          payload: { commandId: nextId(), by: 'ts', deviceAt: new Date().toISOString(), act },
        }),
      );
    const note = { type: 'step.done', body: { stepId: 'key', note: SCRIPT } } as const;
    expectProblem(await call({ method: 'POST', url: '/api/jobs/target/acts', payload: send(note, 'ts') }));
  });
});

describe('what cannot be', () => {
  it('is refused with its place: half characters and zeros at any depth and in addresses, one module at every place, days to come', async () => {
    const twins = openAct('twin');
    if (twins.type === 'job.opened') twins.body.moduleIds.fill('same');
    const asked: [InjectOptions, (string | number)[]][] = [
      [{ method: 'POST', url: '/api/jobs/twin/acts', payload: send(twins, 'ts') }, ['act', 'body', 'moduleIds']],
      [{ method: 'POST', url: '/api/jobs/target/acts', payload: send({ type: 'step.done', body: { stepId: 'key', note: 'a\u0000' } }, 'ts') }, ['act', 'body', 'note']], // prettier-ignore
      [{ method: 'POST', url: '/api/jobs/target/acts', payload: JSON.stringify(send({ type: 'step.done', body: { stepId: 'key', note: 'a\ud83d' } }, 'ts')), headers: { 'content-type': 'application/json' } }, ['act', 'body', 'note']], // prettier-ignore
      [{ method: 'GET', url: '/api/jobs?ids=a%00b' }, ['ids']],
      [{ method: 'GET', url: '/api/jobs/target/events?after=99999999999' }, ['after']],
      [{ method: 'GET', url: '/api/profiles/dunlin-28/2147483648' }, ['version']],
    ];
    for (const [options, path] of asked) {
      const answer = await call(options);
      expect(answer.json()).toMatchObject({ status: 422, path });
    }
    const before = new Date(Date.now() - 86_400_000).toISOString().slice(0, 10);
    const check = (on: string): Promise<LightMyRequestResponse> =>
      call({
        ...{ method: 'POST', url: '/api/shop/acts' },
        payload: { commandId: nextId(), by: 'ts', deviceAt: new Date().toISOString(), act: { type: 'gear.checked', body: { gearId: 'M-01', on, by: 'test house' } } }, // prettier-ignore
      });
    expect((await check('2099-01-01')).json()).toMatchObject({ status: 422, path: ['body', 'on'], detail: expect.stringContaining('has not come yet') }); // prettier-ignore
    expect((await check(before)).json()).toMatchObject({ kind: 'kept' });
  });

  it('fails nothing, whoever sends it and wherever, one thing after another', async () => {
    const { byStatus, faults } = await new Malformed(app, routes, 12).run(1500);
    expect(faults).toEqual([]);
    expect(byStatus.get(422)).toBeGreaterThan(100);
    expect(byStatus.get(200)).toBeGreaterThan(100);
  }, 120_000);
});

describe('addresses', () => {
  it.each([
    '/api/jobs/..%2f..%2fetc%2fpasswd',
    '/api/jobs/%00',
    '/api/jobs/%ff',
    '/api/jobs/target/../shop/acts',
    '/api/jobs/shop/events',
    '/api/jobs/target/events?after=1e309',
    '/api/jobs/target/events?after[]=1&limit=0',
    '/api/profiles/dunlin-28/-1',
    "/api/profiles/'%20or%201=1/1",
    '/api/policies/99999999999999999999',
    '/api/gear/due/..%2f..%2fsecret',
    '/../../etc/passwd',
    '/..%5c..%5cwindows',
  ])('%s leads nowhere', async (url) => {
    expectProblem(await call({ method: 'GET', url }));
  });

  it('that are far too long lead nowhere', async () => {
    expectProblem(await call({ method: 'GET', url: `/api/jobs/${'x'.repeat(5000)}` }));
  });

  it('of other methods are not found', async () => {
    for (const method of ['PUT', 'PATCH', 'DELETE', 'OPTIONS'] as const) expectProblem(await call({ method, url: '/api/jobs/target' }));
  });
});

it('gives every answer the usual protective headers, and no page of another site may frame or read it', async () => {
  const answer = await call({ method: 'GET', url: '/api/jobs' });
  expect(answer.headers['x-content-type-options']).toBe('nosniff');
  expect(answer.headers['access-control-allow-origin']).toBeUndefined();
  expectProblem(await call({ method: 'GET', url: '/api/jobs', headers: { origin: 'http://evil.example' } }));
  expectProblem(await call({ method: 'GET', url: '/api/jobs', headers: { host: 'evil.example' } }));
});
