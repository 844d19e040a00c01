import { createHash, createPublicKey, verify } from 'node:crypto';
import { once } from 'node:events';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { eventLineSchema, manifestSchema, type Manifest, type ReportStanding } from '@estuarine/contract';
import { composeReport, findFigures, recordModules, type Act, type Report } from '@estuarine/core';
import ExcelJS from 'exceljs';
import type { FastifyInstance, LightMyRequestResponse } from 'fastify';
import sharp from 'sharp';
import { ZipFile } from 'yazl';
import { JobStates } from '../src/jobs/job-states.ts';
import { References } from '../src/profiles/references.ts';
import { importShop, NotTaken } from '../src/record/shop-in.ts';
import { exportShop } from '../src/record/shop-out.ts';
import { remake } from '../src/remake.ts';
import { gatherReport } from '../src/report/gather.ts';
import { writePdf } from '../src/report/pdf.ts';
import { seedDemo } from '@estuarine/seed';
import { readPdf } from './pdf-reader.ts';
import { unzip, type Members } from './unzip.ts';
import { createDatabase, SHOP, signIn, startApp, type TestDatabase } from './support.ts';

const CLOSED = 'demo-oystercatcher';
const OPEN = 'demo-redshank';
const NOW = new Date('2026-11-26T12:00:00Z');

let db: TestDatabase;
let app: FastifyInstance;
let cookie: string;
let lead: string;
let folder: string;

beforeAll(async () => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), 'hand-over-'));
  db = await createDatabase();
  await seedDemo(db.pool, SHOP, new Date());
  app = await startApp(db);
  await app.ready();
  cookie = await signIn(app);
  lead = await signIn(app, 'ts');
}, 180_000);
afterAll(async () => {
  await app.close();
  await db.drop();
  fs.rmSync(folder, { recursive: true });
});

type Method = 'GET' | 'POST' | 'DELETE';
function ask(method: Method, url: string, payload?: object, as = cookie): Promise<LightMyRequestResponse> {
  return app.inject({ method, url, headers: { cookie: as }, ...(payload ? { payload } : {}) });
}

async function written(jobId: string): Promise<{ id: string; pdf: Buffer }> {
  let standing = (await ask('POST', `/api/jobs/${jobId}/reports`, {})).json<ReportStanding>();
  for (let i = 0; standing.standing === 'running' && i < 400; i++) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    standing = (await ask('GET', `/api/jobs/${jobId}/reports/${standing.reportId}`)).json<ReportStanding>();
  }
  expect(standing.standing).toBe('ready');
  return { id: standing.reportId, pdf: (await ask('GET', `/api/jobs/${jobId}/reports/${standing.reportId}/report.pdf`)).rawPayload };
}

