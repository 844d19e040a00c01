/** Heavy calculations of the registry, off the main thread: one pool of workers a process, made on first need. */
import type { Result } from '@estuarine/core';
import type { Piscina } from 'piscina';
import { HttpProblem } from '../problem.ts';
import { makeWorkerPool } from '../worker-pool.ts';

const CAP_MILLISECOND = 10_000;

export class Calculators {
  #workers: Piscina | null = null;

  /** Runs a calculation by its name; 503 where it takes longer than 10 s. */
  async run(name: string, input: unknown): Promise<Result<unknown>> {
    const stop = new AbortController();
    const timer = setTimeout(() => stop.abort(), CAP_MILLISECOND + 500);
    try {
      return (await this.#pool().run({ name, input, limitMillisecond: CAP_MILLISECOND }, { signal: stop.signal })) as Result<unknown>;
    } catch (error) {
      if (stop.signal.aborted)
        throw new HttpProblem(503, 'tooLong', 'The calculation took longer than 10 s and was stopped. Give it less, or a time limit.');
      throw error;
    } finally {
      clearTimeout(timer);
    }
  }

  async close(): Promise<void> {
    await this.#workers?.destroy();
  }

  #pool(): Piscina {
    return (this.#workers ??= makeWorkerPool(import.meta.url, './worker'));
  }
}
