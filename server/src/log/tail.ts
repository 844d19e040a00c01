/**
 * Follows the log of the shop: one listening connection a process, told by NOTIFY that something came, reading what lies after its
 * cursor in the order of commits and handing it to every subscriber. It comes back by itself when the connection is lost.
 */
import pg from 'pg';
import { findTail, readAfter, type Cursor, type OrderedEvent } from './store.ts';

const READ_LIMIT = 500;
/** How often to look without being told: covers a notice lost and a transaction that held others back. */
const LOOK_MILLISECOND = 1000;
const LOOK_SOON_MILLISECOND = 25;
const RECONNECT_MILLISECOND = 500;

export class Tail {
  readonly #url: string;
  readonly #pool: pg.Pool;
  readonly #shopId: string;
  readonly #subscribers = new Set<(events: readonly OrderedEvent[]) => void>();
  readonly #heads = new Map<string, number>();
  #client: pg.Client | null = null;
  #timer: NodeJS.Timeout | null = null;
  #isClosed = false;
  #isReading = false;
  /** Announced and not yet read: `stream` to number. */
  readonly #awaited = new Map<string, number>();
  cursor: Cursor = { xid: '0', position: 0 };

  constructor(url: string, pool: pg.Pool, shopId: string) {
    this.#url = url;
    this.#pool = pool;
    this.#shopId = shopId;
  }

  /** Starts to follow from the end of what is there. */
  async open(): Promise<void> {
    await this.#listen();
    this.cursor = await findTail(this.#pool, this.#shopId);
    this.#schedule(LOOK_MILLISECOND);
  }

  async close(): Promise<void> {
    this.#isClosed = true;
    if (this.#timer) clearTimeout(this.#timer);
    await this.#client?.end();
  }

  /** Whether the connection stands, so that {@link headOf} can be trusted. */
  get isFollowing(): boolean {
    return this.#client !== null;
  }

  /** The last number seen of a stream, if any was seen since the connection stands. */
  headOf(stream: string): number | undefined {
    return this.isFollowing ? this.#heads.get(stream) : undefined;
  }

  noteHead(stream: string, number: number): void {
    if (number > (this.#heads.get(stream) ?? 0)) this.#heads.set(stream, number);
  }

  subscribe(listener: (events: readonly OrderedEvent[]) => void): () => void {
    this.#subscribers.add(listener);
    return () => this.#subscribers.delete(listener);
  }

  async #listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.#url, keepAlive: true });
    client.on('error', () => undefined); // 'end' follows
    client.on('end', () => {
      this.#client = null;
      this.#heads.clear();
      if (!this.#isClosed) setTimeout(() => void this.#reconnect(), RECONNECT_MILLISECOND).unref();
    });
    client.on('notification', ({ payload }) => this.#onNotice(payload ?? ''));
    await client.connect();
    await client.query('listen estuarine');
    this.#client = client;
  }

  async #reconnect(): Promise<void> {
    if (this.#isClosed) return;
    try {
      await this.#listen();
      this.#schedule(0);
    } catch {
      setTimeout(() => void this.#reconnect(), RECONNECT_MILLISECOND).unref();
    }
  }

  #onNotice(payload: string): void {
    const [shopId, stream, number] = payload.split(':');
    if (shopId !== this.#shopId || stream === undefined) return;
    this.noteHead(stream, Number(number));
    this.#awaited.set(stream, Number(number));
    this.#schedule(0);
  }

  #schedule(delay: number): void {
    if (this.#isClosed) return;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.#look(), delay);
    this.#timer.unref();
  }

  async #look(): Promise<void> {
    if (this.#isReading) return;
    this.#isReading = true;
    try {
      let read: OrderedEvent[];
      do {
        read = await readAfter(this.#pool, this.#shopId, this.cursor, READ_LIMIT);
        const last = read[read.length - 1];
        if (!last) break;
        this.cursor = last.cursor;
        for (const { event } of read) {
          this.noteHead(event.stream, event.number);
          if ((this.#awaited.get(event.stream) ?? Infinity) <= event.number) this.#awaited.delete(event.stream);
        }
        for (const tell of this.#subscribers) tell(read);
      } while (read.length === READ_LIMIT);
    } catch {
      // the database is away; the next look tries again
    } finally {
      this.#isReading = false;
      this.#schedule(this.#awaited.size > 0 ? LOOK_SOON_MILLISECOND : LOOK_MILLISECOND);
    }
  }
}