describe('the report', () => {
  it('says what the state says: every module, before and after, every torque, the proof, the cooling, the codes', async () => {
    const read = await readPdf((await written(CLOSED)).pdf);
    const states = new JobStates(SHOP, new References(SHOP));
    const job = await states.look(db.pool, CLOSED);
    if (!job) throw new Error('no job');
    const { state, profile } = job;
    for (const [i, keys] of state.sweep.keys.entries()) {
      expect(read.text).toContain(keys.find((k) => !k.startsWith('?')));
      expect(read.text).toContain(state.pack.places[i]?.moduleId);
    }
    const asFound = recordModules({ ...state, sweep: { ...state.sweep, keys: state.sweep.keys.map((k) => k.slice(1, 2)) } }, profile, (await import('@estuarine/core')).DEFAULT_POLICY.limits); // prettier-ignore
    const capacities = asFound.map((r) => r.figures.capacityAh);
    expect(capacities.filter((c) => c !== undefined)).toHaveLength(28);
    for (const capacity of capacities) expect(read.text).toContain(capacity?.toFixed(2));
    for (const said of [
      '28 of 28 in 2 passes',
      'Signed by OM',
      'pack fan',
      'P0A80: gone',
      'Road test of 30 min',
      'Marsh Cell Traders',
      '12 months or 20000 km',
    ])
      expect(read.text).toContain(said);
    expect(read.text).toContain(state.finding.findings[0]?.note);
  }, 60_000);

  it('is tagged, has its language and bookmarks, and the page for the customer stands alone in front', async () => {
    const read = await readPdf((await written(CLOSED)).pdf);
    expect(read.isTagged).toBe(true);
    expect(read.language).toBe('en-GB');
    expect(read.bookmarks).toEqual(expect.arrayContaining(['Job 14: the record', 'Modules', 'Torque', 'Cooling', 'Photographs', 'Seal']));
    expect(read.pages[0]).toContain('Lise Marram');
    expect(read.pages[0]).not.toContain('Hash');
    for (const [i, page] of read.pages.entries()) expect(page).toContain(`${i + 1} of ${read.pages.length}`);
  });

  it('asked for twice at once is written once, and again only when something was kept', async () => {
    const [one, two] = await Promise.all([ask('POST', `/api/jobs/${OPEN}/reports`, {}), ask('POST', `/api/jobs/${OPEN}/reports`, {})]);
    expect(one.json<ReportStanding>().reportId).toBe(two.json<ReportStanding>().reportId);
    const first = await written(OPEN);
    expect((await written(OPEN)).pdf.equals(first.pdf)).toBe(true);
    const act: Act = { type: 'cause.answered', body: { cause: 'age', isAnswered: true, how: 'a word that was not there before' } };
    const sent = { commandId: 'c-report-1', deviceAt: new Date().toISOString(), by: 'om', version: 1, act };
    expect((await ask('POST', `/api/jobs/${OPEN}/acts`, sent)).statusCode).toBe(200);
    const second = await written(OPEN);
    expect(second.id).not.toBe(first.id);
    expect((await readPdf(second.pdf)).text).toContain('a word that was not there before');
  });

  it('is cancelled, and is not at hand then', async () => {
    const { reportId } = (await ask('POST', '/api/jobs/demo-knot/reports', {})).json<ReportStanding>();
    const cancelled = (await ask('DELETE', `/api/jobs/demo-knot/reports/${reportId}`)).json<ReportStanding>();
    expect(cancelled.standing).toBe('cancelled');
    expect((await ask('GET', `/api/jobs/demo-knot/reports/${reportId}/report.pdf`)).statusCode).toBe(409);
    // asked for again it is written
    expect((await written('demo-knot')).pdf.subarray(0, 5).toString()).toBe('%PDF-');
  });

  it('of no job, of the shop, or of another time is not there', async () => {
    expect((await ask('POST', '/api/jobs/nowhere/reports', {})).statusCode).toBe(404);
    expect((await ask('POST', '/api/jobs/shop/reports', {})).statusCode).toBe(404);
    expect((await ask('GET', `/api/jobs/${CLOSED}/reports/1.1`)).statusCode).toBe(404);
    expect((await ask('GET', `/api/jobs/${CLOSED}/reports/constructor`)).statusCode).toBe(422);
    expect((await app.inject({ method: 'POST', url: `/api/jobs/${CLOSED}/reports`, payload: {} })).statusCode).toBe(401);
  });

  it('of 100 photographs and 30 pages holds every one, in any script that it covers', async () => {
    const picture = await sharp({ create: { width: 1200, height: 900, channels: 3, background: '#57696d' } })
      .jpeg()
      .toBuffer();
    const ids = Array.from({ length: 100 }, (_, i) => `p${i}`);
    const odd = 'Größe Šála Őr · Ωμέγα Привет Việt 電池 \ud83d\ude00 mΩ ½';
    const report: Report = {
      ...{ title: 'A long one', number: 1, photoIds: ids },
      blocks: [
        { kind: 'heading', level: 1, text: odd },
        { kind: 'text', text: `${odd} `.repeat(60) },
        { kind: 'table', columns: [{ name: odd, share: 1 }, { name: 'n', isFigure: true, share: 1 }], rows: ids.map((id) => [`${id} ${odd}`, '12.5']) }, // prettier-ignore
        { kind: 'photos', photos: ids.map((photoId) => ({ photoId, caption: `${photoId}: ${odd}` })) },
      ],
    };
    const shares: number[] = [];
    const pdf = await writePdf({
      report,
      photos: new Map(ids.map((id) => [id, picture])),
      now: NOW.getTime(),
      onProgress: (s) => shares.push(s),
    });
    if (!pdf) throw new Error('cancelled');
    const read = await readPdf(pdf);
    expect(read.pages.length).toBeGreaterThanOrEqual(18);
    for (const id of ids) expect(read.text).toContain(`${id}: Größe`);
    for (const word of ['Ωμέγα', 'Привет', 'Việt', 'mΩ', 'Őr']) expect(read.text).toContain(word);
    // what no font has is set as a sign for it, and nothing is lost around it
    expect(read.text).toContain('¤¤ ¤ mΩ');
    expect(shares.at(-1)).toBe(1);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
    // the same of the same moment is the same to the byte
    expect((await writePdf({ report, photos: new Map(), now: 1 }))?.equals((await writePdf({ report, photos: new Map(), now: 1 })) ?? Buffer.alloc(0))).toBe(true); // prettier-ignore
    expect(await writePdf({ report, photos: new Map(), now: 1, isCancelled: () => true })).toBeNull();
  }, 60_000);
});

