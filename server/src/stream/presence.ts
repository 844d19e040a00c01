/** Which devices have a job open, and which of them are cut off: what they did since, nobody else knows. */
import type { CutOff } from '@estuarine/contract';
import type pg from 'pg';
import type { Queryable } from '../database/database.ts';

/** A stream that told nothing for this long is cut off; beats come every three seconds. */
const SILENCE_MILLISECOND = 10_000;
/** A device that was not seen for this long is one that nobody works on any more. */
const FORGOTTEN_MILLISECOND = 12 * 3_600_000;

export interface Presence {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
}

/** The device opened a job. */
export async function enterJob({ pool, shopId, clock }: Presence, deviceId: string, jobId: string, personId: string): Promise<void> {
  await pool.query({
    name: 'enter-job',
    text: `insert into device_job (shop_id, device_id, job_id, person_id, seen_at) values ($1, $2, $3, $4, $5)
           on conflict (shop_id, device_id, job_id) do update set person_id = excluded.person_id, seen_at = excluded.seen_at`,
    values: [shopId, deviceId, jobId, personId, clock()],
  });
}

/** The device left a job: it holds nothing of it that the server does not know. */
export async function leaveJob({ pool, shopId }: Presence, deviceId: string, jobId: string): Promise<void> {
  await pool.query({
    name: 'leave-job',
    text: 'delete from device_job where shop_id = $1 and device_id = $2 and job_id = $3',
    values: [shopId, deviceId, jobId],
  });
}

/** The stream of the device lives. */
export async function noteSeen({ pool, shopId, clock }: Presence, deviceId: string): Promise<void> {
  await pool.query({
    name: 'note-seen',
    text: 'update device_job set seen_at = $3 where shop_id = $1 and device_id = $2',
    values: [shopId, deviceId, clock()],
  });
}

/**
 * Devices that had a job open when they fell silent, the longest silent first. A job that is closed as finished has left the shop: nobody
 * works on it, whatever a device of it holds.
 */
export async function listCutOff(db: Queryable, { shopId, clock }: Omit<Presence, 'pool'>): Promise<CutOff[]> {
  const now = clock().getTime();
  const { rows } = await db.query<{ device_id: string; job_id: string; person_id: string; seen_at: Date }>({
    name: 'list-cut-off',
    text: `select device_id, job_id, person_id, seen_at from device_job d
           where shop_id = $1 and seen_at < $2 and seen_at > $3
             and not exists (select 1 from job_summary s
                             where s.shop_id = d.shop_id and s.job_id = d.job_id and s.body->>'closed' = 'finished')
           order by seen_at`,
    values: [shopId, new Date(now - SILENCE_MILLISECOND), new Date(now - FORGOTTEN_MILLISECOND)],
  });
  return rows.map((r) => ({ deviceId: r.device_id, jobId: r.job_id, by: r.person_id, since: r.seen_at.toISOString() }));
}
