/** A database of its own for each spec, and an application on it. */
import { generateKeyPairSync, randomUUID, sign } from 'node:crypto';
import { certificateSchema, signedText, type Papers, type SentAct } from '@estuarine/contract';
import { seedPeopleAndGear } from '@estuarine/seed';
import { DEFAULT_POLICY, NO_HASH, versionOf, type Act, type Profile, type StockModule } from '@estuarine/core';
import type { FastifyInstance, LightMyRequestResponse } from 'fastify';
import pg from 'pg';
import { buildApp, type AppOptions } from '../src/app.ts';
import { createPool, migrate } from '../src/database/database.ts';
import { JobStates } from '../src/jobs/job-states.ts';
import { keepJobAct } from '../src/jobs/acts.ts';
import type { JobActs } from '../src/jobs/asked.ts';
import { References } from '../src/profiles/references.ts';
import { tellOthers, type Outcome } from '../src/log/store.ts';
import type { Actor } from '../src/persons/principals.ts';
import { SESSION_COOKIE } from '../src/persons/sessions.ts';
import { keepShopAct } from '../src/shop/acts.ts';
import { DEMO_ACCOUNTS } from '../src/practice/accounts.ts';
import { ensureShop, readShippedProfile } from '../src/shop/begin.ts';

export const SHOP = 'shop';
const ADMIN_URL = process.env.DATABASE_URL ?? '';
if (!ADMIN_URL) throw new Error('DATABASE_URL is not set: run these specs by `npm test`');

export interface TestDatabase {
  readonly url: string;
  readonly pool: pg.Pool;
  readonly drop: () => Promise<void>;
}

/** A database that holds the shop as each spec begins with it. */
export async function createDatabase(): Promise<TestDatabase> {
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  await withAdmin(async (admin) => {
    await admin.query('select pg_advisory_lock(1)');
    if ((await admin.query('select 1 from pg_database where datname = $1', [BEGINNING])).rowCount === 0) await makeBeginning(admin);
    await admin.query(`create database ${name} template ${BEGINNING}`);
  });
  const url = urlOf(name);
  const pool = createPool(url, 12);
  return {
    url,
    pool,
    drop: async () => {
      await pool.end();
      await withAdmin((admin) => admin.query(`drop database ${name} with (force)`));
    },
  };
}

const BEGINNING = 'test_beginning';

/** Made once for all specs of a run, and copied. */
async function makeBeginning(admin: pg.Client): Promise<void> {
  const making = `${BEGINNING}_${randomUUID().slice(0, 8)}`;
  await admin.query(`create database ${making}`);
  await migrate(urlOf(making));
  const pool = createPool(urlOf(making), 1);
  await ensureShop(pool, SHOP, { isDemo: true });
  await seedPeopleAndGear(pool, SHOP, new Date(), new Date());
  await pool.end();
  await admin.query(`alter database ${making} rename to ${BEGINNING}`);
}

function urlOf(database: string): string {
  return Object.assign(new URL(ADMIN_URL), { pathname: `/${database}` }).href;
}

async function withAdmin(work: (admin: pg.Client) => Promise<unknown>): Promise<void> {
  const admin = new pg.Client({ connectionString: ADMIN_URL });
  await admin.connect();
  try {
    await work(admin);
  } finally {
    await admin.end();
  }
}

export async function startApp(
  db: TestDatabase,
  { clock = () => new Date(), ...more }: Partial<Pick<AppOptions, 'clock' | 'onRoute' | 'triesPerMinute' | 'pool'>> = {},
): Promise<FastifyInstance> {
  return buildApp({
    pool: db.pool,
    databaseUrl: db.url,
    shopId: SHOP,
    secret: 'a secret of the tests, at least 32 characters long',
    clock,
    hosts: () => new Set(['localhost:80', ...ports.map((p) => `127.0.0.1:${p}`)]),
    requestsPerMinute: null,
    triesPerMinute: null,
    ...more,
  });
}

/** The cookie of a person who signs in. */
export async function signIn(app: FastifyInstance, personId = 'om'): Promise<string> {
  const passphrase = DEMO_ACCOUNTS.find((a) => a.id === personId)?.passphrase;
  const answer = await app.inject({ method: 'POST', url: '/api/session', payload: { personId, passphrase } });
  if (answer.statusCode !== 200) throw new Error(answer.body);
  return cookieOf(answer, SESSION_COOKIE);
}

/** A cookie that an answer sets, as a browser sends it back; empty where it sets none of the name. */
export function cookieOf(answer: LightMyRequestResponse, name: string): string {
  const set = [answer.headers['set-cookie'] ?? []].flat().find((one) => one.startsWith(`${name}=`));
  return set?.split(';')[0] ?? '';
}

