/** Writes the archive of a whole shop. */
import { createHash } from 'node:crypto';
import { PassThrough, Readable } from 'node:stream';
import { FOLD_VERSION } from '@estuarine/core';
import type pg from 'pg';
import { ZipFile } from 'yazl';
import { inSnapshot, type Queryable } from '../database/database.ts';
import { toCsv } from '../jobs/export.ts';
import { listJobs } from '../jobs/store.ts';
import { listModules } from '../stock/store.ts';
import {
  columnsOf,
  INDEX,
  isBytes,
  isTime,
  ORDER,
  schemas,
  SHOP_FORMAT,
  TABLES,
  type ShopIndex,
  type ShopMember,
  type Table,
} from './whole-shop.ts';

const PAGE = 500;
/** Bytes of a sealed record in one line. */
const PART = 8 * 1024 * 1024;

/** A column as it is read: bytes in hex, times in UTC, JSON as its text. */
function readColumn(table: Table, name: string): string {
  if (isBytes(name)) return `encode(${name}, 'hex') as ${name}`;
  if (isTime(name)) return `to_char(${name} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as ${name}`;
  if (name === 'outcome' || (name === 'body' && table !== 'log_event')) return `${name}::text as ${name}`;
  return name;
}

/** What is read in place of a table of that name. */
const SOURCES: Partial<Record<Table, string>> = {
  sealed_bytes: `(select shop_id, job_id, head, part, substring(bytes from part * ${PART} + 1 for ${PART}) as bytes
    from sealed_archive, generate_series(0, greatest(length(bytes) - 1, 0) / ${PART}) as part where bytes is not null) as parts`,
};

/** Lines of a table as they stood at one moment, in the order of its key; within the transaction that the caller began. */
async function* readLines(db: Queryable, shopId: string, table: Table): AsyncGenerator<string> {
  const columns = columnsOf(table).map((c) => readColumn(table, c)).join(', '); // prettier-ignore
  // rows with pictures or records in them are large: few at a time
  const page = table === 'photo' || table === 'sealed_bytes' ? 4 : PAGE;
  await db.query(
    `declare lines no scroll cursor for select ${columns} from ${SOURCES[table] ?? table} where shop_id = $1 order by ${ORDER[table]}`,
    [shopId],
  );
  for (;;) {
    const { rows } = await db.query<Record<string, unknown>>(`fetch ${page} from lines`);
    for (const row of rows) yield `${JSON.stringify(row)}\n`;
    if (rows.length < page) break;
  }
  await db.query('close lines');
}

/**
 * Writes the whole shop. The zip is given as a stream while it is made; reading the tables stands in one snapshot, so that nothing that
 * comes meanwhile is half in it.
 */
export function exportShop(pool: pg.Pool, shopId: string, madeAt: Date): Readable {
  const file = new ZipFile();
  const out = new PassThrough();
  const gone = new AbortController();
  const fail = (error: unknown): void => void out.destroy(error instanceof Error ? error : new Error(String(error)));
  // whoever fetches it may go away in the middle: what is read for them ends then
  out.once('close', () => gone.abort());
  file.once('error', fail);
  file.outputStream.pipe(out);
  write(file, pool, { shopId, madeAt, gone: gone.signal }).catch(fail);
  return out;
}

interface Writing {
  readonly shopId: string;
  readonly madeAt: Date;
  readonly gone: AbortSignal;
}

function write(file: ZipFile, pool: pg.Pool, writing: Writing): Promise<void> {
  return inSnapshot(pool, async (client) => {
    const { shopId, madeAt } = writing;
    const { rows } = await client.query<{ is_demo: boolean }>('select is_demo from shop where shop_id = $1', [shopId]);
    const members: ShopMember[] = [];
    const addText = (name: string, text: string): void => {
      const bytes = Buffer.from(text);
      members.push({ name, byte: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') });
      file.addBuffer(bytes, name, { mtime: madeAt });
    };
    addText('READ-ME.txt', README);
    addText('schema.json', JSON.stringify(schemas(), null, 2));
    addText('csv/jobs.csv', await jobsCsv(client, shopId));
    addText('csv/stock.csv', await stockCsv(client, shopId));
    for (const table of TABLES) members.push(await addTable(file, client, table, writing));
    const index: ShopIndex = {
      format: SHOP_FORMAT,
      version: 1,
      madeAt: madeAt.toISOString(),
      fold: FOLD_VERSION,
      isDemo: rows[0]?.is_demo ?? false,
      members,
    };
    file.addBuffer(Buffer.from(JSON.stringify(index, null, 2)), INDEX, { mtime: madeAt });
    file.end();
  });
}

function addTable(file: ZipFile, db: Queryable, table: Table, { shopId, madeAt: mtime, gone }: Writing): Promise<ShopMember> {
  return new Promise((resolve, reject) => {
    const name = `tables/${table}.jsonl`;
    const hash = createHash('sha256');
    let byte = 0;
    async function* counted(): AsyncGenerator<Buffer> {
      for await (const line of readLines(db, shopId, table)) {
        const bytes = Buffer.from(line);
        hash.update(bytes);
        byte += bytes.length;
        yield bytes;
      }
    }
    const lines = Readable.from(counted());
    const stop = (): void => void lines.destroy(new Error('nobody reads it any more'));
    if (gone.aborted) stop();
    else gone.addEventListener('abort', stop, { once: true });
    lines.once('error', reject);
    lines.once('end', () => resolve({ name, byte, sha256: hash.digest('hex') }));
    file.addReadStream(lines, name, { mtime });
  });
}

const README = `The whole shop, as it stood at one moment.

archive.json      lists every other file by name, size and SHA-256
tables/*.jsonl    one row a line; bytes in hex, times in UTC. schema.json says what a row holds
csv/              jobs and stock for any spreadsheet

It comes back with "npm run import -- <this file>". It holds what everybody signs in with, as hashes, and every photograph: keep it like
a key. The key that seals records comes back only where the secret of the shop is the same; else put its own backup back.
`;

async function jobsCsv(db: Queryable, shopId: string): Promise<string> {
  const jobs = (await listJobs(db, shopId)).sort((a, b) => a.number - b.number);
  return toCsv(
    ['number', 'id', 'kind', 'vehicle', 'plate', 'customer', 'pack', 'stage', 'opened', 'closed', 'closed at', 'comes back from'],
    jobs.map((j) => [j.number, j.jobId, j.kind, j.vehicleName, j.plate, j.customerName, j.profileName, j.stage, j.openedAt, j.closed ?? '', j.closedAt ?? '', j.comebackOf]), // prettier-ignore
  );
}

async function stockCsv(db: Queryable, shopId: string): Promise<string> {
  const modules = await listModules(db, shopId);
  return toCsv(
    [
      'module',
      'label',
      'type',
      'capacity / Ah',
      'resistance / mohm',
      'rest drop / mV',
      'open circuit / V',
      'bin',
      'quarantine',
      'in job',
      'place',
    ],
    modules.map((m) => [m.moduleId, m.label, m.typeId, m.capacityAh, m.resistanceMilliohm, m.restDropMillivolt, m.ocvVolt, m.bin, m.quarantine ?? '', m.inJob, m.place]), // prettier-ignore
  );
}
