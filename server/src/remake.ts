/** Makes the cross-job tables anew from the log, in the order of its positions, in one pass and one transaction. */
import { SHOP_STREAM } from '@estuarine/contract';
import { FOLD_VERSION, vehicleSchema } from '@estuarine/core';
import type pg from 'pg';
import { savePaper } from './customers/store.ts';
import { inTransaction, type Queryable } from './database/database.ts';
import { yardRowOf } from './jobs/summary.ts';
import { NO_PAPERS, projectJobEvent } from './jobs/writes.ts';
import { saveYardRow } from './jobs/store.ts';
import { beginJob, type FoldedJob } from './jobs/job-states.ts';
import type { ChainedEvent } from './log/chain.ts';
import { References } from './profiles/references.ts';
import { projectShopEvent } from './shop/acts.ts';
import { hasOtherFold, setFold } from './shop/store.ts';

const PAGE = 1000;
const TABLES = ['module', 'job_summary', 'policy', 'profile', 'gear', 'competence', 'instrument', 'supplier_terms'] as const;

/** Gives the number of events replayed. The log itself is only read. */
export async function remake(pool: pg.Pool): Promise<number> {
  return inTransaction(pool, async (client) => {
    // nobody appends meanwhile: what comes after waits, and is projected by itself
    await client.query('lock table stream in exclusive mode');
    for (const table of TABLES) await client.query(`delete from ${table}`);
    const { rows } = await client.query<{ shop_id: string }>('select shop_id from shop order by shop_id');
    let count = 0;
    for (const { shop_id: shopId } of rows) count += await remakeShop(client, shopId);
    await setFold(client, FOLD_VERSION);
    return count;
  });
}

/** Makes the tables anew where another release computed them by another fold. Gives the number of events replayed; 0 for none. */
export async function remakeWhereOtherFold(pool: pg.Pool): Promise<number> {
  return (await hasOtherFold(pool, FOLD_VERSION)) ? remake(pool) : 0;
}

async function remakeShop(db: Queryable, shopId: string): Promise<number> {
  const references = new References(shopId);
  const folded = new Map<string, FoldedJob>();
  let position = 0;
  let count = 0;
  for (;;) {
    const { rows } = await db.query<{ position: number; text: string }>({
      name: 'remake-page',
      text: 'select position, text from log_event where shop_id = $1 and position > $2 order by position limit $3',
      values: [shopId, position, PAGE],
    });
    for (const row of rows) {
      position = row.position;
      count++;
      await replay(db, shopId, references, folded, JSON.parse(row.text) as ChainedEvent);
    }
    if (rows.length < PAGE) break;
  }
  for (const [jobId, job] of folded) await saveYardRow(db, shopId, jobId, await yardRowOf({ references }, db, jobId, job));
  return count;
}

async function replay(
  db: Queryable,
  shopId: string,
  references: References,
  folded: Map<string, FoldedJob>,
  event: ChainedEvent,
): Promise<void> {
  const { stream } = event;
  if (stream === SHOP_STREAM) return projectShopEvent(db, shopId, event);
  const job = folded.get(stream) ?? (await beginJob(db, references, event));
  if (!folded.has(stream)) {
    folded.set(stream, job);
    await keepOldVehicle(db, shopId, event);
  }
  await projectJobEvent(db, { shopId, jobId: stream, job, papers: NO_PAPERS }, event);
}

/** Version 1 of an opening has the vehicle in its own text: its row is made from that, unless it was erased. */
async function keepOldVehicle(db: Queryable, shopId: string, { stream, version, body }: ChainedEvent): Promise<void> {
  if (version > 1) return;
  const vehicle = vehicleSchema.parse((body as { readonly vehicle: unknown }).vehicle);
  await savePaper(db, shopId, 'vehicle', stream, null, vehicle);
}
