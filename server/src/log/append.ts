/**
 * Keeping acts of one stream: decide, append with the next numbers, chain, update the cross-job tables, commit, announce. A command id is
 * one act for ever: sent again with the same content it gets the same answer, with another it is refused. Only what was heard in another's
 * name takes no id from them, and what was refused from nobody: an act of another content is decided for itself.
 *
 * Acts that touch only their own stream are decided on what this process knows and kept in one round trip if nobody was quicker; else the
 * stream is locked first.
 */
import { canonicalText } from '@estuarine/contract';
import { refuse, type DeviceWord, type Result } from '@estuarine/core';
import type pg from 'pg';
import { createHash } from 'node:crypto';
import { inTransaction, isDeadlock, isUniqueViolation, type Queryable } from '../database/database.ts';
import { HttpProblem } from '../problem.ts';
import { chainHash, type ChainedEvent } from './chain.ts';
import {
  appendActs,
  createStream,
  findCommands,
  freeCommands,
  lockBeginnings,
  lockStream,
  removeStream,
  settleHeard,
  type CommandRow,
  type NewRow,
  type Outcome,
  type YardRow,
} from './store.ts';

/** One act as it came. */
export interface AskedAct {
  readonly commandId: string;
  /** In whose name it came. */
  readonly by: string;
  /** Who answers for it: the same, or whoever passes it on without proof. */
  readonly keptBy: string;
  /** Who sent it for its author; null where the author did. */
  readonly forwardedBy: string | null;
  readonly deviceAt: string;
  readonly device?: DeviceWord | undefined;
  /**
   * What identifies the act beside stream and author, as its device stored it. Where an earlier release hashed another form of the
   * same act, that follows: an act that was kept by it is known again by either.
   */
  readonly given: readonly [Readonly<Record<string, unknown>>, ...Readonly<Record<string, unknown>>[]];
}

export interface AppendRequest {
  readonly shopId: string;
  readonly stream: string;
  readonly acts: readonly AskedAct[];
  readonly clock: () => Date;
  /** Whether the stream may begin with these acts. */
  readonly opens: boolean;
}

export interface StreamPlace {
  readonly head: number;
  readonly hash: Buffer;
}

export interface Appender {
  /** Where the stream stands by what this process knows; null to lock it first, because the acts touch more than it. */
  readonly known: () => StreamPlace | null;
  /** What becomes of an act, the acts before it being applied; `head` is the number of the last event. */
  readonly decide: (db: Queryable, index: number, head: number) => Promise<Result<readonly DecidedEvent[]>>;
  /** The version in which an act of this type is kept. */
  readonly versionOf: (act: { readonly type: string }) => number;
  /** Applies the events of one act, in memory and to the tables that other streams share. */
  readonly project: (db: Queryable, events: readonly ChainedEvent[]) => Promise<void>;
  /** The row of the yard after all of them; null for a stream that has none. */
  readonly row: (db: Queryable) => Promise<YardRow | null>;
  /** What was applied in memory was not kept: it counts no longer. */
  readonly drop: () => void;
}

/** What an act becomes; one that was passed on before keeps its own id and time. */
export interface DecidedEvent {
  readonly type: string;
  readonly body: unknown;
  readonly asSaid?: { readonly commandId: string; readonly deviceAt: string; readonly device: DeviceWord };
}

/** What became of one act; a problem is an id that was used before for something else. */
export type ActOutcome = Outcome | HttpProblem;

export interface Appended {
  /** One for each act, in order. */
  readonly outcomes: readonly ActOutcome[];
  /** Where the stream stands now; null where nothing was appended. */
  readonly place: StreamPlace | null;
}

const MAXIMUM_TRIES = 5;

/** Keeps acts in order, all in one transaction, each with its outcome. */
export async function keepActs(pool: pg.Pool, request: AppendRequest, appender: Appender): Promise<Appended> {
  const hashes = request.acts.map(({ by, given }) => given.map((form) => hashOf({ stream: request.stream, by, ...form })));
  const known = appender.known();
  if (known) {
    try {
      const made = await decideAll(pool, request, hashes, appender, known, new Map());
      if ((await appendActs(pool, request.shopId, request.stream, known.head, made)) === 'kept') return appendedOf(made, known);
      appender.drop();
    } catch (error) {
      appender.drop();
      if (!isUniqueViolation(error)) throw error;
    }
  }
  for (let tries = 1; ; tries++) {
    try {
      return await inTransaction(pool, (client) => keepLocked(client, request, hashes, appender));
    } catch (error) {
      appender.drop();
      // another act took the same job number or version at the same moment: decide again on what stands now
      if ((!isUniqueViolation(error) && !isDeadlock(error)) || tries === MAXIMUM_TRIES) throw error;
    }
  }
}