const sha = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

async function record(jobId = CLOSED): Promise<{ members: Members; manifest: Manifest; zip: Buffer }> {
  const row = (await ask('POST', `/api/jobs/${jobId}/records`, {})).json<{ head: number }>();
  const zip = (await ask('GET', `/api/jobs/${jobId}/records/${row.head}/record.zip`)).rawPayload;
  const members = await unzip(zip);
  return { members, zip, manifest: manifestSchema.parse(JSON.parse(members.bytes.get('manifest.json')?.toString() ?? '')) };
}

describe('the sealed record', () => {
  it('lists every member in order, signs the list, and holds the whole chain', async () => {
    const { members, manifest } = await record();
    expect(members.names).toEqual(['manifest.json', 'manifest.ed25519', ...manifest.members.map((m) => m.name)]);
    for (const { name, byte, sha256 } of manifest.members) {
      const bytes = members.bytes.get(name) ?? Buffer.alloc(0);
      expect([name, bytes.length, sha(bytes)]).toEqual([name, byte, sha256]);
    }
    const raw = Buffer.from(manifest.key.publicKey, 'hex');
    expect(sha(raw)).toBe(manifest.key.fingerprint);
    const key = createPublicKey({ key: Buffer.concat([Buffer.from('302a300506032b6570032100', 'hex'), raw]), format: 'der', type: 'spki' });
    const signature = Buffer.from(members.bytes.get('manifest.ed25519')?.toString() ?? '', 'hex');
    expect(verify(null, members.bytes.get('manifest.json') ?? Buffer.alloc(0), key, signature)).toBe(true);
    let before = Buffer.alloc(0);
    for (const line of members.bytes.get('events.jsonl')?.toString().trim().split('\n') ?? []) {
      const event = eventLineSchema.parse(JSON.parse(line));
      before = createHash('sha256').update(before).update(event.text).digest();
      expect(before.toString('hex')).toBe(event.hash);
    }
    expect(manifest.chain).toEqual({ stream: CLOSED, head: manifest.chain.head, hash: before.toString('hex') });
  });

  it('does not name the owner, and holds report, schema, readings, torque and photographs', async () => {
    const { members } = await record();
    for (const [name, bytes] of members.bytes) expect([name, bytes.includes('Marram')]).toEqual([name, false]);
    expect((await readPdf(members.bytes.get('report.pdf') ?? Buffer.alloc(0))).text).not.toContain('Lise');
    const schema = JSON.parse(members.bytes.get('job.schema.json')?.toString() ?? '') as { properties?: object };
    expect(Object.keys(schema.properties ?? {})).toEqual(expect.arrayContaining(['handOver', 'sweep', 'refit']));
    expect(members.bytes.get('torque.csv')?.toString().split('\r\n').length).toBeGreaterThan(150);
    expect(members.bytes.get('sweeps.csv')?.toString()).toContain('14-13');
    expect([...members.bytes.keys()].some((n) => n.startsWith('photographs/'))).toBe(true);
  });

  it('of the same state is one, also asked for twice at once; of an open job there is none', async () => {
    const [one, two] = await Promise.all([ask('POST', `/api/jobs/${CLOSED}/records`, {}), ask('POST', `/api/jobs/${CLOSED}/records`, {})]);
    expect(one.json()).toEqual(two.json());
    expect((await ask('GET', `/api/jobs/${CLOSED}/records`)).json<{ records: unknown[] }>().records).toHaveLength(1);
    const open = await ask('POST', `/api/jobs/${OPEN}/records`, {});
    expect([open.statusCode, open.json<{ detail: string }>().detail]).toEqual([409, expect.stringMatching(/closed/)]);
    expect((await ask('POST', `/api/jobs/${CLOSED}/records`, {}, await signIn(app, 'jf'))).statusCode).toBe(403);
    expect((await ask('GET', `/api/jobs/${CLOSED}/records/99999999999/record.zip`)).statusCode).toBe(422);
    expect((await ask('GET', `/api/jobs/${CLOSED}/records/7/record.zip`)).statusCode).toBe(404);
  });
});

