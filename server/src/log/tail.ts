/**
 * Follows the log of the shop: reads what lies behind its cursor, in the order of commits, and hands it to every subscriber. Told by
 * this process at once, by others through NOTIFY, and looking by itself in between, so that a lost notice delays and never hides.
 */
import { setTimeout as sleep } from 'node:timers/promises';
import pg from 'pg';
import { findTail, readAfter, tellOthers, type OrderedEvent } from './store.ts';

const READ_LIMIT = 500;
/** How often to look without being told. */
const LOOK_MILLISECOND = 1000;
/** What was looked up longer ago is not vouched for. */
const FRESH_MILLISECOND = 3000;
const LEAST_WAIT_MILLISECOND = 100;
const LONGEST_WAIT_MILLISECOND = 5000;
const CONNECT_MILLISECOND = 5000;
const HANG_UP_MILLISECOND = 1000;

export class Tail {
  readonly #url: string;
  readonly #pool: pg.Pool;
  readonly #shopId: string;
  readonly #subscribers = new Set<(events: readonly OrderedEvent[]) => void>();
  readonly #heads = new Map<string, number>();
  readonly #end = new AbortController();
  readonly #closing = new Promise<void>((resolve) => this.#end.signal.addEventListener('abort', () => resolve()));
  #following: Promise<void> = Promise.resolve();
  #client: pg.Client | null = null;
  #lookedAt = -Infinity;
  #isLooking = false;
  #looksAgain = false;
  #timer: NodeJS.Timeout | null = null;
  #isTelling = false;
  #tellsAgain = false;
  #cursor = 0;

  constructor(url: string, pool: pg.Pool, shopId: string) {
    this.#url = url;
    this.#pool = pool;
    this.#shopId = shopId;
  }

  /** Position of the last event handed out; everything up to it was. */
  get cursor(): number {
    return this.#cursor;
  }

  /** Starts to follow from the end of what is there. */
  async open(): Promise<void> {
    this.#cursor = await findTail(this.#pool, this.#shopId);
    this.#lookedAt = performance.now();
    this.#following = this.#listen();
    this.look();
  }

  async close(): Promise<void> {
    this.#end.abort();
    if (this.#timer) clearTimeout(this.#timer);
    if (this.#client) await hangUp(this.#client);
    await this.#following;
  }

  /** The last number known of a stream, all up to {@link cursor} included; none while the database does not answer. */
  headOf(stream: string): number | undefined {
    return performance.now() - this.#lookedAt < FRESH_MILLISECOND ? this.#heads.get(stream) : undefined;
  }

  noteHead(stream: string, number: number): void {
    if (number > (this.#heads.get(stream) ?? 0)) this.#heads.set(stream, number);
  }

  /** This process kept something: its own streams hear it at once, other processes by a notice; notices that pile up become one. */
  announce(stream: string, number: number): void {
    this.noteHead(stream, number);
    this.look();
    this.#tellsAgain = true;
    if (!this.#isTelling) void this.#tell();
  }

  subscribe(listener: (events: readonly OrderedEvent[]) => void): () => void {
    this.#subscribers.add(listener);
    return () => this.#subscribers.delete(listener);
  }

  /** Reads what is new, now; calls meanwhile become one more reading. */
  look(): void {
    this.#looksAgain = true;
    if (!this.#isLooking) void this.#look();
  }

  async #tell(): Promise<void> {
    this.#isTelling = true;
    try {
      while (this.#tellsAgain) {
        this.#tellsAgain = false;
        await tellOthers(this.#pool, this.#shopId);
      }
    } catch {
      // others look by themselves
    } finally {
      this.#isTelling = false;
    }
  }

  async #look(): Promise<void> {
    this.#isLooking = true;
    if (this.#timer) clearTimeout(this.#timer);
    try {
      while (this.#looksAgain && !this.#end.signal.aborted) {
        this.#looksAgain = false;
        const read = await readAfter(this.#pool, this.#shopId, this.#cursor, READ_LIMIT);
        this.#lookedAt = performance.now();
        const last = read.at(-1);
        if (!last) continue;
        for (const { event } of read) this.noteHead(event.stream, event.number);
        this.#cursor = last.position;
        for (const hear of this.#subscribers) hear(read);
        if (read.length === READ_LIMIT) this.#looksAgain = true;
      }
    } catch {
      // the database is away; the next look tries again
    } finally {
      this.#isLooking = false;
      if (!this.#end.signal.aborted) this.#timer = setTimeout(() => this.look(), LOOK_MILLISECOND).unref();
    }
  }

  /** One connection that listens, and one after another where it breaks: waiting longer each time, never two at once. */
  async #listen(): Promise<void> {
    const { signal } = this.#end;
    let wait = LEAST_WAIT_MILLISECOND;
    while (!signal.aborted) {
      const client = new pg.Client({ connectionString: this.#url, keepAlive: true, connectionTimeoutMillis: CONNECT_MILLISECOND });
      this.#client = client;
      const ended = new Promise<void>((resolve) => {
        client.once('end', resolve);
        void this.#closing.then(resolve);
        client.on('error', () => resolve());
      });
      try {
        client.on('notification', ({ payload }) => {
          if (payload === this.#shopId) this.look();
        });
        // a connection that is hung up while it is being made never says what became of it
        await Promise.race([client.connect(), ended]);
        await client.query('listen estuarine');
        wait = LEAST_WAIT_MILLISECOND;
        this.look();
        await ended;
      } catch {
        // not reached, or refused: again after a while
      }
      this.#client = null;
      await hangUp(client);
      await sleep(wait * (0.5 + Math.random()), undefined, { signal, ref: false }).catch(() => undefined);
      wait = Math.min(2 * wait, LONGEST_WAIT_MILLISECOND);
    }
  }
}

/** Ends a connection, and waits for a server that does not answer no longer than that takes. */
async function hangUp(client: pg.Client): Promise<void> {
  await Promise.race([client.end().catch(() => undefined), sleep(HANG_UP_MILLISECOND, undefined, { ref: false })]);
}
