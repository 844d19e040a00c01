/** Once erased a name stands nowhere: every table, every answer, every file that goes out and what the server writes is searched for it. */
import { createHash } from 'node:crypto';
import { jest } from '@jest/globals';
import type { Papers, ReportStanding } from '@estuarine/contract';
import type { Act, ActBody, ShopAct } from '@estuarine/core';
import type { FastifyInstance } from 'fastify';
import sharp from 'sharp';
import { remake } from '../src/remake.ts';
import { readPdf } from './pdf-reader.ts';
import { createDatabase, nextId, openAct, send, SHOP, signIn, startApp, type TestDatabase } from './support.ts';
import { unzip } from './unzip.ts';

const JOB = 'named';
const OF_VEHICLE = ['Greyling', 'ERA 11', 'Wrackside', 'Brindled', 'ERA 22'];
const OF_CUSTOMER = ['Seagrass', 'sluice house', 'Eelpout'];
const OF_PERSON = ['Zostera'];
const NAMES = [...OF_VEHICLE, ...OF_CUSTOMER, ...OF_PERSON];
const FIRST: Papers = {
  vehicle: { name: 'Greyling estate', plate: 'ERA 11', odometerKilometre: null, note: 'Parks at Wrackside.' },
  customer: { name: 'Seagrass Laundry', contact: 'at the sluice house' },
};
const CORRECTED: Papers = {
  vehicle: { ...FIRST.vehicle, name: 'Brindled estate', plate: 'ERA 22', note: '' },
  customer: { name: 'Eelpout Laundry', contact: '' },
};
const rowOf = (id: string) => ({ id, hash: '0'.repeat(64) });

let db: TestDatabase;
let app: FastifyInstance;
let cookie = '';
const urls: string[] = [];
/** What the server wrote to its own log. */
let written = '';
/** Reports that were handed out. */
const reports: string[] = [];

beforeAll(async () => {
  for (const stream of [process.stdout, process.stderr])
    jest.spyOn(stream, 'write').mockImplementation((chunk) => ((written += String(chunk)), true));
  db = await createDatabase();
  app = await startApp(db, {
    onRoute: ({ method, url }) => {
      if ([method].flat().includes('GET')) urls.push(url);
    },
  });
  await app.ready();
  cookie = await signIn(app, 'ts');
}, 60_000);
afterAll(async () => {
  jest.restoreAllMocks();
  await app.close();
  await db.drop();
});

const ask = (method: 'GET' | 'POST' | 'DELETE', url: string, payload?: object) =>
  app.inject({ method, url, headers: { cookie }, ...(payload ? { payload } : {}) });

async function act(one: Act, papers?: Papers): Promise<void> {
  const answer = await ask('POST', `/api/jobs/${JOB}/acts`, { ...send(one, 'ts'), ...(papers ? { papers } : {}) });
  expect(answer.json()).toMatchObject({ kind: 'kept' });
}

async function shopAct(one: ShopAct): Promise<void> {
  const sent = { commandId: nextId(), deviceAt: new Date().toISOString(), by: 'ts', act: one };
  expect((await ask('POST', '/api/shop/acts', sent)).json()).toMatchObject({ kind: 'kept' });
}

async function report(): Promise<string> {
  let standing = (await ask('POST', `/api/jobs/${JOB}/reports`, {})).json<ReportStanding>();
  for (let i = 0; standing.standing === 'running' && i < 400; i++) {
    await new Promise((resolve) => setTimeout(resolve, 25));
    standing = (await ask('GET', `/api/jobs/${JOB}/reports/${standing.reportId}`)).json<ReportStanding>();
  }
  expect(standing.standing).toBe('ready');
  reports.push(standing.reportId);
  return standing.reportId;
}

const seal = async () => (await ask('POST', `/api/jobs/${JOB}/records`, {})).json<{ head: number; byte: number | null }>();

async function closeAndHandOut(): Promise<void> {
  await act({ type: 'job.closed', body: { outcome: 'finished', note: '' } });
  await report();
  expect((await seal()).byte).not.toBeNull();
}

