/** SQL of the keys that seal records. */
import type { Queryable } from '../database/database.ts';

export interface KeyRow {
  readonly fingerprint: string;
  readonly publicKey: Buffer;
  /** Encrypted; null where only the public part is known. */
  readonly privateSealed: Buffer | null;
  readonly madeAt: Date;
  readonly retiredAt: Date | null;
  readonly revokedAt: Date | null;
  readonly reason: string | null;
}

const COLUMNS = `fingerprint, public_key as "publicKey", private_sealed as "privateSealed", made_at as "madeAt",
  retired_at as "retiredAt", revoked_at as "revokedAt", reason`;

/** Every key that the shop ever had, the latest first. */
export async function listKeys(db: Queryable, shopId: string): Promise<KeyRow[]> {
  const { rows } = await db.query<KeyRow>(`select ${COLUMNS} from seal_key where shop_id = $1 order by made_at desc, fingerprint`, [
    shopId,
  ]);
  return rows;
}

/** Keeps a key. False where it is known, or where another signs already. */
export async function saveKey(
  db: Queryable,
  shopId: string,
  key: Pick<KeyRow, 'fingerprint' | 'publicKey' | 'privateSealed' | 'madeAt'>,
): Promise<boolean> {
  const { rowCount } = await db.query(
    'insert into seal_key (shop_id, fingerprint, public_key, private_sealed, made_at) values ($1, $2, $3, $4, $5) on conflict do nothing',
    [shopId, key.fingerprint, key.publicKey, key.privateSealed, key.madeAt],
  );
  return rowCount === 1;
}

/** Puts the private part of a known key back. */
export async function restoreKey(db: Queryable, shopId: string, fingerprint: string, privateSealed: Buffer): Promise<boolean> {
  const { rowCount } = await db.query('update seal_key set private_sealed = $3 where shop_id = $1 and fingerprint = $2', [
    shopId,
    fingerprint,
    privateSealed,
  ]);
  return rowCount === 1;
}

/** Ends the signing of a key; what it signed stands. False where it does not sign. */
export async function retireKey(db: Queryable, shopId: string, fingerprint: string, at: Date): Promise<boolean> {
  const { rowCount } = await db.query(
    'update seal_key set retired_at = $3 where shop_id = $1 and fingerprint = $2 and retired_at is null and revoked_at is null',
    [shopId, fingerprint, at],
  );
  return rowCount === 1;
}

/** False where there is no such key, or it was revoked before. */
export async function revokeKey(db: Queryable, shopId: string, fingerprint: string, at: Date, reason: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update seal_key set revoked_at = $3, reason = $4 where shop_id = $1 and fingerprint = $2 and revoked_at is null',
    [shopId, fingerprint, at, reason],
  );
  return rowCount === 1;
}
