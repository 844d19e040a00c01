/** Makes the cross-job tables anew from the log, in the order of its positions, in one transaction. */
import { SHOP_STREAM } from '@estuarine/contract';
import { startState } from '@estuarine/core';
import type pg from 'pg';
import { inTransaction, type Queryable } from './database/database.ts';
import { projectJobEvents } from './jobs/acts.ts';
import { toJobEvent, type FoldedJob } from './jobs/job-states.ts';
import { References } from './jobs/references.ts';
import type { ChainedEvent } from './log/chain.ts';
import { projectShopEvent } from './shop/acts.ts';

const PAGE = 1000;

/** Gives the number of events replayed. The log itself is only read. */
export async function rebuild(pool: pg.Pool): Promise<number> {
  return inTransaction(pool, async (client) => {
    // nobody appends meanwhile: what comes after waits, and is projected by itself
    await client.query('lock table stream in exclusive mode');
    await client.query(
      'delete from module; delete from job_summary; delete from policy; delete from profile; delete from gear; delete from competence; delete from instrument',
    );
    const { rows } = await client.query<{ shop_id: string }>('select shop_id from shop order by shop_id');
    let count = 0;
    for (const { shop_id: shopId } of rows) count += await rebuildShop(client, shopId);
    return count;
  });
}

async function rebuildShop(db: Queryable, shopId: string): Promise<number> {
  const references = new References(shopId);
  const folded = new Map<string, FoldedJob>();
  let position = 0;
  let count = 0;
  for (;;) {
    const { rows } = await db.query<{ position: number; text: string }>(
      'select position, text from log_event where shop_id = $1 and position > $2 order by position limit $3',
      [shopId, position, PAGE],
    );
    for (const row of rows) {
      position = row.position;
      count++;
      const event = JSON.parse(row.text) as ChainedEvent;
      if (event.stream === SHOP_STREAM) {
        await projectShopEvent(db, shopId, event);
        continue;
      }
      const job = folded.get(event.stream) ?? (await beginJob(db, references, event));
      folded.set(event.stream, job);
      await projectJobEvents({ shopId, references }, db, event.stream, job, [event]);
    }
    if (rows.length < PAGE) return count;
  }
}

async function beginJob(db: Queryable, references: References, chained: ChainedEvent): Promise<FoldedJob> {
  const event = toJobEvent(chained);
  if (event.type !== 'job.opened') throw new Error(`job ${chained.stream} begins with ${event.type}`);
  const profile = await references.profile(db, event.body.profileId, event.body.profileVersion);
  if (!profile) throw new Error(`profile ${event.body.profileId} version ${event.body.profileVersion} is missing from the log`);
  return { state: startState(), profile };
}
