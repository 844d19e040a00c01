/**
 * A driver for bench instruments that speak SCPI over TCP (IEEE 488.2 and SCPI-99, one command a line): connects, asks, waits for
 * one line, and connects again after a loss. One question at a time on one connection; questions wait in line.
 */
import net from 'node:net';

export interface ScpiOptions {
  readonly host: string;
  readonly port: number;
  readonly timeoutMillisecond?: number;
}

/** Why an instrument gave no answer. */
export class InstrumentSilent extends Error {
  readonly reason: 'unreachable' | 'late' | 'lost' | 'unreadable';
  constructor(reason: InstrumentSilent['reason'], detail: string) {
    super(detail);
    this.reason = reason;
  }
}

const TIMEOUT_MILLISECOND = 3000;
/** An answer longer than this is no reading. */
const MAXIMUM_ANSWER = 4096;

export class ScpiLine {
  readonly #options: ScpiOptions;
  #socket: net.Socket | null = null;
  #queue: Promise<unknown> = Promise.resolve();

  constructor(options: ScpiOptions) {
    this.#options = options;
  }

  /** Sends commands that have no answer, then a query; gives the line that comes back. A broken connection is tried once more. */
  ask(query: string, commands: readonly string[] = []): Promise<string> {
    const work = this.#queue.then(() => this.#askTwice(query, commands));
    this.#queue = work.catch(() => undefined);
    return work;
  }

  /** A query whose answer is a number, in the instrument's unit. */
  async askNumber(query: string, commands: readonly string[] = []): Promise<number> {
    const answer = await this.ask(query, commands);
    const value = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(answer) ? Number(answer) : Number.NaN;
    // 9.9E37 is what SCPI says for an overload or for no number
    if (!Number.isFinite(value) || Math.abs(value) >= 9.9e37)
      throw new InstrumentSilent('unreadable', `The instrument answered "${answer.slice(0, 40)}", which is no reading.`);
    return value;
  }

  close(): void {
    this.#socket?.destroy();
    this.#socket = null;
  }

  async #askTwice(query: string, commands: readonly string[]): Promise<string> {
    const isReused = this.#socket !== null;
    try {
      return await this.#askOnce(query, commands);
    } catch (error) {
      // a connection kept from before may have been closed by the other end meanwhile
      if (!isReused || !(error instanceof InstrumentSilent) || error.reason !== 'lost') throw error;
      return this.#askOnce(query, commands);
    }
  }

  async #askOnce(query: string, commands: readonly string[]): Promise<string> {
    const socket = await this.#connect();
    return new Promise((resolve, reject) => {
      let text = '';
      const end = (finish: () => void, keeps: boolean): void => {
        clearTimeout(late);
        socket.off('data', onData).off('close', onClose).off('error', onClose);
        // an answer that comes late would be taken for the next one
        if (!keeps) this.close();
        finish();
      };
      const onData = (chunk: Buffer): void => {
        text += chunk.toString('latin1');
        const at = text.indexOf('\n');
        if (at >= 0) end(() => resolve(text.slice(0, at).trim()), true);
        else if (text.length > MAXIMUM_ANSWER)
          end(() => reject(new InstrumentSilent('unreadable', 'The instrument answered with more than a line.')), false);
      };
      const onClose = (): void => end(() => reject(new InstrumentSilent('lost', 'The connection to the instrument was lost.')), false);
      const timeout = this.#options.timeoutMillisecond ?? TIMEOUT_MILLISECOND;
      const late = setTimeout(
        () => end(() => reject(new InstrumentSilent('late', `The instrument did not answer within ${timeout / 1000} s.`)), false),
        timeout,
      );
      socket.on('data', onData).on('close', onClose).on('error', onClose);
      socket.write([...commands, query].map((line) => `${line}\n`).join(''));
    });
  }

  #connect(): Promise<net.Socket> {
    if (this.#socket && !this.#socket.destroyed) return Promise.resolve(this.#socket);
    const { host, port, timeoutMillisecond = TIMEOUT_MILLISECOND } = this.#options;
    return new Promise((resolve, reject) => {
      const socket = net.connect({ host, port });
      const fail = (): void => {
        socket.destroy();
        reject(new InstrumentSilent('unreachable', `Nothing answers at ${host}, port ${port}. Is the instrument on, and on this network?`));
      };
      socket.setTimeout(timeoutMillisecond, fail);
      socket.once('error', fail);
      socket.once('connect', () => {
        socket
          .setTimeout(0)
          .off('error', fail)
          .on('error', () => undefined);
        socket.unref();
        this.#socket = socket;
        resolve(socket);
      });
    });
  }
}
