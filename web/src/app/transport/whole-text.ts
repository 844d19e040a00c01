/** A value whose texts hold whole characters only: half of one, such as a cut emoji, becomes the sign for a character that was lost. */
export function wholeText<T>(value: T): T {
  const text = JSON.stringify(value);
  // only halves are escaped by themselves
  return /\\ud[89a-f]/i.test(text)
    ? (JSON.parse(text, (_key, inner: unknown) => (typeof inner === 'string' ? inner.toWellFormed() : inner)) as T)
    : value;
}
