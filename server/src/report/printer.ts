/** PDFs off the main thread: one pool of workers a process, made on first need. */
import { MessageChannel } from 'node:worker_threads';
import type { Report } from '@estuarine/core';
import type { Piscina } from 'piscina';
import type { PdfTask } from './worker.ts';
import { makeWorkerPool } from '../worker-pool.ts';

export interface PrintOptions {
  readonly now: number;
  readonly onProgress?: (share: number) => void;
  readonly signal?: AbortSignal;
}

export class Printer {
  #workers: Piscina | null = null;

  /** Gives the bytes of the PDF. Rejects with an abort where the signal ends it. */
  async print(report: Report, photos: ReadonlyMap<string, Uint8Array>, { now, onProgress, signal }: PrintOptions): Promise<Buffer> {
    const { port1: mine, port2: theirs } = new MessageChannel();
    mine.on('message', (share: number) => onProgress?.(share));
    try {
      const task: PdfTask = { report, photos: [...photos], now, progress: theirs };
      const bytes = (await this.#pool().run(task, { transferList: [theirs], ...(signal ? { signal } : {}) })) as Uint8Array;
      return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    } finally {
      mine.close();
    }
  }

  async close(): Promise<void> {
    await this.#workers?.destroy();
  }

  #pool(): Piscina {
    return (this.#workers ??= makeWorkerPool(import.meta.url, './worker'));
  }
}