async function keepLocked(
  client: pg.PoolClient,
  request: AppendRequest,
  hashes: readonly (readonly Buffer[])[],
  appender: Appender,
): Promise<Appended> {
  const { shopId, stream, acts, opens } = request;
  if (opens) {
    await lockBeginnings(client, shopId);
    await createStream(client, shopId, stream);
  }
  const locked = await lockStream(client, shopId, stream);
  if (!locked) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
  const before = await findCommands(
    client,
    shopId,
    acts.map((a) => a.commandId),
  );
  const made = await decideAll(client, request, hashes, appender, locked, before);
  await freeCommands(client, shopId, made.freed);
  if (made.commands.length > 0 && (await appendActs(client, shopId, stream, locked.head, made)) !== 'kept')
    throw new Error(`the stream ${stream} moved while it was locked`);
  await settleHeard(client, shopId, made.answered);
  // refused where it would have begun: there is no such stream
  if (locked.head === 0 && made.rows.length === 0) await removeStream(client, shopId, stream);
  return appendedOf(made, locked);
}

interface Made {
  readonly outcomes: ActOutcome[];
  readonly rows: NewRow[];
  commands: CommandRow[];
  /** Ids under which nothing stood but what was heard or refused, and that are said anew. */
  readonly freed: string[];
  /** Ids that were heard, and are so by their author's answer. */
  readonly answered: string[];
  row: YardRow | null;
}

function appendedOf({ outcomes, rows }: Made, before: StreamPlace): Appended {
  const last = rows.at(-1);
  return { outcomes, place: last ? { head: last.number, hash: last.hash } : before };
}

async function decideAll(
  db: Queryable,
  request: AppendRequest,
  hashes: readonly (readonly Buffer[])[],
  appender: Appender,
  from: StreamPlace,
  before: ReadonlyMap<string, CommandRow>,
): Promise<Made> {
  const { stream, acts, clock } = request;
  const made: Made = { outcomes: [], rows: [], commands: [], freed: [], answered: [], row: null };
  const seen = new Map(before);
  let { head, hash } = from;
  for (const [index, act] of acts.entries()) {
    const { commandId } = act;
    const isHeard = act.keptBy !== act.by;
    const forms = hashes[index] ?? [];
    const earlier = seen.get(commandId);
    if (earlier && isFree(earlier, forms, isHeard)) {
      made.freed.push(commandId);
      made.commands = made.commands.filter((c) => c.commandId !== commandId);
    } else if (earlier) {
      made.outcomes.push(sameOutcome(earlier, forms));
      continue;
    }
    const decided = await appender.decide(db, index, head);
    const at = clock().toISOString();
    let outcome: Outcome;
    if (decided.kind === 'refused') outcome = decided;
    else {
      const events: ChainedEvent[] = [];
      const first = head + 1;
      for (const one of decided.value) {
        const event = eventOf(stream, ++head, at, act, one, appender.versionOf(one));
        const text = canonicalText(event);
        hash = chainHash(hash, text);
        events.push(event);
        if (event.commandId !== commandId) made.answered.push(event.commandId);
        made.rows.push({ number: head, type: one.type, commandId: event.commandId, text, hash });
      }
      await appender.project(db, events);
      outcome = { kind: 'kept', stream, first, last: head, at };
    }
    const command = { commandId, outcome, bodyHash: forms[0] ?? Buffer.alloc(0), isHeard: isHeard && outcome.kind === 'kept' };
    seen.set(commandId, command);
    made.commands.push(command);
    made.outcomes.push(outcome);
  }
  if (made.rows.length > 0) made.row = await appender.row(db);
  return made;
}

function eventOf(stream: string, number: number, at: string, act: AskedAct, what: DecidedEvent, version: number): ChainedEvent {
  const { keptBy: by, forwardedBy } = act;
  const { commandId, deviceAt, device } = what.asSaid ?? act;
  return {
    ...{ stream, number, type: what.type, version, at, deviceAt, by, commandId, body: what.body },
    ...(device ? { device } : {}),
    ...(forwardedBy === null ? {} : { forwardedBy }),
  };
}

function hashOf(what: Readonly<Record<string, unknown>>): Buffer {
  return createHash('sha256').update(canonicalText(what)).digest();
}

/** Whether nothing stands under an id that this act could not take: what was heard is its author's to say, what was refused is not kept. */
function isFree({ isHeard: wasHeard, outcome, bodyHash }: CommandRow, hashes: readonly Buffer[], isHeard: boolean): boolean {
  if (wasHeard) return !isHeard;
  return outcome.kind === 'refused' && !hashes.some((hash) => bodyHash.equals(hash));
}

function sameOutcome(before: CommandRow, hashes: readonly Buffer[]): ActOutcome {
  if (hashes.some((hash) => before.bodyHash.equals(hash))) return before.outcome;
  return new HttpProblem(
    409,
    'otherBody',
    'An act with this id was sent before with other content. That one stands; this one was not kept.',
    ['commandId'],
  );
}

/** The outcome of an act that was asked for alone. Throws {@link HttpProblem} 409 for an id with other content. */
export function onlyOutcome({ outcomes: [only] }: Appended): Outcome {
  if (only instanceof HttpProblem) throw only;
  return only ?? refuse('gone', 'Nothing was asked.');
}