describe('the keys', () => {
  const keys = async () => (await app.inject({ url: '/api/seal/keys' })).json<{ keys: { fingerprint: string; retiredAt: string | null; revokedAt: string | null; reason: string | null }[]; canSign: boolean }>(); // prettier-ignore

  it('are published to anyone, made at the first start, one that signs', async () => {
    const { keys: list, canSign } = await keys();
    expect(canSign).toBe(true);
    expect(list.filter((k) => k.retiredAt === null && k.revokedAt === null)).toHaveLength(1);
  });

  it('are backed up under a passphrase and put back, by the lead alone', async () => {
    const words = { passphrase: 'a passphrase of the lead' };
    expect((await ask('POST', '/api/seal/backup', words)).statusCode).toBe(403);
    expect((await ask('POST', '/api/seal/backup', { passphrase: 'short' }, lead)).statusCode).toBe(422);
    const { pem } = (await ask('POST', '/api/seal/backup', words, lead)).json<{ pem: string }>();
    expect(pem).toContain('ENCRYPTED PRIVATE KEY');
    const [signing] = (await keys()).keys;
    // as on a machine with another secret: what lies in the table cannot be read there
    await db.pool.query(`update seal_key set private_sealed = decode('00', 'hex')`);
    expect((await keys()).canSign).toBe(false);
    expect((await ask('POST', '/api/jobs/demo-oystercatcher/records', {})).statusCode).toBe(200); // sealed before: it stands
    expect((await ask('POST', '/api/seal/backup', words, lead)).statusCode).toBe(409);
    const wrong = await ask('POST', '/api/seal/restore', { pem, passphrase: 'another passphrase' }, lead);
    expect([wrong.statusCode, (await keys()).canSign]).toEqual([422, false]);
    expect((await ask('POST', '/api/seal/restore', { pem: 'no key', ...words }, lead)).statusCode).toBe(422);
    const back = await ask('POST', '/api/seal/restore', { pem, ...words }, lead);
    expect(back.json()).toEqual({ fingerprint: signing?.fingerprint });
    expect((await keys()).canSign).toBe(true);
  });

  it('are replaced: the new one signs, the old one is known; and revoked with a reason', async () => {
    const [old] = (await keys()).keys;
    const replaces = old?.fingerprint;
    expect((await ask('POST', '/api/seal/keys', { replaces })).statusCode).toBe(403);
    expect((await ask('POST', '/api/seal/keys', { replaces }, lead)).statusCode).toBe(200);
    // the same press once more changes nothing
    expect((await ask('POST', '/api/seal/keys', { replaces }, lead)).statusCode).toBe(409);
    const [signing, before] = (await keys()).keys;
    expect(before).toMatchObject({ fingerprint: old?.fingerprint, retiredAt: expect.any(String) as string });
    expect(signing?.fingerprint).not.toBe(old?.fingerprint);
    const at = `/api/seal/keys/${old?.fingerprint}/revoke`;
    expect((await ask('POST', at, { reason: 'no' }, lead)).statusCode).toBe(422);
    expect((await ask('POST', at, { reason: 'The laptop was stolen.' }, lead)).statusCode).toBe(200);
    expect((await ask('POST', at, { reason: 'The laptop was stolen.' }, lead)).statusCode).toBe(404);
    expect((await keys()).keys.find((k) => k.fingerprint === old?.fingerprint)).toMatchObject({ revokedAt: expect.any(String) as string, reason: 'The laptop was stolen.' }); // prettier-ignore
    // a job that is opened again and closed is sealed anew, with the key that stands
    const send = (act: Act, id: string) =>
      ask('POST', `/api/jobs/${CLOSED}/acts`, { commandId: id, deviceAt: new Date().toISOString(), by: 'om', version: 1, act });
    expect((await send({ type: 'job.reopened', body: { reason: 'The light came on again.' } }, 'c-re-1')).statusCode).toBe(200);
    expect((await send({ type: 'job.closed', body: { outcome: 'finished', note: '' } }, 'c-re-2')).statusCode).toBe(200);
    const { manifest } = await record();
    expect(manifest.key.fingerprint).toBe(signing?.fingerprint);
    expect((await ask('GET', `/api/jobs/${CLOSED}/records`)).json<{ records: unknown[] }>().records).toHaveLength(2);
  });

  it('one alone signs, also when two begin at once', async () => {
    await db.pool.query('delete from seal_key');
    const other = await startApp(db);
    const third = await startApp(db);
    await Promise.all([other.ready(), third.ready(), ask('GET', '/api/seal/keys')]);
    await Promise.all([other.close(), third.close()]);
    const replaces = (await keys()).keys.find((k) => k.retiredAt === null)?.fingerprint;
    const answers = await Promise.all([1, 2, 3].map(() => ask('POST', '/api/seal/keys', { replaces }, lead)));
    expect(answers.map((a) => a.statusCode).sort()).toEqual([200, 409, 409]);
    const { rows } = await db.pool.query('select 1 from seal_key where retired_at is null and revoked_at is null');
    expect(rows).toHaveLength(1);
  });
});

