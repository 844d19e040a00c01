/** Where the session plugin keeps its sessions: the database, read through a short-lived cache so that not every request asks it. */
import { createHash } from 'node:crypto';
import type { SessionStore } from '@fastify/session';
import type { Session } from 'fastify';
import type pg from 'pg';
import * as store from './store.ts';

declare module 'fastify' {
  interface Session {
    personId?: string | null;
    isLocked?: boolean;
  }
}

/** How long another process may still believe a session that was ended here. */
const BELIEVE_MILLISECOND = 3000;
const MAXIMUM_KEPT = 2000;
/** A working day with its overtime: then everybody signs in again. */
export const SESSION_MILLISECOND = 14 * 60 * 60 * 1000;

export class SessionTable implements SessionStore {
  readonly #pool: pg.Pool;
  readonly #shopId: string;
  readonly #known = new Map<string, { readonly row: store.SessionRow | null; readonly until: number }>();

  constructor(pool: pg.Pool, shopId: string) {
    this.#pool = pool;
    this.#shopId = shopId;
  }

  /** Forgets what is believed, such as after a passphrase was changed. */
  forgetAll(): void {
    this.#known.clear();
  }

  get(sessionId: string, done: (error: unknown, session?: Session | null) => void): void {
    const known = this.#known.get(sessionId);
    if (known && known.until > Date.now()) {
      done(null, known.row ? toSession(known.row) : null);
      return;
    }
    store
      .findSession(this.#pool, this.#shopId, hashOf(sessionId))
      .then((row) => {
        this.#believe(sessionId, row);
        done(null, row ? toSession(row) : null);
      })
      .catch(done);
  }

  set(sessionId: string, session: Session, done: (error?: unknown) => void): void {
    const row = { personId: session.personId ?? null, isLocked: session.isLocked ?? false, cookie: session.cookie as object };
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

  #believe(sessionId: string, row: store.SessionRow | null): void {
    if (this.#known.size >= MAXIMUM_KEPT) this.#known.delete(this.#known.keys().next().value ?? '');
    this.#known.set(sessionId, { row, until: Date.now() + BELIEVE_MILLISECOND });
  }
}

function hashOf(sessionId: string): Buffer {
  return createHash('sha256').update(sessionId).digest();
}

function toSession({ personId, isLocked, cookie }: store.SessionRow): Session {
  // the plugin reads plain data here and makes its own object of it
  return { personId, isLocked, cookie: JSON.parse(JSON.stringify(cookie)) as Session['cookie'] };
}
