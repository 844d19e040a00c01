import { Injectable, signal } from '@angular/core';
import { STAGE_NAMES, type Stage } from '@estuarine/core';

/** How the shop calls the stages of a job; our own words until its policy is known. */
@Injectable({ providedIn: 'root' })
export class StageWords {
  readonly #names = signal<Readonly<Record<Stage, string>>>(STAGE_NAMES);
  readonly names = this.#names.asReadonly();

  set(names: Readonly<Record<Stage, string>>): void {
    this.#names.set(names);
  }
}
