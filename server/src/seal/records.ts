/** SQL of sealed records, as they were handed out. */
import type { RecordRow } from '@estuarine/contract';
import type { Queryable } from '../database/database.ts';

export interface NewRecord {
  readonly jobId: string;
  readonly head: number;
  readonly sealedAt: string;
  readonly sealedBy: string;
  readonly fingerprint: string;
  readonly manifestSha256: string;
  readonly bytes: Buffer;
  /** Of the vehicle that it names; null where it names none. */
  readonly vehicleId: string | null;
  /** Of the photographs in it. */
  readonly photoIds: readonly string[];
}

const COLUMNS = `job_id as "jobId", head, to_char(sealed_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "sealedAt", sealed_by as "sealedBy",
  fingerprint, manifest_sha256 as "manifestSha256", length(bytes) as byte`;

/**
 * Keeps a record; one of the same head is there already and stays, unless its bytes were erased: this one takes its place. Where what it
 * names was erased meanwhile its bytes are not kept.
 */
export async function saveRecord(db: Queryable, shopId: string, record: NewRecord): Promise<void> {
  await db.query(
    `with
       named as (select body from vehicle where shop_id = $1 and vehicle_id = $9 for share),
       shown as (select picture is null as is_erased from photo where shop_id = $1 and job_id = $2 and photo_id = any ($10) for share)
     insert into sealed_archive (shop_id, job_id, head, sealed_at, sealed_by, fingerprint, manifest_sha256, vehicle_id, bytes)
     select $1, $2, $3, $4, $5, $6, $7, coalesce($9::text, ''), case
       when ($9::text is null or exists (select from named where body is not null)) and not exists (select from shown where is_erased)
       then $8::bytea end
     on conflict (shop_id, job_id, head) do update set
       (sealed_at, sealed_by, fingerprint, manifest_sha256, vehicle_id, bytes) =
       (excluded.sealed_at, excluded.sealed_by, excluded.fingerprint, excluded.manifest_sha256, excluded.vehicle_id, excluded.bytes)
     where sealed_archive.bytes is null`,
    [
      ...[shopId, record.jobId, record.head, record.sealedAt, record.sealedBy, record.fingerprint, record.manifestSha256],
      ...[record.bytes, record.vehicleId, record.photoIds],
    ],
  );
}

/** Takes away the bytes of every record that names a vehicle; that there were records stays. */
export async function eraseRecordsOf(db: Queryable, shopId: string, vehicleId: string): Promise<void> {
  await db.query('update sealed_archive set bytes = null where shop_id = $1 and vehicle_id = $2', [shopId, vehicleId]);
}

/** Takes away the bytes of the records of a job that were sealed before an event of it. */
export async function eraseRecordsBefore(db: Queryable, shopId: string, jobId: string, number: number): Promise<void> {
  await db.query('update sealed_archive set bytes = null where shop_id = $1 and job_id = $2 and head < $3', [shopId, jobId, number]);
}

/** Looks up which vehicles records name that came without it. */
export async function nameVehiclesOfRecords(db: Queryable): Promise<void> {
  await db.query('select name_vehicles_of_records()');
}

/** Records of a job, the latest first. */
export async function listRecords(db: Queryable, shopId: string, jobId: string): Promise<RecordRow[]> {
  const { rows } = await db.query<RecordRow>(
    `select ${COLUMNS} from sealed_archive where shop_id = $1 and job_id = $2 order by head desc`,
    [shopId, jobId],
  );
  return rows;
}

export async function readRecord(db: Queryable, shopId: string, jobId: string, head: number): Promise<Buffer | null> {
  const { rows } = await db.query<{ bytes: Buffer | null }>(
    'select bytes from sealed_archive where shop_id = $1 and job_id = $2 and head = $3',
    [shopId, jobId, head],
  );
  return rows[0]?.bytes ?? null;
}
