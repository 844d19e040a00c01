/** SQL of the log. */
import type { Refusal } from '@estuarine/core';
import type { KeptAct } from '@estuarine/contract';
import type { Queryable } from '../database/database.ts';
import type { ChainedEvent } from './chain.ts';

export type Outcome = ({ readonly kind: 'kept' } & KeptAct) | Refusal;

export interface CommandRow {
  readonly outcome: Outcome;
  readonly bodyHash: Buffer;
}

export async function findCommand(db: Queryable, shopId: string, commandId: string): Promise<CommandRow | null> {
  const { rows } = await db.query<{ outcome: Outcome; body_hash: Buffer }>({
    name: 'find-command',
    text: 'select outcome, body_hash from log_command where shop_id = $1 and command_id = $2',
    values: [shopId, commandId],
  });
  const row = rows[0];
  return row ? { outcome: row.outcome, bodyHash: row.body_hash } : null;
}

export async function saveCommand(db: Queryable, shopId: string, commandId: string, bodyHash: Buffer, outcome: Outcome): Promise<void> {
  await db.query({
    name: 'save-command',
    text: 'insert into log_command (shop_id, command_id, body_hash, outcome) values ($1, $2, $3, $4)',
    values: [shopId, commandId, bodyHash, JSON.stringify(outcome)],
  });
}

export interface StreamHead {
  readonly head: number;
  readonly hash: Buffer;
}

/** Locks a stream until the transaction ends; null when there is none. */
export async function lockStream(db: Queryable, shopId: string, stream: string): Promise<StreamHead | null> {
  const { rows } = await db.query<StreamHead>({
    name: 'lock-stream',
    text: 'select head, hash from stream where shop_id = $1 and stream = $2 for update',
    values: [shopId, stream],
  });
  return rows[0] ?? null;
}

export async function createStream(db: Queryable, shopId: string, stream: string): Promise<void> {
  await db.query('insert into stream (shop_id, stream) values ($1, $2) on conflict do nothing', [shopId, stream]);
}

export async function findHead(db: Queryable, shopId: string, stream: string): Promise<number | null> {
  const { rows } = await db.query<{ head: number }>({
    name: 'find-head',
    text: 'select head from stream where shop_id = $1 and stream = $2',
    values: [shopId, stream],
  });
  return rows[0]?.head ?? null;
}

export interface NewRow {
  readonly number: number;
  readonly type: string;
  readonly commandId: string;
  readonly text: string;
  readonly hash: Buffer;
}

/** Appends rows and moves the head; the stream must be locked. */
export async function appendRows(db: Queryable, shopId: string, stream: string, rows: readonly NewRow[]): Promise<void> {
  const last = rows[rows.length - 1];
  if (!last) return;
  await db.query({
    name: 'append-rows',
    text: `insert into log_event (shop_id, stream, number, type, command_id, text, hash)
           select $1, $2, * from unnest($3::int[], $4::text[], $5::text[], $6::text[], $7::bytea[])`,
    values: [
      shopId,
      stream,
      rows.map((r) => r.number),
      rows.map((r) => r.type),
      rows.map((r) => r.commandId),
      rows.map((r) => r.text),
      rows.map((r) => r.hash),
    ],
  });
  await db.query({
    name: 'move-head',
    text: 'update stream set head = $3, hash = $4 where shop_id = $1 and stream = $2',
    values: [shopId, stream, last.number, last.hash],
  });
}

export async function announce(db: Queryable, shopId: string, stream: string, number: number): Promise<void> {
  await db.query({ name: 'announce', text: `select pg_notify('estuarine', $1)`, values: [`${shopId}:${stream}:${number}`] });
}

/** Events of one stream after a number, in order. */
export async function readEvents(db: Queryable, shopId: string, stream: string, after: number, limit: number): Promise<ChainedEvent[]> {
  const { rows } = await db.query<{ text: string }>({
    name: 'read-events',
    text: 'select text from log_event where shop_id = $1 and stream = $2 and number > $3 order by number limit $4',
    values: [shopId, stream, after, limit],
  });
  return rows.map((r) => JSON.parse(r.text) as ChainedEvent);
}

/** Place in the order of commits, as text; a cursor of another epoch means nothing here. */
export interface Cursor {
  readonly xid: string;
  readonly position: number;
}

export interface OrderedEvent {
  readonly cursor: Cursor;
  readonly event: ChainedEvent;
}

/** Rows after a cursor whose transactions, and all earlier ones, have ended: nothing can come before them any more. */
export async function readAfter(db: Queryable, shopId: string, after: Cursor, limit: number): Promise<OrderedEvent[]> {
  const { rows } = await db.query<{ commit: string; position: number; text: string }>({
    name: 'read-after',
    text: `select xid::text as commit, position, text from log_event
           where shop_id = $1 and (xid, position) > ($2::xid8, $3) and xid < pg_snapshot_xmin(pg_current_snapshot())
           order by xid, position limit $4`,
    values: [shopId, after.xid, after.position, limit],
  });
  return rows.map((r) => ({ cursor: { xid: r.commit, position: r.position }, event: JSON.parse(r.text) as ChainedEvent }));
}

/** The cursor behind everything that is certain now. */
export async function findTail(db: Queryable, shopId: string): Promise<Cursor> {
  const { rows } = await db.query<{ commit: string; position: number }>(
    `select xid::text as commit, position from log_event
     where shop_id = $1 and xid < pg_snapshot_xmin(pg_current_snapshot()) order by log_event.xid desc, position desc limit 1`,
    [shopId],
  );
  const last = rows[0];
  return last ? { xid: last.commit, position: last.position } : { xid: '0', position: 0 };
}

export async function findEpoch(db: Queryable, shopId: string): Promise<string> {
  const { rows } = await db.query<{ epoch: string }>('select epoch::text from shop where shop_id = $1', [shopId]);
  return rows[0]?.epoch ?? '';
}
