import { effect, Injectable, signal } from '@angular/core';

const KEY = 'estuarine-night';

/** Day or night view of this browser. */
@Injectable({ providedIn: 'root' })
export class Night {
  readonly #isOn = signal(localStorage.getItem(KEY) === 'yes');
  readonly isOn = this.#isOn.asReadonly();

  constructor() {
    effect(() => {
      document.documentElement.dataset.theme = this.#isOn() ? 'night' : 'day';
      localStorage.setItem(KEY, this.#isOn() ? 'yes' : 'no');
    });
  }

  toggle(): void {
    this.#isOn.update((v) => !v);
  }
}
