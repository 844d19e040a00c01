/** SQL of the gear: one row a piece, as it stands. */
import type { GearRow } from '@estuarine/contract';
import { gearSchema, type Gear } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

export async function listGear(db: Queryable, shopId: string): Promise<GearRow[]> {
  const { rows } = await db.query<{ body: unknown; retired: string | null }>(
    'select body, retired from gear where shop_id = $1 order by gear_id collate "C"',
    [shopId],
  );
  return rows.map((r) => ({ gear: gearSchema.parse(r.body), retired: r.retired }));
}

export async function findGear(db: Queryable, shopId: string, gearId: string): Promise<GearRow | null> {
  const { rows } = await db.query<{ body: unknown; retired: string | null }>(
    'select body, retired from gear where shop_id = $1 and gear_id = $2',
    [shopId, gearId],
  );
  return rows[0] ? { gear: gearSchema.parse(rows[0].body), retired: rows[0].retired } : null;
}

/** Adds a piece or renews what is known of it; a piece taken out of use comes back. */
export async function saveGear(db: Queryable, shopId: string, gear: Gear): Promise<void> {
  await db.query(
    `insert into gear (shop_id, gear_id, body) values ($1, $2, $3::jsonb)
     on conflict (shop_id, gear_id) do update set body = excluded.body, retired = null`,
    [shopId, gear.gearId, JSON.stringify(gear)],
  );
}

export async function retireGear(db: Queryable, shopId: string, gearId: string, reason: string): Promise<void> {
  await db.query('update gear set retired = $3 where shop_id = $1 and gear_id = $2', [shopId, gearId, reason]);
}
