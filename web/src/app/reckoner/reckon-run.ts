import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import type { Result } from '@estuarine/core';
import * as comlink from 'comlink';
import type { ReckonFunction } from './reckon.worker.ts';

export type ReckonState =
  | { readonly kind: 'none' }
  | { readonly kind: 'working' }
  | { readonly kind: 'failed'; readonly reason: string }
  | { readonly kind: 'done'; readonly result: Result<unknown>; readonly input: unknown };

/** One calculation at a time in a worker; a later question ends the earlier one. */
@Injectable()
export class ReckonRun {
  readonly #state = signal<ReckonState>({ kind: 'none' });
  readonly state = this.#state.asReadonly();
  #worker: Worker | null = null;
  #isBusy = false;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.#worker?.terminate());
  }

  async ask(name: string, input: unknown): Promise<void> {
    // a worker that still computes an older question is ended; an idle one is used again
    if (this.#isBusy) this.#end();
    this.#worker ??= new Worker(new URL('./reckon.worker', import.meta.url), { type: 'module' });
    const worker = this.#worker;
    this.#isBusy = true;
    const working = setTimeout(() => this.#state.set({ kind: 'working' }), 150);
    try {
      const result = await comlink.wrap<ReckonFunction>(worker)(name, input);
      if (this.#worker === worker) this.#state.set({ kind: 'done', result, input });
    } catch (error) {
      if (this.#worker === worker) this.#state.set({ kind: 'failed', reason: error instanceof Error ? error.message : String(error) });
    } finally {
      clearTimeout(working);
      if (this.#worker === worker) this.#isBusy = false;
    }
  }

  cancel(): void {
    this.#end();
    this.#state.set({ kind: 'none' });
  }

  #end(): void {
    this.#worker?.terminate();
    this.#worker = null;
    this.#isBusy = false;
  }
}