/** Text of what came, of all that is packed in it too. */
async function textOf(bytes: Buffer): Promise<string> {
  const raw = bytes.toString('latin1');
  if (raw.startsWith('%PDF-')) return (await readPdf(bytes)).text;
  if (!raw.startsWith('PK')) return bytes.toString('utf8');
  const { bytes: members } = await unzip(bytes);
  return (await Promise.all([...members].map(async ([name, member]) => `${name}\n${await textOf(member)}`))).join('\n');
}

/** Where each of the names stands: tables and columns, and addresses of what answers with it. */
async function placesOf(names: readonly string[]): Promise<Map<string, string[]>> {
  const places = new Map(names.map((name) => [name, [] as string[]]));
  const look = (where: string, text: string): void => {
    for (const name of names) if (text.includes(name)) places.get(name)?.push(where);
  };
  const { rows: columns } = await db.pool.query<{ table: string; column: string; type: string }>(
    `select table_name as table, column_name as column, data_type as type from information_schema.columns where table_schema = 'public'`,
  );
  for (const { table, column, type } of columns) {
    const { rows } = await db.pool.query<{ value: Buffer | string | null }>(
      `select ${type === 'bytea' ? `"${column}"` : `"${column}"::text`} as value from "${table}"`,
    );
    for (const { value } of rows) if (value !== null) look(`${table}.${column}`, typeof value === 'string' ? value : await textOf(value));
  }
  const { records } = (await ask('GET', `/api/jobs/${JOB}/records`)).json<{ records: { head: number }[] }>();
  const filled = urls.flatMap((url) => {
    const of = url.replace(':jobId', JOB).replace(':photoId', 'p1');
    if (of.includes(':head')) return records.map(({ head }) => of.replace(':head', String(head)));
    if (of.includes(':reportId')) return reports.map((id) => of.replace(':reportId', id));
    return of.includes('/stream') || of.includes('*') ? [] : [of.replace(/:\w+/g, 'x')];
  });
  for (const url of filled) {
    const answer = await ask('GET', url);
    look(url, await textOf(answer.rawPayload));
  }
  look('the log of the server', written);
  return places;
}

const photo = async (id: string, background: string) => {
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background } })
    .jpeg()
    .toBuffer();
  const headers = { cookie, 'content-type': 'image/jpeg' };
  expect((await app.inject({ method: 'PUT', url: `/api/jobs/${JOB}/photos/${id}`, payload: picture, headers })).statusCode).toBe(201);
  const sha256 = createHash('sha256').update(picture).digest('hex');
  const body = { stage: 'cool', photoId: id, sha256, byte: picture.length, width: 40, height: 30, caption: '', place: null, pairOf: null } as const; // prettier-ignore
  await act({ type: 'photo.taken', body });
};

it('of vehicle, customer and person stands nowhere once it was erased, nor after the tables are made anew', async () => {
  const opening = openAct(JOB).body as ActBody<'job.opened'>;
  const papers = { vehicle: rowOf('v1'), customer: rowOf('c1') };
  await act({ type: 'job.opened', body: { ...opening, ...papers, kind: 'filterService', moduleIds: [] } }, FIRST);
  await act({ type: 'air.found', body: { part: 0, when: 'asFound', blockedShare: 0.05, note: '' } });
  await act({ type: 'cooling.judged', body: { isAnswered: true, note: '' } });
  await act({ type: 'look.set', body: { months: 6, stripMonths: null, uses: [] } });
  await photo('p1', '#8a5f00');
  await photo('p2', '#005f8a');
  await closeAndHandOut();
  await act({ type: 'job.reopened', body: { reason: 'The papers were wrong.' } });
  await act({ type: 'papers.corrected', body: { vehicle: rowOf('v2'), customer: rowOf('c2') } }, CORRECTED);
  await closeAndHandOut();
  const person = { personId: 'zw', name: 'Zostera Wrack', role: 'apprentice', passphrase: 'nine wet stones' };
  expect((await ask('POST', '/api/people', person)).statusCode).toBe(200);
  await shopAct({ type: 'person.left', body: { personId: 'zw' } });

  // all of it can be found by this search, in more than one place
  for (const [name, where] of await placesOf(NAMES)) expect([name, where.length > 1]).toEqual([name, true]);
  expect((await placesOf(['ERA 11'])).get('ERA 11')).toEqual(expect.arrayContaining(['sealed_archive.bytes', 'vehicle.body']));

  const reason = 'They asked for it.';
  for (const customerId of ['c1', 'c2']) await shopAct({ type: 'customer.erased', body: { customerId, reason } });
  expect([...(await placesOf(OF_CUSTOMER)).values()].flat()).toEqual([]);
  // what was written down wrongly is erased by itself: what names the other row stays
  await shopAct({ type: 'vehicle.erased', body: { vehicleId: 'v1', reason } });
  const places = await placesOf(OF_VEHICLE);
  for (const name of ['Greyling', 'ERA 11', 'Wrackside']) expect([name, places.get(name)]).toEqual([name, []]);
  expect(places.get('ERA 22')).toEqual(expect.arrayContaining(['sealed_archive.bytes', '/api/jobs']));
  await shopAct({ type: 'vehicle.erased', body: { vehicleId: 'v2', reason } });
  expect((await ask('DELETE', '/api/people/zw/name')).statusCode).toBe(200);
  for (const [name, where] of await placesOf(NAMES)) expect([name, where]).toEqual([name, []]);
  await remake(db.pool);
  for (const [name, where] of await placesOf(NAMES)) expect([name, where]).toEqual([name, []]);
  // nobody can try names on what is left of one
  const { rows } = await db.pool.query<{ text: string }>(`select text from log_event where type = 'person.added'`);
  const plain = createHash('sha256').update(person.name).digest('hex');
  expect(rows.some(({ text }) => text.includes(plain))).toBe(false);
  const { rows: salts } = await db.pool.query(`select 1 from person where person_id = 'zw' and name_salt is not null`);
  expect(salts).toEqual([]);
}, 120_000);

