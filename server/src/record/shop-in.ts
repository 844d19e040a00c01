/** Brings the archive of a whole shop in. */
import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import { SHOP_STREAM } from '@estuarine/contract';
import { FOLD_VERSION } from '@estuarine/core';
import type pg from 'pg';
import { open as openZip, type Entry, type ZipFile } from 'yauzl';
import * as z from 'zod';
import { inTransaction, type Queryable } from '../database/database.ts';
import { verifyChains } from '../log/verify.ts';
import { nameVehiclesOfRecords } from '../seal/records.ts';
import { columnsOf, INDEX, isBytes, isTime, LINES, shopIndexSchema, TABLES, type ShopIndex, type Table } from './whole-shop.ts';

/** Lines of one insert. */
const BATCH = 200;
/** One line is never larger. */
const MOST_LINE = 64 * 1024 * 1024;

/** Why an archive does not come in, as a sentence that names the place. Nothing was written. */
export class NotTaken extends Error {}

/**
 * Brings a whole shop into an empty database. All of it comes in or nothing: sizes, hashes and chains are checked before it is
 * committed. The cross-job tables are left to be made anew.
 */
export async function importShop(pool: pg.Pool, shopId: string, file: string): Promise<void> {
  const { rowCount } = await pool.query('select 1 from log_event limit 1');
  if (rowCount) throw new NotTaken('There is a shop in this database already. Nothing was taken.');
  const zip = await openArchive(file);
  try {
    const entries = await listEntries(zip);
    const index = await readIndex(zip, entries);
    checkNames(entries, index);
    await inTransaction(pool, async (db) => {
      await db.query('delete from shop where shop_id = $1', [shopId]);
      await db.query('insert into shop (shop_id, is_demo, fold_version) values ($1, $2, $3)', [shopId, index.isDemo, FOLD_VERSION]);
      for (const table of TABLES) await takeTable(db, shopId, zip, entries, index, table);
      // positions go on behind the last
      await db.query(`select setval('log_position', greatest(1, coalesce((select max(position) from log_event), 1)))`);
      await nameVehiclesOfRecords(db);
      const { faults } = await verifyChains(db);
      const [fault] = faults;
      if (fault) throw new NotTaken(`tables/log_event.jsonl: ${fault.stream === SHOP_STREAM ? 'the shop' : fault.stream}, event ${fault.number}: ${fault.reason}. Nothing was taken.`); // prettier-ignore
    });
  } finally {
    zip.close();
  }
}

function openArchive(file: string): Promise<ZipFile> {
  return new Promise((resolve, reject) => {
    openZip(file, { lazyEntries: true, autoClose: false, validateEntrySizes: true, strictFileNames: true }, (error, zip) => {
      if (error) reject(new NotTaken(`${file} is no whole zip: ${error.message}. Nothing was taken.`));
      else resolve(zip);
    });
  });
}

