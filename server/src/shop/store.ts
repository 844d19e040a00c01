/** SQL of the shop itself. */
import type { Queryable } from '../database/database.ts';

export interface ShopRow {
  readonly isDemo: boolean;
}

export async function findShop(db: Queryable, shopId: string): Promise<ShopRow | null> {
  const { rows } = await db.query<{ is_demo: boolean }>('select is_demo from shop where shop_id = $1', [shopId]);
  return rows[0] ? { isDemo: rows[0].is_demo } : null;
}

/** A new shop has nothing folded yet: whatever comes is folded by `foldVersion`. */
export async function createShop(db: Queryable, shopId: string, isDemo: boolean, foldVersion: number): Promise<void> {
  await db.query('insert into shop (shop_id, is_demo, fold_version) values ($1, $2, $3) on conflict do nothing', [
    shopId,
    isDemo,
    foldVersion,
  ]);
}

/** Whether any shop's tables were computed by another fold. */
export async function hasOtherFold(db: Queryable, foldVersion: number): Promise<boolean> {
  const { rowCount } = await db.query('select 1 from shop where fold_version <> $1 limit 1', [foldVersion]);
  return (rowCount ?? 0) > 0;
}

export async function setFold(db: Queryable, foldVersion: number): Promise<void> {
  await db.query('update shop set fold_version = $1', [foldVersion]);
}
