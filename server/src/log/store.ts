/** SQL of the log. */
import type { Refusal } from '@estuarine/core';
import type { KeptAct } from '@estuarine/contract';
import type { Queryable } from '../database/database.ts';
import type { ChainedEvent } from './chain.ts';

export type Outcome = ({ readonly kind: 'kept' } & KeptAct) | Refusal;

export interface CommandRow {
  readonly commandId: string;
  readonly outcome: Outcome;
  readonly bodyHash: Buffer;
  /** It stands as heard in another's name, and that person has said nothing of it; stored with the outcome. */
  readonly isHeard: boolean;
}

/** Which of these acts were seen before, with what became of them. */
export async function findCommands(db: Queryable, shopId: string, commandIds: readonly string[]): Promise<Map<string, CommandRow>> {
  const { rows } = await db.query<{ command_id: string; outcome: Outcome & { readonly isHeard?: true }; body_hash: Buffer }>({
    name: 'find-commands',
    text: 'select command_id, outcome, body_hash from log_command where shop_id = $1 and command_id = any ($2)',
    values: [shopId, commandIds],
  });
  return new Map(
    rows.map(({ command_id: commandId, outcome: { isHeard = false, ...outcome }, body_hash: bodyHash }) => [
      commandId,
      { commandId, outcome, bodyHash, isHeard },
    ]),
  );
}

/** Forgets what was heard or refused under these ids: another act takes them. What was kept stays. */
export async function freeCommands(db: Queryable, shopId: string, commandIds: readonly string[]): Promise<void> {
  if (commandIds.length === 0) return;
  await db.query({
    name: 'free-commands',
    text: `delete from log_command
           where shop_id = $1 and command_id = any ($2) and (outcome ->> 'isHeard' = 'true' or outcome ->> 'kind' = 'refused')`,
    values: [shopId, commandIds],
  });
}

/** What was heard under these ids is so: sent again by its author it is the same act. */
export async function settleHeard(db: Queryable, shopId: string, commandIds: readonly string[]): Promise<void> {
  if (commandIds.length === 0) return;
  await db.query({
    name: 'settle-heard',
    text: `update log_command set outcome = (outcome::jsonb - 'isHeard')::json where shop_id = $1 and command_id = any ($2)`,
    values: [shopId, commandIds],
  });
}

export async function hasCommand(db: Queryable, shopId: string, commandId: string): Promise<boolean> {
  return (await findCommands(db, shopId, [commandId])).has(commandId);
}

export interface StreamHead {
  readonly head: number;
  readonly hash: Buffer;
}

/**
 * Lets one transaction at a time begin streams of a shop, until it ends: they take their numbers one after the other. Taken before any
 * other lock, and by nothing else.
 */
