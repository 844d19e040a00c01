/** SQL of the yard: one row a job, as it stands. */
import type { JobSummary } from '@estuarine/contract';
import type { JobMemory } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

export async function listJobs(db: Queryable, shopId: string): Promise<JobSummary[]> {
  const { rows } = await db.query<{ body: JobSummary }>('select body from job_summary where shop_id = $1 order by number desc', [shopId]);
  return rows.map((r) => r.body);
}

export async function saveSummary(db: Queryable, shopId: string, summary: JobSummary, memory: JobMemory): Promise<void> {
  await db.query({
    name: 'save-summary',
    text: `insert into job_summary (shop_id, job_id, number, body, memory) values ($1, $2, $3, $4, $5)
           on conflict (shop_id, job_id) do update set body = excluded.body, memory = excluded.memory`,
    values: [shopId, summary.jobId, summary.number, JSON.stringify(summary), JSON.stringify(memory)],
  });
}

/** What the jobs on a profile left to remember, the latest first. */
export async function listMemories(db: Queryable, shopId: string, profileId: string): Promise<JobMemory[]> {
  const { rows } = await db.query<{ memory: JobMemory }>(
    `select memory from job_summary where shop_id = $1 and body->>'profileId' = $2 order by number desc limit 200`,
    [shopId, profileId],
  );
  return rows.map((r) => r.memory);
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
