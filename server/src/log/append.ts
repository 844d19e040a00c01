/**
 * Keeping an act: lock its stream, decide, append with the next numbers, chain, update the cross-job tables, announce, commit.
 * A command id is one act for ever: sent again with the same content it gets the same answer, with another it is refused.
 */
import { refuse, type DeviceWord, type Refusal, type Result } from '@estuarine/core';
import type pg from 'pg';
import { createHash } from 'node:crypto';
import { inTransaction, isDeadlock, isUniqueViolation } from '../database/database.ts';
import { HttpProblem } from '../problem.ts';
import { canonicalText, chainHash, type ChainedEvent } from './chain.ts';
import { announce, appendRows, createStream, findCommand, lockStream, saveCommand, type NewRow, type Outcome } from './store.ts';

export interface AppendRequest {
  readonly shopId: string;
  readonly stream: string;
  readonly commandId: string;
  readonly by: string;
  readonly deviceAt: string;
  readonly device?: DeviceWord | undefined;
  /**
   * What identifies the act beside stream and author, as its device stored it. Where an earlier release hashed another form of the
   * same act, that follows: an act that was kept by it is known again by either.
   */
  readonly given: readonly [Readonly<Record<string, unknown>>, ...Readonly<Record<string, unknown>>[]];
  readonly clock: () => Date;
  /** Whether the stream may begin with this act. */
  readonly opens: boolean;
}

export interface Appender {
  /** What becomes of the act, given the number of the last event; runs with the stream locked. */
  readonly decide: (client: pg.PoolClient, head: number) => Promise<Result<readonly { type: string; body: unknown }[]>>;
  /** The version in which an act of this type is kept. */
  readonly versionOf: (act: { readonly type: string }) => number;
  /** Updates the cross-job tables in the same transaction. */
  readonly project: (client: pg.PoolClient, events: readonly ChainedEvent[]) => Promise<void>;
}

const MAXIMUM_TRIES = 5;

class Refused extends Error {
  readonly refusal: Refusal;
  constructor(refusal: Refusal) {
    super(refusal.message);
    this.refusal = refusal;
  }
}

/** Keeps one act, or answers as before when it was seen before. Throws {@link HttpProblem} 409 for an id with other content. */
export async function keepAct(pool: pg.Pool, request: AppendRequest, appender: Appender): Promise<Outcome> {
  const { shopId, commandId, stream, by, given } = request;
  const hashes = given.map((form) =>
    createHash('sha256')
      .update(canonicalText({ stream, by, ...form }))
      .digest(),
  );
  const bodyHash = hashes[0] as Buffer;
  const before = await findCommand(pool, shopId, commandId);
  if (before) return sameOutcome(before, hashes);
  for (let tries = 1; ; tries++) {
    try {
      return await inTransaction(pool, (client) => appendDecided(client, request, bodyHash, appender));
    } catch (error) {
      if (error instanceof Refused) return keepRefusal(pool, request, bodyHash, error.refusal);
      if (!isUniqueViolation(error) && !isDeadlock(error)) throw error;
      const meanwhile = await findCommand(pool, shopId, commandId);
      if (meanwhile) return sameOutcome(meanwhile, hashes);
      // another act took the same job number or version at the same moment: decide again on what stands now
      if (tries === MAXIMUM_TRIES) throw error;
    }
  }
}

async function appendDecided(client: pg.PoolClient, request: AppendRequest, bodyHash: Buffer, appender: Appender): Promise<Outcome> {
  const { shopId, stream, commandId, by, deviceAt, device } = request;
  if (request.opens) await createStream(client, shopId, stream);
  const locked = await lockStream(client, shopId, stream);
  if (!locked) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
  const decided = await appender.decide(client, locked.head);
  if (decided.kind === 'refused') throw new Refused(decided);
  const at = request.clock().toISOString();
  let { head, hash } = locked;
  const events: ChainedEvent[] = [];
  const rows: NewRow[] = [];
  for (const act of decided.value) {
    const { type, body } = act;
    const event = {
      stream,
      number: ++head,
      type,
      version: appender.versionOf(act),
      at,
      deviceAt,
      ...(device ? { device } : {}),
      by,
      commandId,
      body,
    };
    const text = canonicalText(event);
    hash = chainHash(hash, text);
    events.push(event);
    rows.push({ number: head, type, commandId, text, hash });
  }
  await appender.project(client, events);
  await appendRows(client, shopId, stream, rows);
  const outcome: Outcome = { kind: 'kept', stream, first: locked.head + 1, last: head, at };
  await saveCommand(client, shopId, commandId, bodyHash, outcome);
  await announce(client, shopId, stream, head);
  return outcome;
}

async function keepRefusal(pool: pg.Pool, request: AppendRequest, bodyHash: Buffer, refusal: Refusal): Promise<Outcome> {
  try {
    await saveCommand(pool, request.shopId, request.commandId, bodyHash, refusal);
    return refusal;
  } catch (error) {
    if (!isUniqueViolation(error)) throw error;
    const before = await findCommand(pool, request.shopId, request.commandId);
    return before ? sameOutcome(before, [bodyHash]) : refuse('gone', 'The act was lost while it was kept.');
  }
}

function sameOutcome(before: { readonly outcome: Outcome; readonly bodyHash: Buffer }, hashes: readonly Buffer[]): Outcome {
  if (hashes.some((hash) => before.bodyHash.equals(hash))) return before.outcome;
  throw new HttpProblem(
    409,
    'otherBody',
    'An act with this id was sent before with other content. That one stands; this one was not kept.',
    ['commandId'],
  );
}
