/**
 * SQL of what is written of vehicles and their owners: rows beside the log that can be erased. The log names a row by its id and the
 * SHA-256 of its salt and its RFC 8785 text, so that what stands here can be proven and, once the salt is gone, cannot be guessed.
 */
import { canonicalText } from '@estuarine/contract';
import { createHash, randomBytes } from 'node:crypto';
import { customerSchema, vehicleSchema, type Customer, type NamedRow, type Vehicle } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

export type Paper = 'vehicle' | 'customer';

/** A row as it is to be kept, and the name by which the log knows it. */
export interface SealedPaper {
  readonly row: NamedRow;
  readonly salt: Buffer;
  readonly body: Vehicle | Customer;
}

export function hashPaper(salt: Buffer, body: unknown): string {
  return createHash('sha256').update(salt).update(canonicalText(body), 'utf8').digest('hex');
}

export function sealPaper(id: string, body: Vehicle | Customer): SealedPaper {
  const salt = randomBytes(16);
  return { row: { id, hash: hashPaper(salt, body) }, salt, body };
}

/** Keeps a row. False where one of that id is there already, erased or not: it stays as it is. */
export async function savePaper(
  db: Queryable,
  shopId: string,
  paper: Paper,
  id: string,
  salt: Buffer | null,
  body: Vehicle | Customer,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into ${paper} (shop_id, ${paper}_id, salt, body) values ($1, $2, $3, $4::jsonb) on conflict do nothing`,
    [shopId, id, salt, JSON.stringify(body)],
  );
  return rowCount === 1;
}

export async function findVehicle(db: Queryable, shopId: string, id: string): Promise<Vehicle | null> {
  const body = await findBody(db, shopId, 'vehicle', id);
  return body === null ? null : vehicleSchema.parse(body);
}

export async function findCustomer(db: Queryable, shopId: string, id: string): Promise<Customer | null> {
  const body = await findBody(db, shopId, 'customer', id);
  return body === null ? null : customerSchema.parse(body);
}

async function findBody(db: Queryable, shopId: string, paper: Paper, id: string): Promise<unknown> {
  const { rows } = await db.query<{ body: unknown }>(`select body from ${paper} where shop_id = $1 and ${paper}_id = $2`, [shopId, id]);
  return rows[0]?.body ?? null;
}

/** Ids of the rows that were erased. */
export async function listErased(db: Queryable, shopId: string, paper: Paper): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(`select ${paper}_id as id from ${paper} where shop_id = $1 and body is null`, [shopId]);
  return rows.map((r) => r.id);
}

/** Whether anything is written in one of these rows. */
export async function isAnyWritten(db: Queryable, shopId: string, paper: Paper, ids: readonly string[]): Promise<boolean> {
  if (ids.length === 0) return false;
  const { rowCount } = await db.query(`select 1 from ${paper} where shop_id = $1 and ${paper}_id = any ($2) and body is not null limit 1`, [
    shopId,
    ids,
  ]);
  return (rowCount ?? 0) > 0;
}

/** Whether a row stands there, erased or not. */
export async function hasPaper(db: Queryable, shopId: string, paper: Paper, id: string): Promise<boolean> {
  const { rowCount } = await db.query(`select 1 from ${paper} where shop_id = $1 and ${paper}_id = $2`, [shopId, id]);
  return (rowCount ?? 0) > 0;
}

/** Takes away what is written, salt and all; the empty row stays. */
export async function erasePaper(db: Queryable, shopId: string, paper: Paper, id: string): Promise<void> {
  await db.query(
    `insert into ${paper} (shop_id, ${paper}_id) values ($1, $2)
     on conflict (shop_id, ${paper}_id) do update set salt = null, body = null`,
    [shopId, id],
  );
}
