import { inject, Injectable, signal } from '@angular/core';
import { Router } from '@angular/router';
import { jobsAnswerSchema, stockAnswerSchema } from '@estuarine/contract';
import { KnownAnswers } from '../transport/known-answers.ts';
import { KeyBurst } from './key-burst.ts';
import { LABEL_START, readModuleLabel } from './module-label.ts';

/**
 * Labels of modules, read by a hand scanner or the camera, on any screen. A screen that shows the module selects it and says so; else the
 * label leads to where the module is.
 */
@Injectable({ providedIn: 'root' })
export class LabelReader {
  readonly #known = inject(KnownAnswers);
  readonly #router = inject(Router);
  readonly #awaited = signal<string | null>(null);
  readonly #fault = signal<string | null>(null);
  readonly #holders: ((moduleId: string) => boolean)[] = [];

  /** A module that its label leads to; the screen that shows it selects it and settles. */
  readonly awaited = this.#awaited.asReadonly();
  readonly fault = this.#fault.asReadonly();
  readonly isCameraOpen = signal(false);

  constructor() {
    const burst = new KeyBurst();
    window.addEventListener(
      'keydown',
      (event) => {
        const { isOurs, code } = burst.take(event.key, event.timeStamp);
        if (!isOurs) return;
        event.preventDefault();
        event.stopImmediatePropagation();
        if (code !== null) {
          dropMark(event.target);
          void this.take(code);
        }
      },
      { capture: true },
    );
  }

  /** A screen that shows modules: asked first, and gives whether it has this one. Gives the function that takes it away again. */
  hold(has: (moduleId: string) => boolean): () => void {
    this.#holders.push(has);
    return () => this.#holders.splice(this.#holders.indexOf(has), 1);
  }

  settle(): void {
    this.#awaited.set(null);
  }

  clear(): void {
    this.#fault.set(null);
  }

  /** Takes the text of a code. Gives whether a module was found. */
  async take(text: string): Promise<boolean> {
    const moduleId = readModuleLabel(text);
    if (moduleId === null) {
      this.#fault.set('That code is not of a module here.');
      return false;
    }
    return this.takeId(moduleId);
  }

  /** Takes the id of a module, as typed from its label. */
  async takeId(moduleId: string): Promise<boolean> {
    this.#fault.set(null);
    if (this.#holders.some((has) => has(moduleId))) return true;
    this.#awaited.set(moduleId);
    const [{ value: stock }, { value: jobs }] = await Promise.all([
      this.#known.ask('/api/stock', stockAnswerSchema),
      this.#known.ask('/api/jobs', jobsAnswerSchema),
    ]);
    const row = stock?.rows.find((r) => r.moduleId === moduleId);
    const job = row?.inJob == null ? undefined : jobs?.jobs.find((j) => j.number === row.inJob);
    if (job) return this.#router.navigate(['/job', job.jobId, 'test']);
    if (row) return this.#router.navigate(['/stock']);
    this.#awaited.set(null);
    this.#fault.set(
      stock ? `Module ${moduleId} is not known here.` : `Module ${moduleId}: the server cannot be reached to look where it is.`,
    );
    return false;
  }
}

/** The first character of the code went into the field before anybody could know. */
function dropMark(target: EventTarget | null): void {
  if (!(target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement) || !target.value.endsWith(LABEL_START)) return;
  target.value = target.value.slice(0, -LABEL_START.length);
  target.dispatchEvent(new Event('input', { bubbles: true }));
}