describe('erasing', () => {
  it('a vehicle takes the bytes of the records that name it, not that they were; its owner takes none', async () => {
    await record();
    const act = (type: 'customer.erased' | 'vehicle.erased', body: object) =>
      ask('POST', '/api/shop/acts', { commandId: `c-${type}`, deviceAt: new Date().toISOString(), by: 'ts', act: { type, body: { ...body, reason: 'asked for it' } } }, lead); // prettier-ignore
    const bytes = async () => (await ask('GET', `/api/jobs/${CLOSED}/records`)).json<{ records: { byte: number | null }[] }>().records.map((r) => r.byte); // prettier-ignore
    expect((await act('customer.erased', { customerId: `${CLOSED}-customer` })).statusCode).toBe(200);
    expect((await bytes()).every((b) => b !== null)).toBe(true);
    // what was written before the erasure is not handed out any more
    const read = await readPdf((await written(CLOSED)).pdf);
    expect(read.text).not.toContain('Lise');
    expect(read.text).toContain('for the owner');
    expect((await act('vehicle.erased', { vehicleId: `${CLOSED}-vehicle` })).statusCode).toBe(200);
    const left = await bytes();
    expect([left.length > 0, left.every((b) => b === null)]).toEqual([true, true]);
    expect((await readPdf((await written(CLOSED)).pdf)).text).not.toContain('TI 211');
  });
});

