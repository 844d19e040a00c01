import { Injectable, signal } from '@angular/core';

export interface Shortcut {
  /** As in KeyboardEvent.key; with `ctrl` for Ctrl or Cmd. */
  readonly key: string;
  readonly ctrl?: boolean;
  readonly what: string;
  /** Null: shown in the list only, handled where it applies. */
  readonly run: (() => void) | null;
}

/** Keyboard shortcuts of what is on the screen. Single keys do nothing while a field has the focus. */
@Injectable({ providedIn: 'root' })
export class Shortcuts {
  readonly #list = signal<readonly Shortcut[]>([]);
  readonly list = this.#list.asReadonly();
  readonly isShown = signal(false);

  constructor() {
    window.addEventListener('keydown', (event) => this.#onKey(event));
  }

  /** Gives the function that takes it away again. */
  register(shortcut: Shortcut): () => void {
    this.#list.update((all) => [...all, shortcut]);
    return () => this.#list.update((all) => all.filter((s) => s !== shortcut));
  }

  #onKey(event: KeyboardEvent): void {
    const isField = event.target instanceof HTMLElement && /^(input|select|textarea)$/i.test(event.target.tagName);
    const ctrl = event.ctrlKey || event.metaKey;
    if (event.altKey || (isField && !ctrl)) return;
    if (event.key === '?' && !ctrl) {
      this.isShown.update((v) => !v);
      return;
    }
    const found = this.#list().findLast((s) => s.key === event.key && (s.ctrl ?? false) === ctrl && s.run);
    if (!found?.run) return;
    event.preventDefault();
    found.run();
  }
}
