/**
 * The two ways a calculation of the core can end: an answer, or a refusal with its reason.
 * Exceptions are kept for bugs; a refusal is an ordinary value that a person can act on.
 */

/** Why the core did not answer: a permanent code from {@link REFUSALS}, a sentence, and where in the input it lies. */
export interface Refusal {
  readonly kind: 'refused';
  readonly code: RefusalCode;
  readonly message: string;
  /** Path into the input, outermost first; empty when the input as a whole is refused. */
  readonly path: readonly (string | number)[];
}

export interface Answer<T> {
  readonly kind: 'answer';
  readonly value: T;
}

export type Result<T> = Answer<T> | Refusal;

/** Every refusal code of the core with the line that documents it. A code is never re-used for another meaning. */
export const REFUSALS = {
  impossible: 'A value lies outside what the quantity can be.',
  mismatch: 'Two parts of the input do not fit each other, such as modules and block sizes.',
  empty: 'Nothing was given where at least one value is needed.',
  unknownName: 'A name (post, link, module, place, sweep) is not one that exists here.',
  tooLarge: 'The input exceeds the cap that keeps the answer prompt.',
  notPermitted: 'The act is a permit and its conditions do not hold.',
  taken: 'The module is reserved by another job.',
  gone: 'What the act refers to was withdrawn or does not exist.',
  unreadable: 'A cell of an imported file could not be read as what its column says.',
  tooOld: 'What was recorded is of a later version than this application knows.',
  cancelled: 'The work was stopped by the person who asked for it.',
} as const;

export type RefusalCode = keyof typeof REFUSALS;

export function answer<T>(value: T): Answer<T> {
  return { kind: 'answer', value };
}

export function refuse(code: RefusalCode, message: string, path: readonly (string | number)[] = []): Refusal {
  return { kind: 'refused', code, message, path };
}
