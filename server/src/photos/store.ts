/** SQL of photographs: rows that can be erased, beside the log that names them. */
import type { Queryable } from '../database/database.ts';

export interface NewPhoto {
  readonly jobId: string;
  readonly photoId: string;
  /** Of what was sent, as the log has it; not of what is kept. */
  readonly sha256: string;
  readonly picture: Buffer;
  /** For print; null where the picture itself serves. */
  readonly print: Buffer | null;
  readonly small: Buffer;
  readonly by: string;
  readonly at: Date;
}

export type PhotoSize = 'picture' | 'print' | 'small';
const COLUMN: Record<PhotoSize, string> = { picture: 'picture', print: 'coalesce(print, picture)', small: 'small' };

/** Keeps a photograph. Gives false where one of that id is there already. */
export async function savePhoto(db: Queryable, shopId: string, photo: NewPhoto): Promise<boolean> {
  const { jobId, photoId, sha256, picture, print, small, by, at } = photo;
  const { rowCount } = await db.query(
    `insert into photo (shop_id, job_id, photo_id, sha256, picture, print, small, put_by, put_at)
     values ($1, $2, $3, decode($4, 'hex'), $5, $6, $7, $8, $9) on conflict do nothing`,
    [shopId, jobId, photoId, sha256, picture, print, small, by, at],
  );
  return rowCount === 1;
}

export interface KeptPhoto {
  readonly sha256: string;
  readonly isErased: boolean;
}

export async function findPhoto(db: Queryable, shopId: string, jobId: string, photoId: string): Promise<KeptPhoto | null> {
  const { rows } = await db.query<KeptPhoto>(
    `select encode(sha256, 'hex') as "sha256", picture is null as "isErased" from photo where shop_id = $1 and job_id = $2 and photo_id = $3`,
    [shopId, jobId, photoId],
  );
  return rows[0] ?? null;
}

export async function isAnyPhotoErased(db: Queryable, shopId: string, jobId: string, photoIds: readonly string[]): Promise<boolean> {
  if (photoIds.length === 0) return false;
  const { rowCount } = await db.query(
    'select 1 from photo where shop_id = $1 and job_id = $2 and photo_id = any ($3) and picture is null limit 1',
    [shopId, jobId, photoIds],
  );
  return (rowCount ?? 0) > 0;
}

/** The bytes of a photograph; null where there is none or it was erased. */
export async function readPhoto(db: Queryable, shopId: string, jobId: string, photoId: string, size: PhotoSize): Promise<Buffer | null> {
  const { rows } = await db.query<{ bytes: Buffer | null }>(
    `select ${COLUMN[size]} as bytes from photo where shop_id = $1 and job_id = $2 and photo_id = $3`,
    [shopId, jobId, photoId],
  );
  return rows[0]?.bytes ?? null;
}

export async function countPhotos(db: Queryable, shopId: string, jobId: string): Promise<number> {
  const { rows } = await db.query<{ count: number }>('select count(*)::int as count from photo where shop_id = $1 and job_id = $2', [
    shopId,
    jobId,
  ]);
  return rows[0]?.count ?? 0;
}

/** Takes the bytes away, or bars those that never came: the row says that there was one, so that it cannot be put again. */
export async function erasePhoto(db: Queryable, shopId: string, photo: Omit<NewPhoto, 'picture' | 'print' | 'small'>): Promise<void> {
  const { jobId, photoId, sha256, by, at } = photo;
  await db.query(
    `insert into photo (shop_id, job_id, photo_id, sha256, picture, small, put_by, put_at)
     values ($1, $2, $3, decode($4, 'hex'), null, null, $5, $6)
     on conflict (shop_id, job_id, photo_id) do update set picture = null, print = null, small = null`,
    [shopId, jobId, photoId, sha256, by, at],
  );
}
