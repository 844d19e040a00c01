/**
 * Sessions: kept in the database, read through a short-lived cache so that not every request asks it. The session plugin makes,
 * changes and ends them on the routes of persons; every other request only reads whose it is, which costs a fraction.
 */
import { createHash } from 'node:crypto';
import { Signer } from '@fastify/cookie';
import type { SessionStore } from '@fastify/session';
import { parseCookie } from 'cookie';
import type { FastifyRequest, Session } from 'fastify';
import type pg from 'pg';
import * as store from './store.ts';

declare module 'fastify' {
  interface FastifyRequest {
    /** Whose session the request carries; null for nobody. */
    who: Who | null;
  }
  interface Session {
    personId?: string | null;
    /** When the screen was locked, ISO 8601; null while it is not. */
    lockedAt?: string | null;
  }
}

export const SESSION_COOKIE = 'estuarine_session';

export interface Who {
  readonly sessionId: string;
  readonly personId: string;
  /** When the screen was locked, epoch milliseconds; null while it is not. */
  readonly lockedAt: number | null;
}

/** How long another process may still believe a session that was ended here. */
const BELIEVE_MILLISECOND = 3000;
const MAXIMUM_KEPT = 2000;
/** A working day with its overtime: then everybody signs in again. */
export const SESSION_MILLISECOND = 14 * 60 * 60 * 1000;

export class SessionTable implements SessionStore {
  readonly #pool: pg.Pool;
  readonly #shopId: string;
  readonly #known = new Map<string, { readonly who: Who | null; readonly until: number }>();
  /** Ids of sessions by the header of cookies that named them: a good seal is broken once, not for each request. */
  readonly #ids = new Map<string, string>();
  readonly #signer: Signer;

  constructor(pool: pg.Pool, shopId: string, secret: string) {
    this.#signer = new Signer(secret);
    this.#pool = pool;
    this.#shopId = shopId;
  }

  /** Forgets what is believed, such as after a passphrase was changed. */
  forgetAll(): void {
    this.#known.clear();
  }

  /** Whose the request is, by its cookie; null for none, a forged one and one that has ended. A promise where the database has to say. */
  read(request: FastifyRequest): Who | null | Promise<Who | null> {
    const { cookie } = request.headers;
    const sessionId = cookie === undefined ? null : this.#idIn(cookie);
    if (sessionId === null) return null;
    const known = this.#known.get(sessionId);
    return known && known.until > Date.now() ? known.who : this.#fetch(sessionId).then((row) => whoOf(sessionId, row));
  }

  /** The session that a header of cookies names; null where it names none, or its seal is none of ours. */
  #idIn(header: string): string | null {
    const known = this.#ids.get(header);
    if (known !== undefined) return known;
    const raw = parseCookie(header)[SESSION_COOKIE];
    const opened = raw === undefined ? null : this.#signer.unsign(raw);
    if (!opened?.valid) return null;
    if (this.#ids.size >= MAXIMUM_KEPT) this.#ids.clear();
    this.#ids.set(header, opened.value);
    return opened.value;
  }

  get(sessionId: string, done: (error: unknown, session?: Session | null) => void): void {
    // what is to be changed is read from the database itself
    this.#fetch(sessionId)
      .then((row) => done(null, row ? toSession(row) : NOBODYS))
      .catch(done);
  }

  /** Whether a session is open still and its screen not locked, for what outlasts its request. */
  async isOpen(sessionId: string): Promise<boolean> {
    const row = await store.findSession(this.#pool, this.#shopId, hashOf(sessionId));
    return row !== null && row.personId !== null && row.lockedAt === null;
  }

  set(sessionId: string, session: Session, done: (error?: unknown) => void): void {
    const row = {
      personId: session.personId ?? null,
      lockedAt: session.lockedAt ? new Date(session.lockedAt) : null,
      cookie: session.cookie as object,
    };
    const expiresAt = session.cookie.expires instanceof Date ? session.cookie.expires : new Date(Date.now() + SESSION_MILLISECOND);
    store
      .saveSession(this.#pool, this.#shopId, hashOf(sessionId), row, expiresAt)
      .then(() => {
        this.#known.delete(sessionId);
        done();
      })
      .catch(done);
  }

  destroy(sessionId: string, done: (error?: unknown) => void): void {
    this.#known.delete(sessionId);
    store
      .deleteSession(this.#pool, this.#shopId, hashOf(sessionId))
      .then(() => done())
      .catch(done);
  }

  async #fetch(sessionId: string): Promise<store.SessionRow | null> {
    const row = await store.findSession(this.#pool, this.#shopId, hashOf(sessionId));
    if (this.#known.size >= MAXIMUM_KEPT) this.#known.delete(this.#known.keys().next().value ?? '');
    this.#known.set(sessionId, { who: whoOf(sessionId, row), until: Date.now() + BELIEVE_MILLISECOND });
    return row;
  }
}

/**
 * A session that has ended is nobody's. Told that it is none, the plugin takes its cookie from the browser, and with it that of whoever
 * signed in there while the question was under way.
 */
const NOBODYS = { personId: null, lockedAt: null } as unknown as Session;

function hashOf(sessionId: string): Buffer {
  return createHash('sha256').update(sessionId).digest();
}

function whoOf(sessionId: string, row: store.SessionRow | null): Who | null {
  return row?.personId ? { sessionId, personId: row.personId, lockedAt: row.lockedAt?.getTime() ?? null } : null;
}

function toSession({ personId, lockedAt, cookie }: store.SessionRow): Session {
  // the plugin reads plain data here and makes its own object of it
  return { personId, lockedAt: lockedAt?.toISOString() ?? null, cookie: JSON.parse(JSON.stringify(cookie)) as Session['cookie'] };
}