describe('figures, workbooks, reminders', () => {
  it('are those of the jobs', async () => {
    const { figures } = (await ask('GET', '/api/figures')).json<{ figures: ReturnType<typeof findFigures> }>();
    expect(figures.comebacks).toEqual([expect.objectContaining({ school: 'spotRepairReordered', closed: 1, comebacks: 1, jobs: [15] })]);
    expect(figures.money).toEqual([expect.objectContaining({ number: 14, supplier: 'Marsh Cell Traders', outstanding: 45 })]);
    expect(figures.months).toEqual([expect.objectContaining({ in: 1, out: 1, closed: 1 })]);
  });

  it('workbooks read back as they were written, formulas defused', async () => {
    const open = async (url: string): Promise<ExcelJS.Workbook> => {
      const book = new ExcelJS.Workbook();
      await book.xlsx.load((await ask('GET', url)).rawPayload as unknown as ArrayBuffer);
      return book;
    };
    const stock = (await open('/api/stock.xlsx')).getWorksheet('Stock');
    expect(stock?.rowCount).toBe(1 + Number((await db.pool.query('select count(*)::int as n from module')).rows[0]?.n));
    const sweeps = await open(`/api/jobs/${CLOSED}/sweeps.xlsx`);
    expect(sweeps.worksheets.map((s) => s.name)).toEqual(['1 openCircuit', '2 rest', '3 load', '4 capacity']);
    expect(sweeps.worksheets[3]?.rowCount).toBe(29);
    expect((await open('/api/figures.xlsx')).worksheets.map((s) => s.name)).toEqual(['Comebacks', 'Minutes', 'Money out', 'Modules']);
    const empty = await open('/api/jobs/demo-plover/sweeps.xlsx');
    expect(empty.worksheets[0]?.getCell('A1').value).toMatch(/No sweep/);
    expect((await ask('GET', '/api/jobs/nowhere/sweeps.xlsx')).statusCode).toBe(404);
  });

  it('one calendar tells of waits, of what goes back, and of looks', async () => {
    const { feed } = (await ask('GET', '/api/gear')).json<{ feed: string }>();
    const text = (await app.inject({ url: feed })).body.replace(/\r\n /g, '');
    expect(text).toMatch(/SUMMARY:Job 14\\, Dunlin 28: old ones back to Marsh Cell Traders/);
    expect(text).toMatch(/SUMMARY:Job 14\\, Dunlin 28: look at its air path/);
    expect(text).toMatch(/SUMMARY:Job 4\\, Curlew 42: the wait for the capacitors is over/);
  });
});

