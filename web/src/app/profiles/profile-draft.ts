import { Injectable } from '@angular/core';
import type { Profile } from '@estuarine/core';

/** A profile on its way from a file to the editor. */
@Injectable({ providedIn: 'root' })
export class ProfileDraft {
  #held: Profile | null = null;

  hold(profile: Profile): void {
    this.#held = profile;
  }

  /** Gives the draft of an id once. */
  take(id: string): Profile | null {
    const held = this.#held?.id === id ? this.#held : null;
    if (held) this.#held = null;
    return held;
  }
}