/** A technician who may sign. */
export const TECHNICIAN: Actor = {
  id: 'om',
  role: 'technician',
  competences: [{ personId: 'om', kind: 'highVoltage', training: 't', givenBy: 'g', validUntil: '2999-12-31' }],
};

const ports: number[] = [];

/** Listens on a free loopback port; for what a real connection is needed for. */
export async function listen(app: FastifyInstance): Promise<string> {
  const url = await app.listen({ host: '127.0.0.1', port: 0 });
  ports.push(Number(new URL(url).port));
  return url;
}

export const profile: Profile = readShippedProfile('dunlin-28');
export const policy = DEFAULT_POLICY;

export function openAct(prefix: string): Act {
  return {
    type: 'job.opened',
    body: {
      ...{ number: 1, kind: 'wholeRepair', profileId: profile.id, profileVersion: profile.version, policyVersion: 1 },
      ...{ vehicle: { id: `${prefix}-vehicle`, hash: NO_HASH }, customer: null, comebackOf: null },
      moduleIds: Array.from({ length: 28 }, (_, i) => `${prefix}-${i + 1}`),
    },
  };
}

let count = 0;
let turn = 0;
/** Modules as a shelf holds them, brought in by a file. */
export function stockModules(pool: pg.Pool, ...ids: string[]) {
  const modules = ids.map((moduleId): StockModule => ({
    ...{ moduleId, label: moduleId, typeId: 'nimh-6-prismatic', capacityAh: 5.6, resistanceMilliohm: 26 },
    ...{ restDropMillivolt: 20, ocvVolt: 7.8, bin: 'Rack A' },
  }));
  const act = { type: 'stock.imported', body: { fileName: 'test.csv', modules } } as const;
  const shop = { pool, shopId: SHOP, clock: () => new Date() };
  return keepShopAct(shop, { commandId: nextId(), by: 'om', deviceAt: new Date().toISOString(), act }, 'technician');
}

/** A fresh command id. */
export function nextId(): string {
  return `c-${++count}-${randomUUID().slice(0, 8)}`;
}

/** What travels beside an act that opens a job. */
export const PAPERS: Papers = { vehicle: { name: 'Test wagon', plate: 'T 1', odometerKilometre: null, note: '' }, customer: null };

export function send(act: Act, by = 'om', commandId = nextId()) {
  const papers = act.type === 'job.opened' ? { papers: PAPERS } : {};
  return {
    commandId,
    deviceAt: new Date().toISOString(),
    device: { id: 'bench', isClockSure: true, turn: turn++ },
    by,
    version: versionOf(act),
    act,
    ...papers,
  };
}

/** Keeps acts without HTTP. */
export class Desk {
  readonly jobs: JobActs;

  constructor(db: TestDatabase) {
    const references = new References(SHOP);
    this.jobs = {
      ...{ pool: db.pool, shopId: SHOP, references, states: new JobStates(SHOP, references), clock: () => new Date() },
      announce: () => void tellOthers(db.pool, SHOP).catch(() => undefined),
    };
  }

  keep(jobId: string, act: Act, commandId = nextId(), by = 'om'): Promise<Outcome> {
    return keepJobAct(this.jobs, jobId, send(act, by, commandId), TECHNICIAN);
  }

  /** A job with an open sweep; gives the sweep's id. */
  async openJob(jobId: string): Promise<string> {
    await this.keep(jobId, openAct(jobId));
    const sweepId = nextId();
    const body = {
      kind: 'openCircuit',
      restSince: null,
      restHour: null,
      loadAmpere: null,
      loadSecond: null,
      recovered: 'all',
      resolution: 0.001,
    } as const;
    await this.keep(jobId, { type: 'sweep.started', body }, sweepId);
    return sweepId;
  }

  read(jobId: string, sweepId: string, place: number, value: number, commandId = nextId(), by = 'om'): Promise<Outcome> {
    const body = { sweepId, place, moduleId: `${jobId}-${place}`, quantity: 'openCircuitVolt', value } as const;
    return this.keep(jobId, { type: 'reading.taken', body }, commandId, by);
  }
}

/** A device on which the person of a session works: what it keeps is signed. */
export async function signingDevice(app: FastifyInstance, cookie: string, id = 'bench-1') {
  const { privateKey, publicKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  const key = publicKey.export({ format: 'der', type: 'spki' }).toString('base64url');
  const answer = await app.inject({ method: 'POST', url: '/api/session/key', headers: { cookie }, payload: { device: id, key } });
  const certificate = certificateSchema.parse(answer.json());
  let turn = 0;
  return (jobId: string, sent: object): SentAct => {
    const act = { ...sent, device: { id, isClockSure: true, turn: ++turn } };
    const value = sign('sha256', Buffer.from(signedText(jobId, act)), { key: privateKey, dsaEncoding: 'ieee-p1363' }).toString('base64url');
    return { ...act, signature: { certificate, value } } as SentAct;
  };
}