function listEntries(zip: ZipFile): Promise<Map<string, Entry>> {
  return new Promise((resolve, reject) => {
    const entries = new Map<string, Entry>();
    zip.on('entry', (entry: Entry) => {
      if (entries.has(entry.fileName)) {
        reject(new NotTaken(`${entry.fileName} is in it twice. Nothing was taken.`));
        return;
      }
      entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.once('end', () => resolve(entries));
    zip.once('error', (error: Error) => reject(new NotTaken(`The zip cannot be read: ${error.message}. Nothing was taken.`)));
    zip.readEntry();
  });
}

function checkNames(entries: ReadonlyMap<string, Entry>, { members }: ShopIndex): void {
  const listed = new Map(members.map((m) => [m.name, m]));
  for (const name of entries.keys()) if (name !== INDEX && !listed.has(name)) throw new NotTaken(`${name} was added to the archive. Nothing was taken.`); // prettier-ignore
  for (const { name, byte } of members) {
    const entry = entries.get(name);
    if (!entry) throw new NotTaken(`${name} is missing from the archive. Nothing was taken.`);
    // before a byte of it is unpacked: nothing grows beyond what was listed
    if (entry.uncompressedSize !== byte) throw new NotTaken(`${name} is ${entry.uncompressedSize} bytes, listed are ${byte}. Nothing was taken.`); // prettier-ignore
  }
}

async function readIndex(zip: ZipFile, entries: ReadonlyMap<string, Entry>): Promise<ShopIndex> {
  const entry = entries.get(INDEX);
  if (!entry) throw new NotTaken(`There is no ${INDEX} in it: this is no archive of a shop. Nothing was taken.`);
  if (entry.uncompressedSize > MOST_LINE) throw new NotTaken(`${INDEX} is too large to be one. Nothing was taken.`);
  const chunks: Buffer[] = [];
  for await (const chunk of await openEntry(zip, entry)) chunks.push(chunk as Buffer);
  let given: unknown;
  try {
    given = JSON.parse(Buffer.concat(chunks).toString('utf8'));
  } catch {
    throw new NotTaken(`${INDEX} is no JSON. Nothing was taken.`);
  }
  const read = shopIndexSchema.safeParse(given);
  if (!read.success) throw new NotTaken(`${INDEX}: ${z.prettifyError(read.error)}. Nothing was taken.`);
  return read.data;
}

function openEntry(zip: ZipFile, entry: Entry): Promise<Readable> {
  return new Promise((resolve, reject) => {
    zip.openReadStream(entry, (error, stream) => {
      if (error) reject(new NotTaken(`${entry.fileName} cannot be unpacked: ${error.message}. Nothing was taken.`));
      else resolve(stream);
    });
  });
}

async function takeTable(
  db: Queryable,
  shopId: string,
  zip: ZipFile,
  entries: ReadonlyMap<string, Entry>,
  { members }: ShopIndex,
  table: Table,
): Promise<void> {
  const name = `tables/${table}.jsonl`;
  const [entry, listed] = [entries.get(name), members.find((m) => m.name === name)];
  if (!entry || !listed) throw new NotTaken(`${name} is missing from the archive. Nothing was taken.`);
  const hash = createHash('sha256');
  let batch: Record<string, unknown>[] = [];
  let number = 0;
  const flush = async (): Promise<void> => {
    const lines = `lines ${number - batch.length + 1} to ${number}`;
    try {
      if (batch.length > 0) await insert(db, shopId, table, batch);
    } catch (error) {
      // what each line may be was checked; how they fit one another only the database knows
      if (!isOfData(error)) throw error;
      throw new NotTaken(`${name}, ${lines}: ${error.detail ?? error.message}. Nothing was taken.`);
    }
    batch = [];
  };
  for await (const line of splitLines(await openEntry(zip, entry), hash, name)) {
    number++;
    batch.push(readLine(table, line, name, number));
    if (batch.length >= (table === 'photo' || table === 'sealed_bytes' ? 4 : BATCH)) await flush();
  }
  await flush();
  if (hash.digest('hex') !== listed.sha256) throw new NotTaken(`${name} was changed. Nothing was taken.`);
}

async function* splitLines(stream: Readable, hash: ReturnType<typeof createHash>, name: string): AsyncGenerator<string> {
  // a line that came in pieces is put together once, however many they are
  let pieces: Buffer[] = [];
  let held = 0;
  const whole = (last: Buffer): string => {
    const line = Buffer.concat([...pieces, last]).toString('utf8');
    [pieces, held] = [[], 0];
    return line;
  };
  try {
    for await (const chunk of stream as AsyncIterable<Buffer>) {
      hash.update(chunk);
      let from = 0;
      for (let end = chunk.indexOf(10); end >= 0; end = chunk.indexOf(10, from)) {
        yield whole(chunk.subarray(from, end));
        from = end + 1;
      }
      if (from < chunk.length) pieces.push(chunk.subarray(from));
      held += chunk.length - from;
      if (held > MOST_LINE) throw new NotTaken(`${name} holds a line that is longer than any row. Nothing was taken.`);
    }
  } catch (error) {
    if (error instanceof NotTaken) throw error;
    throw new NotTaken(`${name} cannot be unpacked: ${error instanceof Error ? error.message : String(error)}. Nothing was taken.`);
  }
  if (held > 0) yield whole(Buffer.alloc(0));
}

function readLine(table: Table, line: string, name: string, number: number): Record<string, unknown> {
  let given: unknown;
  try {
    given = JSON.parse(line);
  } catch {
    throw new NotTaken(`${name}, line ${number}: no JSON. Nothing was taken.`);
  }
  const read = LINES[table].safeParse(given);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new NotTaken(`${name}, line ${number}, ${issue?.path.join('.') ?? ''}: ${issue?.message ?? 'does not fit'}. Nothing was taken.`);
}

async function insert(db: Queryable, shopId: string, table: Table, rows: readonly Record<string, unknown>[]): Promise<void> {
  if (table === 'sealed_bytes') return joinParts(db, shopId, rows);
  const columns = columnsOf(table);
  const values = columns.map((name, i) => valueOf(table, name, i + 2));
  await db.query(
    `insert into ${table} (shop_id, ${columns.join(', ')})
     select $1, ${values.map((v) => v.read).join(', ')} from unnest(${values.map((v) => v.list).join(', ')}) as given(${columns.join(', ')})`,
    [shopId, ...columns.map((name) => rows.map((r) => r[name] ?? null))],
  );
}

/** Whether the database refuses rows for what they say (classes 22 and 23 of its error codes), rather than for a fault of its own. */
function isOfData(error: unknown): error is { readonly message: string; readonly detail?: string } {
  return error instanceof Error && 'code' in error && typeof error.code === 'string' && /^2[23]/.test(error.code);
}

/** In their order: a record is whole when its last part came. */
async function joinParts(db: Queryable, shopId: string, rows: readonly Record<string, unknown>[]): Promise<void> {
  for (const { job_id: jobId, head, bytes } of rows)
    await db.query(
      `update sealed_archive set bytes = coalesce(bytes, '') || decode($4, 'hex') where shop_id = $1 and job_id = $2 and head = $3`,
      [shopId, jobId, head, bytes],
    );
}

/** How a column comes back: as a list of texts or numbers, and what is read from each. */
function valueOf(table: Table, name: string, at: number): { readonly list: string; readonly read: string } {
  const isNumber = ['position', 'number', 'head'].includes(name);
  const list = `$${at}::${isNumber ? 'bigint' : name === 'has_left' ? 'boolean' : 'text'}[]`;
  if (isBytes(name)) return { list, read: `decode(given.${name}, 'hex')` };
  if (isTime(name)) return { list, read: `given.${name}::timestamptz` };
  if (name === 'outcome') return { list, read: 'given.outcome::json' };
  if (name === 'body') return { list, read: 'given.body::jsonb' };
  if (table === 'log_event' && name === 'number') return { list, read: 'given.number::integer' };
  return { list, read: `given.${name}` };
}
