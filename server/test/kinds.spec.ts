/** Kinds of jobs, their papers and their end, over HTTP. */
import { canonicalText } from '@estuarine/contract';
import { createHash } from 'node:crypto';
import type { JobSummary, MemoriesAnswer, Papers } from '@estuarine/contract';
import type { Act, ActBody, NamedRow } from '@estuarine/core';
import type { FastifyInstance } from 'fastify';
import { remake } from '../src/remake.ts';
import { createDatabase, Desk, nextId, openAct, PAPERS, profile, send, signIn, startApp, type TestDatabase } from './support.ts';

let db: TestDatabase;
let app: FastifyInstance;
let desk: Desk;
const cookies: Record<string, string> = {};

beforeAll(async () => {
  db = await createDatabase();
  app = await startApp(db);
  desk = new Desk(db);
  for (const id of ['om', 'ts']) cookies[id] = await signIn(app, id);
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

const get = async (url: string) => app.inject({ method: 'GET', url, headers: { cookie: cookies.om ?? '' } });

async function post(url: string, payload: object, by = 'om') {
  return app.inject({ method: 'POST', url, payload, headers: { cookie: cookies[by] ?? '' } });
}

async function act(jobId: string, what: Act, by = 'om') {
  return post(`/api/jobs/${jobId}/acts`, send(what, by), by);
}

function opening(jobId: string, change: Partial<ActBody<'job.opened'>>): Act {
  const whole = openAct(jobId);
  if (whole.type !== 'job.opened') throw new Error('not an opening');
  return { ...whole, body: { ...whole.body, ...change } };
}

async function openWith(jobId: string, change: Partial<ActBody<'job.opened'>>, papers: Papers = PAPERS) {
  return post(`/api/jobs/${jobId}/acts`, { ...send(opening(jobId, change)), papers });
}

async function summaryOf(jobId: string): Promise<JobSummary> {
  const { jobs } = (await get('/api/jobs')).json<{ jobs: JobSummary[] }>();
  const found = jobs.find((j) => j.jobId === jobId);
  if (!found) throw new Error(`${jobId} is not in the yard`);
  return found;
}

/** What a service of the filters asks for, or all of the path: everything open, and the next look set. */
async function answerCooling(jobId: string, parts: readonly number[] = [0, 1, 2, 3, 4]): Promise<void> {
  for (const part of parts) await act(jobId, { type: 'air.found', body: { part, when: 'asFound', blockedShare: 0.05, note: '' } });
  if (parts.includes(2))
    await act(jobId, { type: 'fan.tested', body: { part: 2, spins: true, noise: 'none', hasPlay: false, startVolt: null } });
  await act(jobId, { type: 'cooling.judged', body: { isAnswered: true, note: '' } });
  await act(jobId, { type: 'look.set', body: { months: 6, stripMonths: null, uses: [] } });
}

const CLOSE: Act = { type: 'job.closed', body: { outcome: 'finished', note: '' } };

describe('a filter service', () => {
  it('names no module, is closed by its own rules and opened again, and the yard tells of it', async () => {
    expect((await openWith('filter', { kind: 'filterService', moduleIds: [] })).json()).toMatchObject({ kind: 'kept' });
    expect(await summaryOf('filter')).toMatchObject({ kind: 'filterService', closed: null, closedAt: null });
    await act('filter', { type: 'fact.stated', body: { stage: 'intake', fact: { kind: 'twelveVolt', isOff: true } } });
    expect((await act('filter', CLOSE)).json()).toMatchObject({ status: 409, detail: expect.stringContaining('12 V') as unknown });
    await act('filter', { type: 'fact.stated', body: { stage: 'intake', fact: { kind: 'twelveVolt', isOff: false } } });
    expect((await act('filter', CLOSE)).json()).toMatchObject({ detail: expect.stringContaining('look at the grille') as unknown });
    await answerCooling('filter', [0]);
    expect((await act('filter', CLOSE)).json()).toMatchObject({ kind: 'kept' });
    expect(await summaryOf('filter')).toMatchObject({ closed: 'finished', closedAt: expect.any(String) as unknown });
    expect((await act('filter', CLOSE)).statusCode).toBe(409);
    expect((await act('filter', { type: 'job.reopened', body: { reason: 'It rattles.' } })).json()).toMatchObject({ kind: 'kept' });
    expect(await summaryOf('filter')).toMatchObject({ closed: null, closedAt: null });
  });

  it('is broken off by the lead alone, whatever the device says stood against it', async () => {
    await openWith('off', { kind: 'diagnosis', moduleIds: [] });
    const off: Act = { type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The customer declined.', unmet: [] } };
    expect((await act('off', off)).statusCode).toBe(409);
    expect((await act('off', off, 'ts')).json()).toMatchObject({ kind: 'kept' });
    const { events } = (await get('/api/jobs/off/events')).json<{ events: { type: string; body: unknown }[] }>();
    expect(events.at(-1)).toMatchObject({ type: 'job.closed', body: { unmet: ['Nothing was found or measured yet.'] } });
  });
});

describe('papers', () => {
  const vehicle = { name: 'Grey estate', plate: 'EST 12', odometerKilometre: 120_000, note: 'Parks at the quay.' };
  const customer = { name: 'A. Ferrow', contact: 'by the harbour office' };
  const rows = { vehicle: { id: 'paper-v', hash: '1'.repeat(64) }, customer: { id: 'paper-c', hash: '2'.repeat(64) } };

  it('are kept beside the log, which names them by a salted hash that was computed here', async () => {
    expect((await openWith('papers', rows, { vehicle, customer })).json()).toMatchObject({ kind: 'kept' });
    expect((await get('/api/jobs/papers/papers')).json()).toEqual({ vehicle, customer, corrected: { vehicle: false, customer: false } });
    const { rows: texts } = await db.pool.query<{ text: string }>(`select text from log_event where stream = 'papers'`);
    for (const secret of ['Grey estate', 'EST 12', 'Ferrow', 'harbour office', 'quay'])
      expect(texts.some((t) => t.text.includes(secret))).toBe(false);
    const body = (JSON.parse(texts[0]?.text ?? '{}') as { body: { customer: NamedRow } }).body;
    const { rows: kept } = await db.pool.query<{ salt: Buffer; body: unknown }>(
      `select salt, body from customer where customer_id = 'paper-c'`,
    );
    const salt = kept[0]?.salt ?? Buffer.alloc(0);
    expect(salt).toHaveLength(16);
    const hash = createHash('sha256').update(salt).update(canonicalText(customer), 'utf8').digest('hex');
    expect(body.customer).toEqual({ id: 'paper-c', hash });
  });

  it('are found by customer in the yard until they are erased, and no remake brings them back', async () => {
    expect(await summaryOf('papers')).toMatchObject({ vehicleName: 'Grey estate', plate: 'EST 12', customerName: 'A. Ferrow' });
    const erase = (type: string, body: object) => ({
      commandId: nextId(),
      deviceAt: new Date().toISOString(),
      by: 'ts',
      act: { type, body },
    });
    const reason = 'They asked for it.';
    for (const [type, body] of [
      ['customer.erased', { customerId: 'paper-c', reason }],
      ['vehicle.erased', { vehicleId: 'paper-v', reason }],
    ] as const) {
      expect((await post('/api/shop/acts', { ...erase(type, body), by: 'om' })).statusCode).toBe(409);
      expect((await post('/api/shop/acts', erase(type, body), 'ts')).json()).toMatchObject({ kind: 'kept' });
    }
    expect((await get('/api/jobs/papers/papers')).json()).toMatchObject({ vehicle: null, customer: null });
    const { rows: left } = await db.pool.query(`select salt, body from customer where customer_id = 'paper-c'`);
    expect(left).toEqual([{ salt: null, body: null }]);
    await remake(db.pool);
    expect(await summaryOf('papers')).toMatchObject({ plate: '', customerName: '' });
    expect((await get('/api/jobs/papers/job.json')).body).not.toMatch(/EST 12|Ferrow/);
  });

  it('are corrected by rows of their own, never in the log, and what stood before is erased by its own name', async () => {
    await openWith(
      'corrected',
      { vehicle: { id: 'old-v', hash: '1'.repeat(64) }, customer: { id: 'old-c', hash: '2'.repeat(64) } },
      { vehicle, customer },
    );
    const right = { vehicle: { ...vehicle, plate: 'EST 21', odometerKilometre: 121_000 }, customer: null };
    const correct = (v: string, papers: Papers | undefined, customerRow: NamedRow | null = null) =>
      post('/api/jobs/corrected/acts', {
        ...send({ type: 'papers.corrected', body: { vehicle: { id: v, hash: '0'.repeat(64) }, customer: customerRow } }),
        papers,
      });
    expect((await correct('new-v', undefined)).json()).toMatchObject({ status: 422, path: ['papers'] });
    expect((await correct('new-v', { vehicle, customer })).json()).toMatchObject({ status: 422, path: ['papers', 'customer'] });
    expect((await correct('old-v', right)).json()).toMatchObject({ status: 409, path: ['body', 'vehicle', 'id'] });
    expect((await correct('new-v', right)).json()).toMatchObject({ kind: 'kept' });
    expect((await get('/api/jobs/corrected/papers')).json()).toEqual({ ...right, corrected: { vehicle: true, customer: true } });
    expect(await summaryOf('corrected')).toMatchObject({ plate: 'EST 21', customerName: '', lastBy: 'om' });
    const { rows: texts } = await db.pool.query<{ text: string }>(`select text from log_event where stream = 'corrected'`);
    expect(texts.some(({ text }) => /EST 21|EST 12|Ferrow/.test(text))).toBe(false);
    const { state } = (await get('/api/jobs/corrected')).json<{ state: { intake: { before: unknown; opened: { vehicle: NamedRow } } } }>();
    expect(state.intake.before).toEqual({ vehicles: ['old-v'], customers: ['old-c'] });
    // computed here, not what the device wrote
    expect(state.intake.opened.vehicle.hash).toMatch(/^[1-9a-f]|0[0-9a-f]*[1-9a-f]/);
    const { rows: old } = await db.pool.query(`select body->>'plate' as plate from vehicle where vehicle_id = 'old-v'`);
    expect(old).toEqual([{ plate: 'EST 12' }]);
    await remake(db.pool);
    expect(await summaryOf('corrected')).toMatchObject({ plate: 'EST 21', vehicleName: 'Grey estate' });
  });

  it('of use are noted as often as it is asked, the latest stands, and half a word is refused with its place', async () => {
    const note = (body: object) => post('/api/jobs/corrected/acts', send({ type: 'use.noted', body } as Act));
    expect((await note({ uses: ['pets', 'pets'], lookedUp: '', noScan: '' })).json()).toMatchObject({
      status: 422,
      path: ['act', 'body', 'uses'],
    });
    expect((await note({ uses: ['boats'], lookedUp: '', noScan: '' })).statusCode).toBe(422);
    expect((await note({ uses: ['pets'], lookedUp: '', noScan: '' })).json()).toMatchObject({ kind: 'kept' });
    expect((await note({ uses: [], lookedUp: 'Two bulletins.', noScan: 'No reader.' })).json()).toMatchObject({ kind: 'kept' });
    const { state } = (await get('/api/jobs/corrected')).json<{ state: { intake: { use: unknown } } }>();
    expect(state.intake.use).toMatchObject({ uses: [], lookedUp: 'Two bulletins.', noScan: 'No reader.', by: 'om' });
  });

  it('must come with an opening, and agree with it on whether there is a customer', async () => {
    const without = { ...send(opening('none', {})), papers: undefined };
    expect((await post('/api/jobs/none/acts', without)).json()).toMatchObject({ status: 422, path: ['papers'] });
    expect((await openWith('none', {}, { ...PAPERS, customer })).json()).toMatchObject({ status: 422, path: ['papers', 'customer'] });
    expect((await openWith('none', rows, { vehicle, customer })).json()).toMatchObject({ status: 409, path: ['body', 'vehicle', 'id'] });
    expect((await get('/api/jobs/none')).statusCode).toBe(404);
  });
});

describe('a comeback', () => {
  it('names the job it comes back from, which must be there', async () => {
    await openWith('first', { kind: 'fanCleaning', moduleIds: [] });
    const gone = await openWith('again', { kind: 'diagnosis', moduleIds: [], comebackOf: 'nowhere' });
    expect(gone.json()).toMatchObject({ status: 422, path: ['body', 'comebackOf'] });
    expect((await openWith('again', { kind: 'diagnosis', moduleIds: [], comebackOf: 'first' })).json()).toMatchObject({ kind: 'kept' });
    expect((await summaryOf('again')).comebackOf).toBe((await summaryOf('first')).number);
  });

  it('may bring back the modules of a closed job, and not those of one that is open', async () => {
    const moduleIds = Array.from({ length: 28 }, (_, i) => `back-${i + 1}`);
    await openWith('sold', { kind: 'exchange', moduleIds });
    const again = { moduleIds, comebackOf: 'sold', vehicle: { id: 'back-v', hash: '0'.repeat(64) } };
    expect((await openWith('returned', again)).json()).toMatchObject({ status: 409, detail: expect.stringContaining('back-1') as unknown });
    await answerCooling('sold');
    await act('sold', CLOSE);
    expect((await openWith('returned', again)).json()).toMatchObject({ kind: 'kept' });
  });
});

it('puts the next look at an air path into the yard and into the feed of what is due, without a name', async () => {
  await act('aired', openAct('aired'));
  const { feed } = (await get('/api/gear')).json<{ feed: string }>();
  expect((await app.inject(feed)).body).not.toContain('look-aired@');
  await act('aired', { type: 'look.set', body: { months: 6, stripMonths: 30, uses: ['pets'] } });
  const { jobs } = (await get('/api/jobs')).json<{ jobs: JobSummary[] }>();
  const days = (Date.parse(jobs.find((j) => j.jobId === 'aired')?.lookAt ?? '') - Date.now()) / 86_400_000;
  expect(days).toBeCloseTo(6 * 30.4375, 0);
  expect(jobs.find((j) => j.jobId === 'again')?.lookAt).toBeNull();
  const { body } = await app.inject(feed);
  expect(body).toContain('look-aired@');
  expect(body).toContain('look at its air path');
  expect(body).toContain('open the pack and clean its cells');
  expect(body).not.toContain(PAPERS.vehicle?.name);
});

it('tells a job what earlier ones found of the air of its vehicle, by the plate, and of others of its profile', async () => {
  const plate = (text: string): Papers => ({ ...PAPERS, vehicle: { ...PAPERS.vehicle, plate: text } });
  const open = (jobId: string, text: string) => openWith(jobId, { kind: 'filterService', moduleIds: [] }, plate(text));
  await open('air-1', 'TI 77');
  await act('air-1', { type: 'air.found', body: { part: 0, when: 'asFound', blockedShare: 0.6, note: '' } });
  await act('air-1', { type: 'air.cleaned', body: { part: 0, school: 'dry', note: '' } });
  await act('air-1', { type: 'air.found', body: { part: 0, when: 'after', blockedShare: 0, note: '' } });
  await open('air-2', 'XX 1');
  await open('air-3', 'ti77');
  const { memories } = (await get('/api/profiles/dunlin-28/memory?job=air-3')).json<MemoriesAnswer>();
  const numbers = await Promise.all(['air-1', 'air-2', 'air-3'].map(async (id) => (await summaryOf(id)).number));
  const [first, second, third] = numbers.map((n) => memories.find((m) => m.number === n));
  expect(first).toMatchObject({ isSameVehicle: true, air: { foundShare: 0.6, wasCleaned: true } });
  expect(second).toMatchObject({ isSameVehicle: false, air: null });
  expect(third).toMatchObject({ isSameVehicle: true, air: null });
  // nobody is told whose vehicle it was where no job asks
  const { memories: plain } = (await get('/api/profiles/dunlin-28/memory')).json<MemoriesAnswer>();
  expect(plain.some((m) => m.isSameVehicle)).toBe(false);
});

describe('modules of the shelf', () => {
  it('that one job has reserved cannot be opened into another pack', async () => {
    const shelf = ['SP-1', 'SP-2'].map((moduleId) => ({
      ...{ moduleId, label: moduleId, typeId: profile.moduleType.id, capacityAh: 5.4, resistanceMilliohm: 27 },
      ...{ restDropMillivolt: null, ocvVolt: 7.8, bin: '' },
    }));
    const imported = await post('/api/shop/acts', {
      ...{ commandId: nextId(), deviceAt: new Date().toISOString(), by: 'om' },
      act: { type: 'stock.imported', body: { fileName: 'shelf.csv', modules: shelf } },
    });
    expect(imported.json()).toMatchObject({ kind: 'kept' });
    const odd = await post('/api/shop/acts', {
      ...{ commandId: nextId(), deviceAt: new Date().toISOString(), by: 'om' },
      act: { type: 'stock.imported', body: { fileName: 'shelf.csv', modules: shelf.map((m) => ({ ...m, ocvVolt: 780 })) } },
    });
    expect(odd.json()).toMatchObject({ status: 422, path: ['body', 'modules', 0, 'ocvVolt'] });
    await desk.keep('holder', openAct('holder'));
    const moduleIds = ['SP-1', ...Array.from({ length: 27 }, (_, i) => `holder-${i + 2}`)];
    const plan = { rangeAh: 0, lowerBoundAh: 0, proven: true, blockMeanAh: [], assumedPlaces: [] };
    const chosen = await desk.keep('holder', {
      type: 'plan.chosen',
      body: { school: 'spotRepair', moduleIds, fromShelf: ['SP-1'], ...plan },
    });
    expect(chosen).toMatchObject({ kind: 'kept' });
    const into = (id: string) => ({ moduleIds: [id, ...Array.from({ length: 27 }, (_, i) => `taker-${i + 2}`)] });
    const taken = await openWith('taker', into('SP-1'));
    expect(taken.json()).toMatchObject({ status: 409, type: 'urn:estuarine:taken', path: ['body', 'moduleIds', 0] });
    expect((await get('/api/jobs/taker')).statusCode).toBe(404);
    expect((await openWith('taker', into('SP-2'))).json()).toMatchObject({ kind: 'kept' });
  });

  it('of a plan are weighed here, not where they were chosen', async () => {
    const { events } = (await get('/api/jobs/holder/events')).json<{ events: { type: string; body: unknown }[] }>();
    expect(events.at(-1)).toMatchObject({ type: 'plan.chosen', body: { proven: false, lowerBoundAh: null } });
    const body = events.at(-1)?.body as ActBody<'plan.chosen'>;
    // one spare was measured: its capacity stands in for the others
    expect(body.assumedPlaces).toHaveLength(27);
    expect(body.blockMeanAh[0]).toBeCloseTo(5.4, 9);
  });

  it('that were dropped are set aside, also by a remake, and freed when that is taken back but not where another reason stands', async () => {
    const quarantine = async (id: string) =>
      (await get('/api/stock')).json<{ rows: { moduleId: string; quarantine: string | null }[] }>().rows.find((r) => r.moduleId === id)
        ?.quarantine;
    // under a command of its own, to be taken back by
    const drop = (moduleId: string, commandId = nextId()) =>
      post('/api/jobs/holder/acts', { ...send({ type: 'module.dropped', body: { moduleId, note: '' } }), commandId });
    const commandId = nextId();
    expect((await drop('SP-1', commandId)).json()).toMatchObject({ kind: 'kept' });
    expect(await quarantine('SP-1')).toMatch(/^Dropped at job \d+\.$/);
    await remake(db.pool);
    expect(await quarantine('SP-1')).toMatch(/^Dropped at job/);
    await act('holder', { type: 'act.withdrawn', body: { commandId, reason: 'mistyped' } });
    expect(await quarantine('SP-1')).toBeNull();
    await post('/api/shop/acts', {
      ...{ commandId: nextId(), deviceAt: new Date().toISOString(), by: 'om' },
      act: { type: 'module.quarantined', body: { moduleId: 'SP-1', reason: 'bulged' } },
    });
    const second = nextId();
    await drop('SP-1', second);
    await act('holder', { type: 'act.withdrawn', body: { commandId: second, reason: 'mistyped' } });
    expect(await quarantine('SP-1')).toBe('bulged');
    // a module that nobody knows is a fact all the same
    expect((await drop('never-seen')).json()).toMatchObject({ kind: 'kept' });
  });
});

it('keeps a number that can be and refuses one that cannot, and nothing sticks behind it', async () => {
  const sweepId = await desk.openJob('figures');
  const read = async (value: number, place = 1) =>
    act('figures', { type: 'reading.taken', body: { sweepId, place, moduleId: `figures-${place}`, quantity: 'openCircuitVolt', value } });
  expect((await read(7505)).json()).toMatchObject({ status: 422, detail: expect.stringContaining('Did you mean 7.505 V?') as unknown });
  expect((await read(-1)).json()).toMatchObject({ kind: 'kept' });
  expect((await read(7.505)).json()).toMatchObject({ kind: 'kept' });
  const { state } = (await get('/api/jobs/figures')).json<{ state: { head: number } }>();
  expect(state.head).toBe(4);
});

it('keeps modules apart whatever they are called, in state, yard and export, also when folded anew', async () => {
  const odd = ['constructor', 'toString', 'valueOf', 'hasOwnProperty'];
  const moduleIds = [...odd, ...Array.from({ length: 24 }, (_, i) => `plain-${i + 5}`)];
  expect((await openWith('odd', { moduleIds })).json()).toMatchObject({ kind: 'kept' });
  const sweepId = nextId();
  const how = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all' as const, resolution: 0.001 };
  await desk.keep('odd', { type: 'sweep.started', body: { kind: 'openCircuit', ...how } }, sweepId);
  for (const [i, moduleId] of odd.entries())
    await desk.keep('odd', {
      type: 'reading.taken',
      body: { sweepId, place: i + 1, moduleId, quantity: 'openCircuitVolt', value: 7.5 + i / 10 },
    });
  await remake(db.pool);
  expect(await summaryOf('odd')).toMatchObject({
    measuredCount: 4,
    behindVolt: expect.closeTo(7.5 + 7.6 + 7.7 + 7.8 + 24 * 9.6, 6) as unknown,
  });
  const lines = (await get('/api/jobs/odd/sweeps.csv')).body.split('\r\n');
  for (const [i, id] of odd.entries()) expect(lines.filter((l) => l.includes(`,${i + 1},${id},openCircuitVolt,`))).toHaveLength(1);
});

it('tells which versions of a profile the shop has, none of one that it does not know', async () => {
  expect((await get(`/api/profiles/${profile.id}/versions`)).json()).toEqual({ versions: [profile.version] });
  expect((await get('/api/profiles/nobody/versions')).json()).toEqual({ versions: [] });
});
