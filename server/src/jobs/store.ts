/** SQL of the yard: one row a job, as it stands. */
import type { JobSummary } from '@estuarine/contract';
import type { FigureJob, JobMemory } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';
import type { DueLook, DueWait } from '../gear/routes.ts';
import type { YardRow } from '../log/store.ts';

/** What the row of a job is computed from its log; the names lie in rows of their own that can be erased. */
export type StoredSummary = Omit<JobSummary, 'vehicleName' | 'plate' | 'customerName' | 'comebackOf'> & {
  readonly vehicleId: string;
  readonly customerId: string | null;
  /** Id of the job that it comes back from. */
  readonly comebackOfId: string | null;
};

/** @param jobIds null for all */
export async function listJobs(db: Queryable, shopId: string, jobIds: readonly string[] | null = null): Promise<JobSummary[]> {
  const { rows } = await db.query<{
    body: StoredSummary;
    vehicle: { name: string; plate: string } | null;
    customer: { name: string } | null;
    comeback: number | null;
  }>(
    `select s.body, v.body as vehicle, c.body as customer, b.number as comeback
     from job_summary s
     left join vehicle v on v.shop_id = s.shop_id and v.vehicle_id = s.body->>'vehicleId'
     left join customer c on c.shop_id = s.shop_id and c.customer_id = s.body->>'customerId'
     left join job_summary b on b.shop_id = s.shop_id and b.job_id = s.body->>'comebackOfId'
     where s.shop_id = $1 and ($2::text[] is null or s.job_id = any ($2)) order by s.number desc`,
    [shopId, jobIds],
  );
  return rows.map(({ body: { vehicleId: _, customerId: __, comebackOfId: ___, ...row }, vehicle, customer, comeback }) => ({
    ...row,
    vehicleName: vehicle?.name ?? 'vehicle erased',
    plate: vehicle?.plate ?? '',
    customerName: customer?.name ?? '',
    comebackOf: comeback,
  }));
}

/** Which of these jobs are closed. */
export async function findClosedJobs(db: Queryable, shopId: string, jobIds: readonly string[]): Promise<Set<string>> {
  if (jobIds.length === 0) return new Set();
  const { rows } = await db.query<{ job_id: string }>(
    `select job_id from job_summary where shop_id = $1 and job_id = any($2) and body->>'closed' is not null`,
    [shopId, jobIds],
  );
  return new Set(rows.map((r) => r.job_id));
}

/** Writes the row of a job by itself: a remake does, an act writes it with its events. */
export async function saveYardRow(db: Queryable, shopId: string, jobId: string, row: YardRow): Promise<void> {
  await db.query({
    name: 'save-yard-row',
    text: `insert into job_summary (shop_id, job_id, number, body, memory) values ($1, $2, $3, $4, $5)
           on conflict (shop_id, job_id) do update set body = excluded.body, memory = excluded.memory`,
    values: [shopId, jobId, row.number, row.summary, row.memory],
  });
}

/** Every job as the figures of the shop need it. */
export async function listFigureJobs(db: Queryable, shopId: string): Promise<FigureJob[]> {
  const { rows } = await db.query<FigureJob>(
    `select job_id as "jobId", number, body->>'kind' as kind, body->>'profileId' as "profileId", body->>'profileName' as "profileName",
            body->>'comebackOfId' as "comebackOfId", memory
     from job_summary where shop_id = $1 order by number`,
    [shopId],
  );
  return rows;
}

/** What waits for a day or an hour on open jobs and at the core desk; no name of a vehicle or a person among it. */
export async function listWaits(db: Queryable, shopId: string): Promise<DueWait[]> {
  const { rows } = await db.query<DueWait>(
    `select job_id as "jobId", number, body->>'profileName' as "profileName", body->>'waitEndsAt' as "capacitorsAt",
            body->'rest'->>'judgedFrom' as "restedAt",
            case when (memory->'core'->>'isShipped')::boolean is false and (memory->'core'->>'isSettled')::boolean is false
                 then memory->'core'->>'shipBy' end as "shipBy",
            coalesce(memory->'core'->>'supplier', '') as supplier
     from job_summary
     where shop_id = $1 and (body->>'waitEndsAt' is not null or body->'rest'->>'judgedFrom' is not null or memory->'core'->>'shipBy' is not null)
     order by number`,
    [shopId],
  );
  return rows;
}

/** The air paths that are to be looked at again, and the packs to be opened, by job; no name of a vehicle or a person among it. */
export async function listLooks(db: Queryable, shopId: string): Promise<DueLook[]> {
  const { rows } = await db.query<DueLook>(
    `select job_id as "jobId", number, body->>'profileName' as "profileName", body->>'lookAt' as "lookAt", body->>'stripAt' as "stripAt"
     from job_summary where shop_id = $1 and body->>'lookAt' is not null order by number`,
    [shopId],
  );
  return rows;
}

/** What the jobs on a profile left to remember, the latest first; of the vehicle of `jobId` those with its plate. */
export async function listMemories(
  db: Queryable,
  shopId: string,
  profileId: string,
  jobId: string | null,
): Promise<(JobMemory & { readonly isSameVehicle: boolean })[]> {
  const { rows } = await db.query<{ memory: JobMemory; isSameVehicle: boolean }>(
    `with asking as (
       select nullif(upper(replace(v.body->>'plate', ' ', '')), '') as plate from job_summary s
       join vehicle v on v.shop_id = s.shop_id and v.vehicle_id = s.body->>'vehicleId'
       where s.shop_id = $1 and s.job_id = $3)
     select s.memory, coalesce(upper(replace(v.body->>'plate', ' ', '')) = (select plate from asking), false) as "isSameVehicle"
     from job_summary s left join vehicle v on v.shop_id = s.shop_id and v.vehicle_id = s.body->>'vehicleId'
     where s.shop_id = $1 and s.body->>'profileId' = $2 order by s.number desc limit 200`,
    [shopId, profileId, jobId],
  );
  return rows.map(({ memory, isSameVehicle }) => ({ ...memory, isSameVehicle }));
}

export async function findJobNumber(db: Queryable, shopId: string, jobId: string): Promise<number | null> {
  const { rows } = await db.query<{ number: number }>('select number from job_summary where shop_id = $1 and job_id = $2', [shopId, jobId]);
  return rows[0]?.number ?? null;
}

/** Number that the next job gets when nobody takes it first. */
export async function findNextNumber(db: Queryable, shopId: string): Promise<number> {
  const { rows } = await db.query<{ next: number }>('select coalesce(max(number), 0) + 1 as next from job_summary where shop_id = $1', [
    shopId,
  ]);
  return rows[0]?.next ?? 1;
}