describe('the whole shop', () => {
  let file: string;
  const out = (from: TestDatabase, name: string): Promise<void> =>
    pipeline(exportShop(from.pool, SHOP, NOW), fs.createWriteStream(path.join(folder, name)));
  const dump = async ({ pool }: TestDatabase, table: string): Promise<unknown> =>
    (await pool.query(`select md5(string_agg(t::text, '|' order by t::text)) as sum, count(*)::int as n from ${table} t`)).rows[0];
  const TABLES = ['stream', 'log_event', 'log_command', 'person', 'credential', 'vehicle', 'customer', 'photo', 'seal_key', 'sealed_archive', 'module', 'job_summary', 'policy', 'profile', 'gear', 'competence', 'instrument', 'supplier_terms']; // prettier-ignore
  let empty: TestDatabase;

  beforeAll(async () => {
    file = path.join(folder, 'shop.zip');
    await out(db, 'shop.zip');
    empty = await createDatabase();
    await clear(empty);
  });
  afterAll(() => empty.drop());

  async function clear({ pool }: TestDatabase): Promise<void> {
    const { rows } = await pool.query<{ name: string }>(`select table_name as name from information_schema.columns where column_name = 'shop_id' and table_schema = 'public'`); // prettier-ignore
    await pool.query(`truncate ${rows.map((r) => r.name).join(', ')} cascade`);
  }

  /** The archive with members changed: null leaves one out. */
  async function changed(change: (name: string, bytes: Buffer) => Buffer | null, more: Record<string, Buffer> = {}): Promise<string> {
    const { names, bytes } = await unzip(fs.readFileSync(file));
    const zip = new ZipFile();
    for (const name of names) {
      const now = change(name, bytes.get(name) ?? Buffer.alloc(0));
      if (now) zip.addBuffer(now, name);
    }
    for (const [name, content] of Object.entries(more)) zip.addBuffer(content, name);
    zip.end();
    const to = path.join(folder, 'changed.zip');
    const stream = fs.createWriteStream(to);
    zip.outputStream.pipe(stream);
    await once(stream, 'finish');
    return to;
  }

  it('goes out and comes back without loss: every table is the same, and goes on from there', async () => {
    await importShop(empty.pool, SHOP, file);
    await remake(empty.pool);
    for (const table of TABLES) expect([table, await dump(empty, table)]).toEqual([table, await dump(db, table)]);
    await out(empty, 'again.zip');
    const [one, two] = [await unzip(fs.readFileSync(file)), await unzip(fs.readFileSync(path.join(folder, 'again.zip')))];
    for (const [name, bytes] of one.bytes) expect([name, two.bytes.get(name)?.equals(bytes)]).toEqual([name, true]);
    const there = await startApp(empty);
    const signedIn = await signIn(there);
    const act: Act = { type: 'cause.answered', body: { cause: 'age', isAnswered: true, how: '' } };
    const sent = { commandId: 'c-after-import', deviceAt: new Date().toISOString(), by: 'om', version: 1, act };
    const kept = await there.inject({ method: 'POST', url: `/api/jobs/${OPEN}/acts`, headers: { cookie: signedIn }, payload: sent });
    expect([kept.statusCode, kept.body]).toEqual([200, expect.anything()]);
    await there.close();
    await expect(importShop(empty.pool, SHOP, file)).rejects.toThrow(/already/);
  }, 60_000);

  it('holds jobs and stock for a spreadsheet, and the form of every line beside', async () => {
    const { names, bytes } = await unzip(fs.readFileSync(file));
    const linesOf = (name: string): string[] => bytes.get(name)?.toString().split('\r\n') ?? [];
    const [head, ...jobs] = linesOf('csv/jobs.csv');
    expect(head).toBe('number,id,kind,vehicle,plate,customer,pack,stage,opened,closed,closed at,comes back from');
    expect(jobs).toHaveLength(Number((await db.pool.query('select count(*)::int as n from job_summary')).rows[0]?.n));
    expect(jobs.find((line) => line.includes(`,${CLOSED},`))).toMatch(/^14,demo-oystercatcher,wholeRepair,.+,Dunlin 28,.+,finished,/);
    const [columns, ...modules] = linesOf('csv/stock.csv');
    expect(columns).toMatch(/^module,/);
    expect(modules).toHaveLength(Number((await db.pool.query('select count(*)::int as n from module')).rows[0]?.n));
    const schema = JSON.parse(bytes.get('schema.json')?.toString() ?? '') as Record<string, { type: string }>;
    const tables = names.filter((n) => n.startsWith('tables/'));
    expect(tables.length).toBeGreaterThan(10);
    for (const name of ['archive.json', ...tables]) expect([name, schema[name]?.type]).toEqual([name, 'object']);
  });

  it.each<[string, () => Promise<string> | string, RegExp]>([
    ['is no zip', () => { const to = path.join(folder, 'no.zip'); fs.writeFileSync(to, 'hello'); return to; }, /no whole zip/], // prettier-ignore
    ['was cut short', () => { const to = path.join(folder, 'cut.zip'); fs.writeFileSync(to, fs.readFileSync(file).subarray(0, -400)); return to; }, /no whole zip/], // prettier-ignore
    ['is another zip', () => changed((n, b) => (n === 'archive.json' ? null : b)), /no archive of a shop/],
    ['has a member too few', () => changed((n, b) => (n === 'tables/vehicle.jsonl' ? null : b)), /vehicle\.jsonl is missing/],
    ['has a member too many', () => changed((_n, b) => b, { 'tables/more.jsonl': Buffer.from('{}') }), /more\.jsonl was added/],
    [
      'has a member renamed',
      () => changed((_n, b) => b, {}).then(() => changed((n, b) => (n === 'csv/jobs.csv' ? null : b), { 'csv/job.csv': Buffer.from('x') })),
      /missing|added/,
    ],
    [
      'has an event changed',
      () => changed((n, b) => (n === 'tables/log_event.jsonl' ? Buffer.from(b.toString().replace('\\"value\\":7', '\\"value\\":8')) : b)),
      /log_event\.jsonl was changed/,
    ],
    [
      'has a row that is none',
      () => changed((n, b) => (n === 'tables/person.jsonl' ? Buffer.from(b.toString().replace(/"name":"/, '"nome":"')) : b)),
      /person\.jsonl, line 1/,
    ],
    [
      'is of a later version',
      () => changed((n, b) => (n === 'archive.json' ? Buffer.from(b.toString().replace('"version": 1', '"version": 2')) : b)),
      /archive\.json/,
    ],
  ])('that %s is refused whole, with the place', async (_what, make, why) => {
    await clear(empty);
    const to = await make();
    await expect(importShop(empty.pool, SHOP, to)).rejects.toThrow(NotTaken);
    await expect(importShop(empty.pool, SHOP, to)).rejects.toThrow(why);
    for (const table of TABLES) expect([table, (await empty.pool.query(`select 1 from ${table} limit 1`)).rowCount]).toEqual([table, 0]);
  });

  it('whose list fits but whose chain does not is refused: a hash in the list is no proof', async () => {
    await clear(empty);
    const { bytes } = await unzip(fs.readFileSync(file));
    const events = Buffer.from(
      bytes.get('tables/log_event.jsonl')?.toString().replace('\\"isAnswered\\":true', '\\"isAnswered\\":null') ?? '',
    );
    const index = JSON.parse(bytes.get('archive.json')?.toString() ?? '') as { members: { name: string; byte: number; sha256: string }[] };
    Object.assign(index.members.find((m) => m.name === 'tables/log_event.jsonl') ?? {}, { byte: events.length, sha256: sha(events) });
    const to = await changed((n, b) =>
      n === 'archive.json' ? Buffer.from(JSON.stringify(index)) : n === 'tables/log_event.jsonl' ? events : b,
    );
    await expect(importShop(empty.pool, SHOP, to)).rejects.toThrow(/does not fit its hash/);
    expect((await empty.pool.query('select 1 from shop')).rowCount).toBe(0);
  });

  it('whose rows do not fit one another is refused with the place: an event of a stream that there is not', async () => {
    await clear(empty);
    const { bytes } = await unzip(fs.readFileSync(file));
    const text = bytes.get('tables/stream.jsonl')?.toString() ?? '';
    const streams = Buffer.from(text.replace(`"${OPEN}"`, '"renamed"'));
    const index = JSON.parse(bytes.get('archive.json')?.toString() ?? '') as { members: { name: string; byte: number; sha256: string }[] };
    Object.assign(index.members.find((m) => m.name === 'tables/stream.jsonl') ?? {}, { byte: streams.length, sha256: sha(streams) });
    const to = await changed((n, b) =>
      n === 'archive.json' ? Buffer.from(JSON.stringify(index)) : n === 'tables/stream.jsonl' ? streams : b,
    );
    await expect(importShop(empty.pool, SHOP, to)).rejects.toThrow(/^tables\/log_event\.jsonl, lines \d+ to \d+: .*Nothing was taken/);
    await expect(importShop(empty.pool, SHOP, to)).rejects.toThrow(NotTaken);
    expect((await empty.pool.query('select 1 from shop')).rowCount).toBe(0);
  });

  it('that unpacks to more than it lists is a bomb, and is not unpacked', async () => {
    await clear(empty);
    const to = await changed((n, b) => (n === 'tables/customer.jsonl' ? Buffer.alloc(50_000_000, 32) : b));
    await expect(importShop(empty.pool, SHOP, to)).rejects.toThrow(/customer\.jsonl is 50000000 bytes, listed are/);
  });

  it('whoever goes away in the middle of fetching it leaves nothing held', async () => {
    for (let i = 0; i < 14; i++) {
      const stream = exportShop(db.pool, SHOP, NOW);
      await once(stream, 'readable');
      stream.destroy();
      await once(stream, 'close');
    }
    // more than the pool has: a connection that stayed out would be missing now
    expect((await db.pool.query('select 1 as one')).rowCount).toBe(1);
    const deadline = Date.now() + 10_000;
    while (db.pool.idleCount < db.pool.totalCount && Date.now() < deadline) await new Promise((resolve) => setTimeout(resolve, 20));
    expect(db.pool.idleCount).toBe(db.pool.totalCount);
  });

  it('is the lead’s to take', async () => {
    expect((await ask('GET', '/api/shop/archive.zip')).statusCode).toBe(403);
    const taken = await ask('GET', '/api/shop/archive.zip', undefined, lead);
    expect([taken.statusCode, (await unzip(taken.rawPayload)).names]).toEqual([
      200,
      expect.arrayContaining(['archive.json', 'tables/log_event.jsonl']),
    ]);
  });
});

it('a report is composed of the same state as the screen shows', async () => {
  const sources = { pool: db.pool, shopId: SHOP, references: new References(SHOP), states: new JobStates(SHOP, new References(SHOP)), isDemo: true, fingerprint: () => Promise.resolve(null) }; // prettier-ignore
  const input = await gatherReport(sources, 'demo-sanderling', NOW.getTime());
  if (!input) throw new Error('no job');
  expect(composeReport(input).title).toBe('Job 1: Dunlin harbour bus');
  expect(await gatherReport(sources, 'nowhere', 0)).toBeNull();
});
