import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { verifyChains } from '../src/log/verify.ts';
import { createPool } from '../src/database/database.ts';
import { savePhoto } from '../src/photos/store.ts';
import { createDatabase, Desk, SHOP, type TestDatabase } from './support.ts';

const SCRIPT = fileURLToPath(new URL('../../ops/archive.mjs', import.meta.url));
const TABLES = [
  'credential',
  'competence',
  'gear',
  'instrument',
  'session',
  'shop',
  'person',
  'stream',
  'log_event',
  'log_command',
  'profile',
  'policy',
  'job_summary',
  'photo',
  'module',
  'schema_migration',
];

let db: TestDatabase;
let folder: string;
let file: string;

beforeAll(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'archive-'));
  file = path.join(folder, 'shop.archive');
  db = await createDatabase();
  const desk = new Desk(db);
  const sweep = await desk.openJob('kept');
  for (let place = 1; place <= 28; place++) await desk.read('kept', sweep, place, 7.8);
  const bytes = Buffer.from([0xff, 0xd8, 1, 2, 3]);
  const photo = {
    jobId: 'kept',
    photoId: 'p1',
    sha256: 'ab'.repeat(32),
    picture: bytes,
    print: null,
    small: bytes,
    by: 'om',
    at: new Date(0),
  };
  await savePhoto(db.pool, SHOP, photo);
}, 20_000);
afterAll(async () => {
  await db.drop().catch(() => undefined);
  rmSync(folder, { recursive: true });
});

function archive(...args: string[]) {
  return spawnSync(process.execPath, [SCRIPT, ...args], {
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL: db.url, NODE_OPTIONS: '' },
  });
}

/** Everything, but for the transaction ids and the epoch that a restore renews on purpose. */
async function dump(pool: pg.Pool): Promise<string> {
  const parts = await Promise.all(TABLES.map((t) => pool.query(`select to_jsonb(t) - 'epoch' as row from ${t} t order by 1`)));
  return JSON.stringify(parts.map((p) => p.rows));
}

it('backs up, and restores to the same', async () => {
  const before = await dump(db.pool);
  expect(archive('backup', file)).toMatchObject({ status: 0, stderr: expect.stringContaining('Written') });
  await new Desk(db).openJob('came-after');
  await db.pool.end();
  expect(archive('restore', file)).toMatchObject({ status: 0 });
  const pool = createPool(db.url);
  try {
    expect(await dump(pool)).toBe(before);
    expect(await verifyChains(pool)).toMatchObject({ faults: [] });
  } finally {
    await pool.end();
  }
}, 30_000);

it('leaves all as it was when the archive is torn or no archive at all', async () => {
  const pool = createPool(db.url);
  try {
    const before = await dump(pool);
    const torn = path.join(folder, 'torn.archive');
    writeFileSync(torn, 'this is no archive');
    expect(archive('restore', torn)).toMatchObject({ status: 1, stderr: expect.stringContaining('not a whole archive') });
    truncateSync(file, 4000);
    expect(archive('restore', file).status).toBe(1);
    expect(archive('restore', path.join(folder, 'nowhere')).stderr).toContain('There is no file');
    expect(await dump(pool)).toBe(before);
  } finally {
    await pool.end();
  }
}, 30_000);