it('a record is sealed again after that, names nothing, and outlives making the tables anew', async () => {
  const { records } = (await ask('GET', `/api/jobs/${JOB}/records`)).json<{ records: { head: number; byte: number | null }[] }>();
  expect(records.map((r) => r.byte)).toEqual([null, null]);
  const { head, byte } = await seal();
  // in the place of the one that was emptied, not beside it
  expect([head, byte !== null]).toEqual([records[0]?.head, true]);
  const text = await textOf((await ask('GET', `/api/jobs/${JOB}/records/${head}/record.zip`)).rawPayload);
  expect(NAMES.filter((name) => text.includes(name))).toEqual([]);
  await remake(db.pool);
  expect((await ask('GET', `/api/jobs/${JOB}/records/${head}/record.zip`)).statusCode).toBe(200);
});

it('a photograph goes out of reports and records that hold it, and not out of those sealed since', async () => {
  await act({ type: 'report.prepared', body: { photoIds: ['p1', 'p2'], toCustomer: '' } });
  const reportId = await report();
  const pdf = `/api/jobs/${JOB}/reports/${reportId}/report.pdf`;
  expect((await ask('GET', pdf)).statusCode).toBe(200);
  const before = await seal();
  await act({ type: 'photo.erased', body: { photoId: 'p2', reason: 'A face is on it.' } });
  expect((await ask('GET', pdf)).json()).toMatchObject({ status: 404, detail: expect.stringContaining('was erased since') as unknown });
  expect((await ask('GET', `/api/jobs/${JOB}/records/${before.head}/record.zip`)).statusCode).toBe(404);
  const after = await seal();
  expect(after.head).toBeGreaterThan(before.head);
  await remake(db.pool);
  const { names } = await unzip((await ask('GET', `/api/jobs/${JOB}/records/${after.head}/record.zip`)).rawPayload);
  expect(names.filter((name) => /p[12]/.test(name))).toEqual([expect.stringContaining('p1')]);
});

it('is told to devices by the rows that are empty', async () => {
  expect((await ask('GET', '/api/erased')).json()).toEqual({ vehicles: ['v1', 'v2'], customers: ['c1', 'c2'] });
  expect((await app.inject({ method: 'GET', url: '/api/erased' })).statusCode).toBe(401);
});

it('of records that an older release kept is looked up in the log', async () => {
  await db.pool.query('update sealed_archive set vehicle_id = null');
  await db.pool.query('select name_vehicles_of_records()');
  const { rows } = await db.pool.query<{ id: string }>('select vehicle_id as id from sealed_archive where shop_id = $1 order by head', [
    SHOP,
  ]);
  expect(rows.map((r) => r.id)).toEqual(['v1', 'v2', 'v2', 'v2']);
});
