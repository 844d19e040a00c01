import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import type { Result } from '@estuarine/core';
import * as comlink from 'comlink';
import type { ReckonFunction } from './reckon.worker.ts';

export type ReckonState =
  | { readonly kind: 'none' }
  | { readonly kind: 'working' }
  | { readonly kind: 'failed'; readonly reason: string }
  | { readonly kind: 'done'; readonly result: Result<unknown>; readonly input: unknown };

interface Running {
  readonly worker: Worker;
  readonly run: comlink.Remote<ReckonFunction>;
}

/** A quick answer comes before anybody could read that it is being computed. */
const SAY_WORKING_MILLISECOND = 150;

/** One calculation at a time in a worker; a later question ends the earlier one. */
@Injectable()
export class ReckonRun {
  readonly #state = signal<ReckonState>({ kind: 'none' });
  readonly state = this.#state.asReadonly();
  #worker: Running | null = null;
  /** Number of the question under way; 0 for none. An ended worker never answers, so nothing waits for it. */
  #asked = 0;
  #count = 0;
  #saying: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.#end());
  }

  async ask(name: string, input: unknown): Promise<void> {
    // a worker that still computes an older question is ended; an idle one is used again
    if (this.#asked !== 0) this.#end();
    const asked = ++this.#count;
    this.#asked = asked;
    this.#worker ??= this.#start();
    this.#saying = setTimeout(() => this.#state.set({ kind: 'working' }), SAY_WORKING_MILLISECOND);
    const answer = await this.#answer(this.#worker.run, name, input);
    if (this.#asked !== asked) return;
    this.#asked = 0;
    clearTimeout(this.#saying);
    this.#state.set(answer);
  }

  cancel(): void {
    this.#end();
    this.#state.set({ kind: 'none' });
  }

  #start(): Running {
    const worker = new Worker(new URL('./reckon.worker', import.meta.url), { type: 'module' });
    // one proxy as long as the worker lives: one that is collected closes the other end
    return { worker, run: comlink.wrap<ReckonFunction>(worker) };
  }

  async #answer(run: comlink.Remote<ReckonFunction>, name: string, input: unknown): Promise<ReckonState> {
    try {
      return { kind: 'done', result: await run(name, input), input };
    } catch (error) {
      return { kind: 'failed', reason: error instanceof Error ? error.message : String(error) };
    }
  }

  #end(): void {
    clearTimeout(this.#saying);
    this.#worker?.worker.terminate();
    this.#worker = null;
    this.#asked = 0;
  }
}
