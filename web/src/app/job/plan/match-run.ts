import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import { STACK_SCHOOLS, type SchoolInput, type SchoolPlan, type StackSchool } from '@estuarine/core';
import * as comlink from 'comlink';
import type { PlanFunction } from './match.worker.ts';

export type SchoolResult =
  | { readonly kind: 'waiting' }
  | { readonly kind: 'working'; readonly share: number }
  | { readonly kind: 'plan'; readonly plan: SchoolPlan; readonly millisecond: number }
  | { readonly kind: 'failed'; readonly reason: string }
  | { readonly kind: 'cancelled' };

type Results = Readonly<Record<StackSchool, SchoolResult>>;

const NONE: Results = { matchedSet: { kind: 'waiting' }, spotRepair: { kind: 'waiting' }, spotRepairReordered: { kind: 'waiting' } };

/** One computation of all schools, in a worker of its own, with progress and a way to stop it. */
@Injectable()
export class MatchRun {
  readonly #results = signal<Results>(NONE);
  readonly #isRunning = signal(false);
  #worker: Worker | null = null;

  readonly results = this.#results.asReadonly();
  readonly isRunning = this.#isRunning.asReadonly();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.#worker?.terminate());
  }

  async start(input: SchoolInput): Promise<void> {
    this.cancel();
    const worker = new Worker(new URL('./match.worker', import.meta.url), { type: 'module' });
    this.#worker = worker;
    const plan = comlink.wrap<PlanFunction>(worker);
    this.#results.set(NONE);
    this.#isRunning.set(true);
    for (const school of STACK_SCHOOLS) {
      if (this.#worker !== worker) return;
      this.#put(school, { kind: 'working', share: 0 });
      const begin = performance.now();
      try {
        const result = await plan(
          school,
          input,
          comlink.proxy((progress) => {
            if (this.#worker === worker) this.#put(school, { kind: 'working', share: progress.share });
          }),
        );
        if (this.#worker !== worker) return;
        const millisecond = performance.now() - begin;
        this.#put(
          school,
          result.kind === 'answer' ? { kind: 'plan', plan: result.value, millisecond } : { kind: 'failed', reason: result.message },
        );
      } catch (error) {
        if (this.#worker !== worker) return;
        this.#put(school, { kind: 'failed', reason: error instanceof Error ? error.message : String(error) });
      }
    }
    this.#end(worker);
  }

  /** Takes the results away: what they were computed from is being asked for anew. */
  clear(): void {
    this.cancel();
    this.#results.set(NONE);
  }

  /** Stops at once; what is done already stays. */
  cancel(): void {
    if (!this.#worker) return;
    this.#end(this.#worker);
    this.#results.update((all) => {
      const next = { ...all };
      for (const school of STACK_SCHOOLS)
        if (next[school].kind === 'working' || next[school].kind === 'waiting') next[school] = { kind: 'cancelled' };
      return next;
    });
  }

  #end(worker: Worker): void {
    worker.terminate();
    if (this.#worker === worker) this.#worker = null;
    this.#isRunning.set(false);
  }

  #put(school: StackSchool, result: SchoolResult): void {
    this.#results.update((all) => ({ ...all, [school]: result }));
  }
}
