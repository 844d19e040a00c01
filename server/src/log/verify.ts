/** Checks every hash chain of the log against the stored texts. */
import type { Queryable } from '../database/database.ts';
import { chainHash, type ChainedEvent } from './chain.ts';

export interface ChainFault {
  readonly stream: string;
  readonly number: number;
  readonly reason: string;
}

export interface Verification {
  readonly streams: number;
  readonly events: number;
  readonly faults: readonly ChainFault[];
}

const PAGE = 1000;

/**
 * Reads the whole log, stream by stream; one fault a stream at most, since all after it is doubtful.
 * @param db that shows one moment: while acts are kept a stream seems to end elsewhere than its head says
 */
export async function verifyChains(db: Queryable): Promise<Verification> {
  const { rows: streams } = await db.query<{ shop_id: string; stream: string; head: number; hash: Buffer }>(
    'select shop_id, stream, head, hash from stream order by shop_id, stream',
  );
  const faults: ChainFault[] = [];
  let events = 0;
  for (const stream of streams) {
    const checked = await verifyStream(db, stream);
    events += checked.events;
    if (checked.fault) faults.push(checked.fault);
  }
  return { streams: streams.length, events, faults };
}

async function verifyStream(
  db: Queryable,
  row: { shop_id: string; stream: string; head: number; hash: Buffer },
): Promise<{ events: number; fault: ChainFault | null }> {
  const { shop_id: shopId, stream, head } = row;
  let hash: Buffer = Buffer.alloc(0);
  let number = 0;
  for (;;) {
    const { rows } = await db.query<{ number: number; type: string; command_id: string; text: string; hash: Buffer }>(
      'select number, type, command_id, text, hash from log_event where shop_id = $1 and stream = $2 and number > $3 order by number limit $4',
      [shopId, stream, number, PAGE],
    );
    for (const event of rows) {
      const fault = (reason: string): { events: number; fault: ChainFault } => ({
        events: number,
        fault: { stream, number: event.number, reason },
      });
      if (event.number !== number + 1) return fault(`event ${number + 1} is missing`);
      hash = chainHash(hash, event.text);
      if (!hash.equals(event.hash)) return fault('the text does not fit its hash: it was changed, or an earlier one was');
      const told = JSON.parse(event.text) as ChainedEvent;
      if (told.stream !== stream || told.number !== event.number || told.type !== event.type || told.commandId !== event.command_id)
        return fault('the columns beside the text say something else than the text');
      number = event.number;
    }
    if (rows.length < PAGE) break;
  }
  if (number !== head || !hash.equals(row.hash))
    return { events: number, fault: { stream, number, reason: `the chain ends at ${number}, the stream's head says ${head}` } };
  return { events: number, fault: null };
}
