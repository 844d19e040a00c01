/** SQL of the policies of a shop: every version that ever stood. */
import { policySchema, type Policy } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

export async function findLatestPolicy(db: Queryable, shopId: string): Promise<{ version: number; policy: Policy } | null> {
  const { rows } = await db.query<{ version: number; body: unknown }>(
    'select version, body from policy where shop_id = $1 order by version desc limit 1',
    [shopId],
  );
  return rows[0] ? { version: rows[0].version, policy: policySchema.parse(rows[0].body) } : null;
}

export async function findPolicy(db: Queryable, shopId: string, version: number): Promise<Policy | null> {
  const { rows } = await db.query<{ body: unknown }>('select body from policy where shop_id = $1 and version = $2', [shopId, version]);
  return rows[0] ? policySchema.parse(rows[0].body) : null;
}

export async function savePolicy(db: Queryable, shopId: string, version: number, policy: Policy): Promise<void> {
  await db.query('insert into policy (shop_id, version, body) values ($1, $2, $3)', [shopId, version, JSON.stringify(policy)]);
}