export async function lockBeginnings(db: Queryable, shopId: string): Promise<void> {
  await db.query({ name: 'lock-beginnings', text: 'select pg_advisory_xact_lock(hashtextextended($1, 1))', values: [shopId] });
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

/** A stream that nothing was appended to is as if it had never been named. */
export async function removeStream(db: Queryable, shopId: string, stream: string): Promise<void> {
  await db.query('delete from stream where shop_id = $1 and stream = $2 and head = 0', [shopId, stream]);
}

export interface NewRow {
  readonly number: number;
  readonly type: string;
  readonly commandId: string;
  readonly text: string;
  readonly hash: Buffer;
}

/** The row of a job in the yard; both as JSON text. */
export interface YardRow {
  readonly number: number;
  readonly summary: string;
  readonly memory: string;
}

export interface Appending {
  readonly rows: readonly NewRow[];
  readonly commands: readonly CommandRow[];
  readonly row: YardRow | null;
}

/**
 * Appends rows, moves the head and keeps the outcomes, in one round trip, if the head is still the one given. `moved` and `known`: nothing
 * was written. Fails on a unique violation where an act of the same id is being kept in another stream.
 */
export async function appendActs(
  db: Queryable,
  shopId: string,
  stream: string,
  head: number,
  { rows, commands, row }: Appending,
): Promise<'kept' | 'moved' | 'known'> {
  const { rows: answers } = await db.query<{ said: 'kept' | 'moved' | 'known' }>({
    name: 'append-acts',
    text: `select append_acts($1, $2, $3, $4::int[], $5::text[], $6::text[], $7::text[], $8::bytea[],
                              $9::text[], $10::bytea[], $11::json[], $12, $13::jsonb, $14::jsonb) as said`,
    values: [
      ...[shopId, stream, head],
      rows.map((r) => r.number),
      rows.map((r) => r.type),
      rows.map((r) => r.commandId),
      rows.map((r) => r.text),
      rows.map((r) => r.hash),
      commands.map((c) => c.commandId),
      commands.map((c) => c.bodyHash),
      commands.map((c) => JSON.stringify(c.isHeard ? { ...c.outcome, isHeard: true } : c.outcome)),
      ...[row?.number ?? null, row?.summary ?? null, row?.memory ?? null],
    ],
  });
  return answers[0]?.said ?? 'moved';
}

/** Tells other processes that the shop has something new. It goes by itself after the commit: a notice in a transaction would make all wait in line. */
export async function tellOthers(db: Queryable, shopId: string): Promise<void> {
  await db.query({ name: 'tell-others', text: `select pg_notify('estuarine', $1)`, values: [shopId] });
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

/** An event with its place in the order of the shop, which is the order of commits. */
export interface OrderedEvent {
  readonly position: number;
  readonly event: ChainedEvent;
}

/** Events of all streams behind a position, in order. Nothing comes before them later: positions are taken at the end of a commit. */
export async function readAfter(db: Queryable, shopId: string, after: number, limit: number): Promise<OrderedEvent[]> {
  const { rows } = await db.query<{ position: number; text: string }>({
    name: 'read-after',
    text: 'select position, text from log_event where shop_id = $1 and position > $2 order by position limit $3',
    values: [shopId, after, limit],
  });
  return rows.map((r) => ({ position: r.position, event: JSON.parse(r.text) as ChainedEvent }));
}

/** Events after a position, of one stream, or of these types in any; in order. */
export async function readSince(
  db: Queryable,
  shopId: string,
  after: number,
  { stream, types }: { readonly stream: string; readonly types: readonly string[] },
): Promise<ChainedEvent[]> {
  const { rows } = await db.query<{ text: string }>({
    name: 'read-since',
    text: `select text from (select text, position from log_event where shop_id = $1 and stream = $3 and position > $2
           union all select text, position from log_event where shop_id = $1 and position > $2 and type = any ($4)) since
           order by position`,
    values: [shopId, after, stream, types],
  });
  return rows.map((r) => JSON.parse(r.text) as ChainedEvent);
}

/** The position of the last event; 0 where there is none. */
export async function findTail(db: Queryable, shopId: string): Promise<number> {
  const { rows } = await db.query<{ position: number }>({
    name: 'find-tail',
    text: 'select position from log_event where shop_id = $1 order by position desc limit 1',
    values: [shopId],
  });
  return rows[0]?.position ?? 0;
}

export async function findEpoch(db: Queryable, shopId: string): Promise<string> {
  const { rows } = await db.query<{ epoch: string }>('select epoch::text from shop where shop_id = $1', [shopId]);
  return rows[0]?.epoch ?? '';
}

/** Hash of the chain at an event, in hex; null where there is none. */
export async function findChainHash(db: Queryable, shopId: string, stream: string, number: number): Promise<string | null> {
  const { rows } = await db.query<{ hash: string }>(
    `select encode(hash, 'hex') as hash from log_event where shop_id = $1 and stream = $2 and number = $3`,
    [shopId, stream, number],
  );
  return rows[0]?.hash ?? null;
}

export interface EventLine {
  readonly number: number;
  /** As it was hashed. */
  readonly text: string;
  /** In hex. */
  readonly hash: string;
}

/** Every event of a stream up to a number as it was chained. */
export async function readLines(db: Queryable, shopId: string, stream: string, upTo: number): Promise<EventLine[]> {
  const { rows } = await db.query<EventLine>(
    `select number, text, encode(hash, 'hex') as hash from log_event where shop_id = $1 and stream = $2 and number <= $3 order by number`,
    [shopId, stream, upTo],
  );
  return rows;
}
