/** The shop-wide stream of events: resumes behind the last one that the browser holds, then follows. */
import { enteringSchema, SHOP_STREAM, type StreamedEvent } from '@estuarine/contract';
import { FOLD_VERSION, idSchema } from '@estuarine/core';
import type { FastifyRequest } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type pg from 'pg';
import { toWireEvent } from '../jobs/job-states.ts';
import { findEpoch, readAfter, type OrderedEvent } from '../log/store.ts';
import type { Tail } from '../log/tail.ts';
import { enterJob, leaveJob, noteSeen } from './presence.ts';
import { PulseReader } from './pulse.ts';
import * as z from 'zod';

export interface StreamRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly tail: Tail;
  readonly clock: () => Date;
  /** Whether the session that asked for the stream still is. */
  readonly isStillIn: (request: FastifyRequest) => Promise<boolean>;
}

/** A browser further behind than this is told to fetch afresh. */
const CATCH_UP_LIMIT = 1000;
const BEAT_MILLISECOND = 3000;
/** Streams of one session, a tab each. */
const MOST_STREAMS = 20;
/** Bytes that wait for a browser that does not read them. */
const MOST_UNREAD = 1024 * 1024;

export const streamRoutes: FastifyPluginCallbackZod<StreamRoutes> = (app, { pool, shopId, tail, clock, isStillIn }, done) => {
  const presence = { pool, shopId, clock };
  const pulse = new PulseReader(presence);
  /** What ends the streams of each session, the oldest first. */
  const streams = new Map<string, Set<() => void>>();
  // closing waits for open requests: streams are ended by us before it waits
  app.addHook('preClose', (closed) => {
    for (const end of [...streams.values()].flatMap((own) => [...own])) end();
    closed();
  });

  app.post(
    '/api/devices/:deviceId',
    { config: { isForLocked: true }, schema: { tags: ['stream'], params: z.object({ deviceId: idSchema }), body: enteringSchema } },
    async (request) => {
      const { deviceId } = request.params;
      const { jobId, isOpen } = request.body;
      if (isOpen) await enterJob(presence, deviceId, jobId, request.who?.personId ?? '');
      else await leaveJob(presence, deviceId, jobId);
      return {};
    },
  );

  app.get('/api/stream', { schema: { hide: true } }, async (request, reply) => {
    const { raw } = reply;
    // gone while it was asked who that is: nothing would tell of it any more
    if (raw.destroyed || request.raw.socket.destroyed) return reply.hijack();
    const session = request.who?.sessionId ?? '';
    const own = streams.get(session) ?? new Set();
    streams.set(session, own);
    const undo: (() => void)[] = [];
    let hasEnded = false;
    const isOver = (): boolean => hasEnded;
    const end = (): void => {
      if (hasEnded) return;
      hasEnded = true;
      own.delete(end);
      if (own.size === 0 && streams.get(session) === own) streams.delete(session);
      for (const step of undo) step();
      raw.end();
    };
    // heard from the beginning: one whose socket dies while the database is asked would be taken for one that listens
    raw.on('close', end);
    // the oldest goes, not the newest: a device whose network comes and goes leaves streams behind that nothing has told the end of
    const [oldest] = own;
    if (own.size >= MOST_STREAMS) oldest?.();
    own.add(end);
    const epoch = await findEpoch(pool, shopId);
    reply.hijack();
    if (isOver()) return reply;
    const query = request.query as { cursor?: string; device?: string };
    const wanted = readCursor(String(request.headers['last-event-id'] ?? query.cursor ?? ''), epoch);
    const device = idSchema.safeParse(query.device).data;
    const waiting: OrderedEvent[] = [];
    let isLive = false;
    let sent = wanted ?? tail.cursor;
    raw.writeHead(200, {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-cache, no-transform',
      'x-accel-buffering': 'no',
      'x-content-type-options': 'nosniff',
    });
    const write = (text: string): void => {
      if (isOver()) return;
      raw.write(text);
      // whoever reads too slowly comes back by itself and goes on where it was
      if (raw.writableLength > MOST_UNREAD) raw.destroy();
    };
    const send = (events: readonly OrderedEvent[]): void => {
      for (const { position, event } of events) {
        if (position <= sent) continue;
        sent = position;
        const data: StreamedEvent =
          event.stream === SHOP_STREAM
            ? { position, stream: SHOP_STREAM, number: event.number, type: event.type }
            : { position, stream: event.stream, event: toWireEvent(event) };
        write(`id: ${epoch}:${position}\nevent: kept\ndata: ${JSON.stringify(data)}\n\n`);
      }
    };
    undo.push(
      tail.subscribe((events) => (isLive ? send(events) : waiting.push(...events))),
      pulse.follow(),
    );
    const say = (word: object): string => JSON.stringify({ now: clock().toISOString(), fold: FOLD_VERSION, ...word, ...pulse.latest() });
    const beat = setInterval(() => {
      write(`event: beat\ndata: ${say({})}\n\n`);
      if (device !== undefined && !isOver()) noteSeen(presence, device).catch(() => undefined);
      // who signed out, locked the screen or left the shop hears no more; an unreachable database ends nothing
      isStillIn(request).then(
        (isIn) => isIn || end(),
        () => undefined,
      );
    }, BEAT_MILLISECOND);
    undo.push(() => clearInterval(beat));
    try {
      const missed = wanted === null ? [] : await readAfter(pool, shopId, wanted, CATCH_UP_LIMIT);
      const isBehind = wanted === null || missed.length === CATCH_UP_LIMIT;
      if (isBehind) sent = tail.cursor;
      if (device !== undefined && !isOver()) await noteSeen(presence, device);
      await pulse.read();
      write(`retry: 1000\nid: ${epoch}:${sent}\nevent: hello\ndata: ${say({ isBehind, epoch, sent })}\n\n`);
      if (!isBehind) send(missed);
      isLive = true;
      send(waiting);
    } catch {
      // the database is away: the browser comes back by itself
      end();
    }
    return reply;
  });
  done();
};

/** Null when there is none, or when it belongs to a log before a restore, or to another release. */
function readCursor(text: string, epoch: string): number | null {
  const [of, position, more] = text.split(':');
  return of === epoch && more === undefined && position !== undefined && /^\d{1,15}$/.test(position) ? Number(position) : null;
}
