import type { FastifyInstance, InjectOptions, LightMyRequestResponse, RouteOptions } from 'fastify';
import { ACT_TRAITS, ACT_TYPES, actSchema, isAtLeast, sampleOf, shopActSchema, type Act } from '@estuarine/core';
import { problemSchema, type Session } from '@estuarine/contract';
import { findTail } from '../src/log/store.ts';
import { makeFirstCode } from '../src/persons/routes.ts';
import { DEMO_ACCOUNTS } from '../src/practice/accounts.ts';
import { ensureShop } from '../src/shop/begin.ts';
import { SESSION_COOKIE } from '../src/persons/sessions.ts';
import { DEVICE_COOKIE } from '../src/persons/tries.ts';
import { cookieOf, createDatabase, Desk, nextId, openAct, send, SHOP, signIn, startApp, type TestDatabase } from './support.ts';

let db: TestDatabase;
let app: FastifyInstance;
const routes: RouteOptions[] = [];
const cookies: Record<string, string> = {};
let time = Date.now();

beforeAll(async () => {
  db = await createDatabase();
  app = await startApp(db, { clock: () => new Date(time), onRoute: (route) => routes.push(route) });
  for (const person of ['om', 'ts', 'jf']) cookies[person] = await signIn(app, person);
  await new Desk(db).openJob('walked');
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

const call = (options: InjectOptions, cookie = '') =>
  app.inject({ ...options, headers: { ...(cookie ? { cookie } : {}), ...options.headers } });
const post = (url: string, payload: unknown, cookie = '') => call({ method: 'POST', url, payload: payload as object }, cookie);
/** By one who has looked just now. */
async function shopAct(act: unknown, by: string): Promise<LightMyRequestResponse> {
  const seen = await findTail(db.pool, SHOP);
  return post('/api/shop/acts', { commandId: nextId(), by, deviceAt: new Date().toISOString(), act, seen }, cookies[by]);
}

/** Every route of the application with a method, its parameters filled with something harmless. */
function listRoutes(): { method: 'GET' | 'POST' | 'DELETE'; url: string; config: NonNullable<RouteOptions['config']> }[] {
  return routes.flatMap(({ method, url, config = {} }) =>
    [method]
      .flat()
      .flatMap((m) =>
        m === 'HEAD' || !url.startsWith('/api/')
          ? []
          : [{ method: m as 'GET', url: url.replace(/:(\w+)/g, 'walked').replace('*', 'x'), config }],
      ),
  );
}

describe('every route', () => {
  /** Routes that answer to nobody; any other that does is a fault. */
  const OPEN = [
    ...['GET /api/health', 'GET /api/openapi.json', 'GET /api/session', 'POST /api/session', 'DELETE /api/session'],
    ...['POST /api/first-lead', 'GET /api/profile.schema.json', 'GET /api/gear/due/walked'],
    ...['GET /api/seal/keys', 'GET /api/seal/check.html', 'GET /api/terms.schema.json'], // published to whoever checks a record
    ...['GET /api/reckon', 'POST /api/reckon/walked'], // on this machine only
  ];
  const LEAD = [
    ...['POST /api/people', 'DELETE /api/people/walked/name', 'GET /api/shop/archive.zip'],
    ...['POST /api/seal/keys', 'POST /api/seal/keys/walked/revoke', 'POST /api/seal/backup', 'POST /api/seal/restore'],
  ];
  const TECHNICIAN = ['POST /api/jobs/walked/records'];

  it('is known here', () => {
    const names = listRoutes().map((r) => `${r.method} ${r.url}`);
    expect(names.length).toBeGreaterThan(20);
    for (const name of [...OPEN, ...LEAD, ...TECHNICIAN]) expect(names).toContain(name);
  });

  it('is closed to nobody, to a forged and to a replayed cookie, unless it is open by name', async () => {
    const gone = await signIn(app, 'om');
    await call({ method: 'DELETE', url: '/api/session' }, gone);
    for (const { method, url } of listRoutes()) {
      if (url === '/api/stream') continue; // asked below: it would stay open
      for (const cookie of ['', 'estuarine_session=forged.forged', `${(cookies.om ?? '').slice(0, -4)}AAAA`, gone]) {
        const answer = await call({ method, url, ...(method === 'POST' ? { payload: {} } : {}) }, cookie);
        if (OPEN.includes(`${method} ${url}`)) expect(answer.statusCode).not.toBe(500);
        else expect([url, answer.statusCode, problemSchema.parse(answer.json()).type]).toEqual([url, 401, 'urn:estuarine:signIn']);
      }
    }
    expect((await call({ method: 'GET', url: '/api/stream' })).statusCode).toBe(401);
  });

  it.each(['/%61pi/jobs', '/a%70i/jobs/walked', '/%61%70%69/people', '/api/%6aobs'])(
    'is closed however its address is written: %s',
    async (url) => {
      expect((await call({ method: 'GET', url })).statusCode).toBe(401);
      expect((await call({ method: 'HEAD', url })).statusCode).toBe(401);
    },
  );

  it.each(['jf', 'om', 'ts'])('answers %s by the role', async (personId) => {
    for (const { method, url } of listRoutes()) {
      if (url === '/api/stream' || url.startsWith('/api/session')) continue;
      const answer = await call({ method, url, ...(method === 'POST' ? { payload: {} } : {}) }, cookies[personId]);
      expect(answer.statusCode).toBeLessThan(500);
      const isClosed =
        (LEAD.includes(`${method} ${url}`) && personId !== 'ts') || (TECHNICIAN.includes(`${method} ${url}`) && personId === 'jf');
      expect([url, answer.statusCode === 403]).toEqual([url, isClosed]);
    }
  });

  it('is closed while the screen is locked, but for unlocking it', async () => {
    const cookie = await signIn(app, 'om');
    expect((await post('/api/session/lock', {}, cookie)).statusCode).toBe(200);
    expect((await call({ method: 'GET', url: '/api/jobs' }, cookie)).json()).toMatchObject({ status: 401, type: 'urn:estuarine:locked' });
    expect((await call({ method: 'GET', url: '/api/session' }, cookie)).json<Session>()).toMatchObject({
      isLocked: true,
      person: { id: 'om' },
    });
    const opened = await post('/api/session/unlock', { personId: 'ts', pin: '246810' }, cookie);
    expect(opened.json()).toMatchObject({ person: { id: 'ts' } });
    const fresh = cookieOf(opened, SESSION_COOKIE);
    expect((await call({ method: 'GET', url: '/api/jobs' }, fresh)).statusCode).toBe(200);
    expect((await call({ method: 'GET', url: '/api/jobs' }, cookie)).statusCode).toBe(401); // the old id is worth nothing
    expect((await post('/api/session/unlock', { personId: 'ts', pin: '246810' })).statusCode).toBe(401); // never from nowhere
  });
});

describe('signing in', () => {
  it('sets a cookie that scripts cannot read and other sites do not send', async () => {
    const answer = await post('/api/session', { personId: 'om', passphrase: 'low water at noon' });
    const set = [answer.headers['set-cookie'] ?? []].flat();
    expect(set).toHaveLength(2);
    for (const one of set) expect(one).toMatch(/^(?=.*HttpOnly)(?=.*SameSite=Strict)/i);
  });
  it('leaves the cookie of whoever signed in meanwhile: a question of the session before sets none', async () => {
    const before = await signIn(app, 'ts');
    const answer = await app.inject({ method: 'POST', url: '/api/session', headers: { cookie: before }, payload: { personId: 'om', passphrase: 'low water at noon' } }); // prettier-ignore
    const fresh = cookieOf(answer, SESSION_COOKIE);
    expect(fresh).not.toBe(before);
    // under way with the old cookie, answered after the new one was set
    for (const [method, url] of [
      ['GET', '/api/session'],
      ['GET', '/api/people'],
      ['POST', '/api/session/key'],
      ['POST', '/api/session/lock'],
    ] as const) {
      const late = await app.inject({ method, url, headers: { cookie: before }, ...(method === 'POST' ? { payload: {} } : {}) });
      expect([url, late.headers['set-cookie']]).toEqual([url, undefined]);
    }
    const who = await app.inject({ method: 'GET', url: '/api/session', headers: { cookie: fresh } });
    expect(who.json()).toMatchObject({ person: { id: 'om' }, isLocked: false });
    const old = await app.inject({ method: 'GET', url: '/api/session', headers: { cookie: before } });
    expect(old.json()).toMatchObject({ person: null });
  });

  it('tells nobody whether the name exists', async () => {
    const wrong = await post('/api/session', { personId: 'om', passphrase: 'wrong' });
    const nobody = await post('/api/session', { personId: 'nobody', passphrase: 'wrong' });
    expect(wrong.json()).toEqual(nobody.json());
    expect(wrong.statusCode).toBe(401);
  });
  it('slows who guesses, each try more than the last, and never a device that the person used', async () => {
    const [right, wrong] = [
      { personId: 'jf', passphrase: 'mud on both boots' },
      { personId: 'jf', passphrase: 'wrong' },
    ];
    const known = cookieOf(await post('/api/session', right), DEVICE_COOKIE);
    for (let i = 0; i < 10; i++) expect((await post('/api/session', wrong)).statusCode).toBe(401);
    const early = await post('/api/session', right);
    expect(early.json()).toMatchObject({
      status: 429,
      type: 'urn:estuarine:tooEarly',
      detail: expect.stringContaining('Try again in 1 s'),
    });
    expect(early.headers['retry-after']).toBe('1');
    expect((await post('/api/session', wrong, known)).statusCode).toBe(401);
    expect((await post('/api/session', right, known)).statusCode).toBe(200);
    // of another person it says nothing, nor one of which the seal was broken
    for (let i = 0; i < 10; i++) await post('/api/session', { personId: 'x-1', passphrase: 'wrong' }, known);
    expect((await post('/api/session', { personId: 'x-1', passphrase: 'wrong' }, known)).statusCode).toBe(429);
    expect((await post('/api/session', right, `${known.slice(0, -4)}AAAA`)).statusCode).toBe(429);
    const waits: number[] = [];
    for (let i = 0; i < 8; i++) {
      const late = await post('/api/session', wrong);
      waits.push(Number(late.headers['retry-after']));
      time += (waits[i] ?? 0) * 1000;
      expect((await post('/api/session', wrong)).statusCode).toBe(401);
    }
    expect(waits).toEqual([1, 2, 4, 8, 16, 30, 30, 30]);
    time += 31_000;
    expect((await post('/api/session', right)).statusCode).toBe(200);
    // a clock that is set back keeps nobody out
    for (const back of [2 * 3_600_000, 27_000]) {
      time -= back;
      expect((await post('/api/session', right)).statusCode).toBe(200);
      time += back;
      expect((await post('/api/session', right)).statusCode).toBe(200);
    }
    time += 16 * 60_000;
    expect((await post('/api/session', wrong)).statusCode).toBe(401);
    expect((await post('/api/session', right)).statusCode).toBe(200);
  });
  it('slows an address, whomever it tries', async () => {
    const strict = await startApp(db, { triesPerMinute: 3, clock: () => new Date(time) });
    const tries = [];
    const attempt = (personId: string): Promise<LightMyRequestResponse> =>
      strict.inject({ method: 'POST', url: '/api/session', payload: { personId, passphrase: 'y' }, remoteAddress: '192.0.2.7' });
    for (let i = 0; i < 5; i++) tries.push((await attempt(`x${i}`)).statusCode);
    expect(tries).toEqual([401, 401, 401, 429, 429]);
    time += 2100;
    expect((await attempt('x9')).statusCode).toBe(401);
    expect((await attempt('x9')).headers['retry-after']).toBe('4');
    await strict.close();
  });
  it('judges five wrong PINs on a device, however many come at once, then asks for the passphrase', async () => {
    const first = await post('/api/session', { personId: 'om', passphrase: 'low water at noon' });
    const cookie = `${cookieOf(first, SESSION_COOKIE)}; ${cookieOf(first, DEVICE_COOKIE)}`;
    await post('/api/people/me/pin', { pin: '135790', current: 'low water at noon' }, cookie);
    await post('/api/session/lock', {}, cookie);
    const all = await Promise.all(Array.from({ length: 30 }, (_, i) => post('/api/session/unlock', { personId: 'om', pin: String(100_000 + i) }, cookie))); // prettier-ignore
    expect(all.filter((a) => a.statusCode === 401)).toHaveLength(5);
    expect(all.filter((a) => a.statusCode === 429)).toHaveLength(25);
    const pin = { personId: 'om', pin: '135790' };
    time += 3_600_000;
    expect((await post('/api/session/unlock', pin, cookie)).json()).toMatchObject({ status: 429, type: 'urn:estuarine:pinSpent' });
    const opened = await post('/api/session/unlock', { personId: 'om', passphrase: 'low water at noon' }, cookie);
    expect(opened.statusCode).toBe(200);
    let again = `${cookieOf(opened, SESSION_COOKIE)}; ${cookieOf(first, DEVICE_COOKIE)}`;
    // a right one begins the count anew: wrong ones of days do not add up
    for (let day = 0; day < 3; day++) {
      await post('/api/session/lock', {}, again);
      for (let i = 0; i < 3; i++) await post('/api/session/unlock', { personId: 'om', pin: '000000' }, again);
      const right = await post('/api/session/unlock', pin, again);
      expect(right.statusCode).toBe(200);
      again = `${cookieOf(right, SESSION_COOKIE)}; ${cookieOf(first, DEVICE_COOKIE)}`;
    }
  });
  it('shows the accounts of a demonstration to nobody else than its sign-in page', async () => {
    expect((await call({ method: 'GET', url: '/api/session' })).json<Session>().accounts).toHaveLength(3);
    expect((await call({ method: 'GET', url: '/api/session' }, cookies.om)).json<Session>()).toMatchObject({
      accounts: [],
      persons: { length: 3 },
    });
  });
  it('gives another a new passphrase by the lead alone, who needs no old one; every device of theirs is signed out', async () => {
    const fresh = { passphrase: 'samphire on the marsh' };
    const cookie = await signIn(app, 'jf');
    expect((await post('/api/people/jf/passphrase', fresh, await signIn(app, 'om'))).json()).toMatchObject({ status: 403 });
    expect((await post('/api/people/nobody/passphrase', fresh, cookies.ts)).json()).toMatchObject({ status: 404 });
    expect((await post('/api/people/jf/passphrase', fresh, cookies.ts)).statusCode).toBe(200);
    expect((await call({ method: 'GET', url: '/api/jobs' }, cookie)).statusCode).toBe(401);
    expect((await post('/api/session', { personId: 'jf', ...fresh })).statusCode).toBe(200);
    // the lead is signed in as before
    expect((await call({ method: 'GET', url: '/api/jobs' }, cookies.ts)).statusCode).toBe(200);
    const before = DEMO_ACCOUNTS.find((a) => a.id === 'jf')?.passphrase ?? '';
    expect((await post('/api/people/jf/passphrase', { passphrase: before }, cookies.ts)).statusCode).toBe(200);
    cookies.jf = await signIn(app, 'jf');
  });

  it('ends every session of a person with a new passphrase', async () => {
    const cookie = await signIn(app, 'om');
    const refused = await post('/api/people/om/passphrase', { passphrase: 'a new tide comes in', current: 'wrong' }, cookie);
    expect(refused.statusCode).toBe(401);
    expect(
      (await post('/api/people/om/passphrase', { passphrase: 'low water at noon', current: 'low water at noon' }, cookie)).statusCode,
    ).toBe(200);
    expect((await call({ method: 'GET', url: '/api/jobs' }, cookies.om)).statusCode).toBe(401);
    cookies.om = await signIn(app, 'om');
  });
});

describe('the first lead of a shop', () => {
  it('is made once, by the code printed at the start', async () => {
    const own = await createDatabase();
    await own.pool.query('delete from credential; delete from competence; delete from person; update shop set is_demo = false');
    await ensureShop(own.pool, 'shop');
    const shop = await startApp(own);
    const code = await makeFirstCode(own.pool, 'shop');
    expect((await shop.inject({ method: 'GET', url: '/api/session' })).json()).toMatchObject({
      needsFirstLead: true,
      accounts: [],
      isDemo: false,
    });
    const lead = { personId: 'wren', name: 'Wren Tallow', passphrase: 'a long enough one' };
    const make = (payload: object) => shop.inject({ method: 'POST', url: '/api/first-lead', payload });
    expect((await make({ ...lead, code: '0000-0000-0000' })).statusCode).toBe(403);
    expect((await make({ ...lead, code, passphrase: 'short' })).json()).toMatchObject({ status: 422, path: ['passphrase'] });
    await own.pool.query(`insert into person (shop_id, person_id, name, role) values ('shop', 'tern', 'Tern', 'technician')`);
    expect((await make({ ...lead, personId: 'tern', code })).json()).toMatchObject({ status: 409, path: ['personId'] });
    expect((await make({ ...lead, code })).json()).toMatchObject({ person: { id: 'wren', role: 'lead' } });
    expect((await make({ ...lead, personId: 'other', code })).statusCode).toBe(403);
    expect(await makeFirstCode(own.pool, 'shop')).toBeNull();
    await shop.close();
    await own.drop();
  });
});

describe('who may do what', () => {
  const ACTS = actSchema.options.map((o) => o.shape.type.value);
  const SHOP_ACTS = shopActSchema.options.map((o) => o.shape.type.value);
  const LEAD_ONLY = [
    'person.added',
    'person.role',
    'person.left',
    'competence.recorded',
    'competence.withdrawn',
    'instrument.saved',
    'instrument.removed',
  ];
  const BODIES: Record<string, object> = {
    'stock.imported': { fileName: 'f', modules: [{ moduleId: 'W1', label: 'W1', typeId: 'nimh-6-prismatic', capacityAh: 5, resistanceMilliohm: 1, restDropMillivolt: 1, ocvVolt: 1, bin: '' }] }, // prettier-ignore
    'module.quarantined': { moduleId: 'walked-1', reason: 'r' },
    'module.released': { moduleId: 'walked-1' },
    'gear.saved': { gear: { kind: 'mask', gearId: 'K-9', label: 'K-9', standard: 'FFP2', expiresOn: '2030-01-01' } },
    'gear.checked': { gearId: 'M-02', on: '2026-01-01', by: 'test house' },
    'gear.issued': { gearId: 'G-11', on: '2026-01-01' },
    'gear.used': { gearId: 'T-1', cycles: 1 },
    'gear.retired': { gearId: 'K-9', reason: 'torn' },
    'person.added': { personId: 'aa', role: 'apprentice', nameHash: 'a'.repeat(64) },
    'person.role': { personId: 'jf', role: 'apprentice' },
    'competence.recorded': { personId: 'jf', kind: 'highVoltage', training: 't', givenBy: 'g', validUntil: '2030-01-01' },
    'competence.withdrawn': { personId: 'jf', kind: 'highVoltage', reason: 'r' },
    'instrument.saved': { instrumentId: 'i1', name: 'i', kind: 'meter', host: '127.0.0.1', port: 5025, gearId: null },
    'instrument.removed': { instrumentId: 'i1' },
    'person.left': { personId: 'aa' },
  };

  it.each(SHOP_ACTS.filter((t) => BODIES[t]))('%s is refused to whom it is not for', async (type) => {
    for (const by of ['jf', 'om', 'ts']) {
      const answer = await shopAct({ type, body: BODIES[type] }, by);
      const isClosed = LEAD_ONLY.includes(type) ? by !== 'ts' : type !== 'gear.used' && by === 'jf';
      expect([by, answer.statusCode === 409 && answer.json<{ type: string }>().type === 'urn:estuarine:notPermitted']).toEqual([
        by,
        isClosed,
      ]);
      // what is out of use already cannot go again
      if (!isClosed && type !== 'gear.retired') expect(answer.json()).toMatchObject({ kind: 'kept' });
    }
  });

  it.each(ACT_TYPES)('%s of a job is refused by role to whom it is not for', async (type) => {
    const { least, does } = ACT_TRAITS[type];
    await post('/api/jobs/walked/acts', send(openAct('walked'), 'om'), cookies.om);
    for (const [by, role] of [
      ['jf', 'apprentice'],
      ['om', 'technician'],
      ['ts', 'lead'],
    ] as const) {
      // prettier-ignore
      const answer = await post('/api/jobs/walked/acts', send(sampleOf(type), by), cookies[by]);
      expect(answer.statusCode).not.toBe(401);
      const isByRole = answer.statusCode === 409 && answer.json<{ detail: string }>().detail.endsWith(`${does}.`);
      expect([by, isByRole]).toEqual([by, !isAtLeast(role, least)]);
    }
  });

  it('walks every act of a job as nobody', async () => {
    for (const type of ACTS) expect((await post('/api/jobs/walked/acts', send({ type, body: {} } as unknown as Act))).statusCode).toBe(401);
  });

  it('does not let the only lead leave or step down', async () => {
    expect((await shopAct({ type: 'person.left', body: { personId: 'ts' } }, 'ts')).json()).toMatchObject({ status: 409 });
    expect((await shopAct({ type: 'person.role', body: { personId: 'ts', role: 'technician' } }, 'ts')).json()).toMatchObject({
      status: 409,
    });
  });

  it('lets the lead alone change what isolation asks for', async () => {
    const { version, policy } = (await call({ method: 'GET', url: '/api/policy' }, cookies.om)).json<{
      version: number;
      policy: { isolation: object; gear: object };
    }>();
    const set = (by: string, over: object) =>
      shopAct({ type: 'policy.set', body: { version: version + 1, policy: { ...policy, ...over } } }, by);
    const isolation = { ...policy.isolation, limitVolt: 60 };
    expect((await set('om', { isolation })).json()).toMatchObject({ status: 409, path: ['body', 'policy', 'isolation'] });
    expect((await set('om', { gear: { ...policy.gear, meterMonth: 6 } })).json()).toMatchObject({ kind: 'kept' });
  });

  it('keeps instruments on this machine and, only where the lead allows it, on a private network', async () => {
    const at = (host: string) => shopAct({ type: 'instrument.saved', body: { ...BODIES['instrument.saved'], host } }, 'ts');
    for (const host of ['203.0.113.7', 'example.org', '169.254.169.254', '0.0.0.0']) expect((await at(host)).statusCode).toBe(409);
    expect((await at('192.168.1.20')).json()).toMatchObject({ detail: expect.stringContaining('not allowed by the limits') });
    const { version, policy } = (await call({ method: 'GET', url: '/api/policy' }, cookies.ts)).json<{
      version: number;
      policy: { isolation: object };
    }>();
    const isolation = { ...policy.isolation, allowsNetworkInstruments: true };
    await shopAct({ type: 'policy.set', body: { version: version + 1, policy: { ...policy, isolation } } }, 'ts');
    expect((await at('192.168.1.20')).json()).toMatchObject({ kind: 'kept' });
    expect((await at('203.0.113.7')).statusCode).toBe(409);
  });

  it('signs a proof by its own competence, by the clock of the server', async () => {
    const act = (by: string, body: Act, commandId = nextId()) => post('/api/jobs/signed/acts', send(body, by, commandId), cookies[by]);
    const at = (stage: 'isolate') => ({ stage });
    cookies.jf = await signIn(app, 'jf');
    await act('om', openAct('signed'));
    for (const fact of [
      { kind: 'key', isAway: true },
      { kind: 'twelveVolt', isOff: true },
      { kind: 'plug', isIn: false },
    ] as const)
      await act('jf', { type: 'fact.stated', body: { ...at('isolate'), fact } });
    await act('jf', { type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } });
    expect((await act('jf', { type: 'gear.picked', body: { use: 'gloves', gearId: 'G-03', isAirTested: true } })).json()).toMatchObject({ status: 409, detail: expect.stringContaining('electrical test ran out') }); // prettier-ignore
    await shopAct({ type: 'gear.retired', body: { gearId: 'G-08', reason: 'cut at the cuff' } }, 'om');
    expect((await act('jf', { type: 'gear.picked', body: { use: 'gloves', gearId: 'G-08', isAirTested: true } })).json()).toMatchObject({ status: 422, path: ['body', 'gearId'], detail: expect.stringContaining('no gear "G-08"') }); // prettier-ignore
    const row = async () =>
      (await call({ method: 'GET', url: '/api/jobs?ids=signed' }, cookies.ts)).json<{ jobs: { waitEndsAt: string | null }[] }>().jobs[0];
    expect(Date.parse((await row())?.waitEndsAt ?? '')).toBeGreaterThan(time);
    const start = { type: 'proof.started', body: { meterId: 'M-02', source: 'battery', sourceId: null, point: { at: 'carSide', label: 'posts' }, known: { lowVolt: 1, highVolt: 2 }, limitVolt: 30, resolutionVolt: 0.1 } } as const; // prettier-ignore
    const prove = async (): Promise<string> => {
      const proofId = nextId();
      await act('jf', start, proofId);
      for (const [entry, volt] of [['knownBefore', 12.4], ['plusMinus', 0.2], ['minusPlus', 0.2], ['plusChassis', 0], ['minusChassis', 0], ['knownAfter', 12.4]] as const) // prettier-ignore
        await post('/api/jobs/signed/acts', { ...send({ type: 'proof.read', body: { proofId, entry, volt, isFromMeter: false } }, 'jf'), deviceAt: new Date(time).toISOString() }, cookies.jf); // prettier-ignore
      return proofId;
    };
    const sign = (by: string, proofId: string) => act(by, { type: 'proof.signed', body: { proofId, until: null, breakMinute: 1 } });
    expect((await sign('om', await prove())).json()).toMatchObject({ detail: expect.stringContaining('Wait for the capacitors') });
    time += 11 * 60_000;
    const proofId = await prove();
    expect((await sign('jf', proofId)).json()).toMatchObject({ detail: expect.stringContaining('an apprentice asks for a co-sign') });
    await shopAct({ type: 'competence.withdrawn', body: { personId: 'om', kind: 'highVoltage', reason: 'lapsed' } }, 'ts');
    expect((await sign('om', proofId)).json()).toMatchObject({ detail: expect.stringContaining('No high-voltage training') });
    expect((await sign('ts', proofId)).json()).toMatchObject({ kind: 'kept' });
    // nobody waits for capacitors that are proven dead
    expect((await row())?.waitEndsAt).toBeNull();
  });
});
