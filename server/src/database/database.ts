/** The pool, transactions and migrations. */
import { fileURLToPath } from 'node:url';
import { runner } from 'node-pg-migrate';
import pg from 'pg';

export type Queryable = Pick<pg.Pool, 'query'>;

// every count and position of ours stays below 2^53
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** How long a request waits for a connection before it is told to come back. */
const CONNECT_MILLISECOND = 5000;

export function createPool(connectionString: string, max = 10): pg.Pool {
  const pool = new pg.Pool({ connectionString, max, keepAlive: true, connectionTimeoutMillis: CONNECT_MILLISECOND });
  // a connection that breaks, idle or between two statements, fails the next one; without listeners it would end the process
  pool.on('error', () => undefined);
  pool.on('connect', (client) => void client.on('error', () => undefined));
  return pool;
}

/** Runs the work in one transaction; a throw rolls it back and goes on to the caller. */
export async function inTransaction<T>(pool: pg.Pool, work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken = false;
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch(() => (broken = true));
    throw error;
  } finally {
    client.release(broken);
  }
}

/** Reads as of one moment, whatever is kept meanwhile. */
export async function inSnapshot<T>(pool: pg.Pool, work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  try {
    await client.query('begin transaction isolation level repeatable read read only');
    return await work(client);
  } finally {
    const isBroken = await client.query('rollback').then(
      () => false,
      () => true,
    );
    client.release(isBroken);
  }
}

/** Brings the schema up to date; two processes at once take turns. */
export async function migrate(databaseUrl: string): Promise<void> {
  await runner({
    databaseUrl,
    dir: fileURLToPath(new URL('../../migrations', import.meta.url)),
    direction: 'up',
    migrationsTable: 'schema_migration',
    log: () => undefined,
  });
}

/** Two transactions waited for each other and this one was chosen to give way: it can simply be run again. */
export function isDeadlock(error: unknown): boolean {
  return typeof error === 'object' && error !== null && (error as { code?: unknown }).code === '40P01';
}

export function isUniqueViolation(error: unknown): boolean {
  return typeof error === 'object' && error !== null && (error as { code?: unknown }).code === '23505';
}
