import { LABEL_START } from './module-label.ts';

/** A person does not type two keys within this time; a hand scanner always does. */
const BURST_MILLISECOND = 60;

/**
 * Tells a hand scanner, which types like a keyboard, from fingers: a code begins with `#` and goes on faster than anybody types. Its
 * keys reach neither fields nor shortcuts. Pure of the screen: keys and times go in, whole codes come out.
 */
export class KeyBurst {
  #text = '';
  #lastAt = -Infinity;

  /** Takes one key. `isOurs`: it belongs to a code under way; `code`: the code that it ended. */
  take(key: string, at: number): { readonly isOurs: boolean; readonly code: string | null } {
    const isFast = at - this.#lastAt <= BURST_MILLISECOND;
    this.#lastAt = at;
    if (key === LABEL_START) {
      this.#text = key;
      return { isOurs: false, code: null };
    }
    if (this.#text === '' || !isFast) {
      this.#text = '';
      return { isOurs: false, code: null };
    }
    if (key === 'Enter') {
      const code = this.#text;
      this.#text = '';
      return { isOurs: true, code };
    }
    // Shift and its like come between the letters
    if (key.length === 1) this.#text += key;
    return { isOurs: true, code: null };
  }
}
