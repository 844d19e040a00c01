/** All divisions of a few things, to try them one by one in specs. */

/** Every division of the indices into blocks of the sizes given. */
export function* divisions(indices: readonly number[], sizes: readonly number[]): Generator<number[][]> {
  const [size, ...others] = sizes;
  if (size === undefined) {
    yield [];
    return;
  }
  for (const block of choices(indices, size))
    for (const rest of divisions(
      indices.filter((i) => !block.includes(i)),
      others,
    ))
      yield [block, ...rest];
}
function* choices(indices: readonly number[], count: number): Generator<number[]> {
  if (count === 0) {
    yield [];
    return;
  }
  for (let i = 0; i + count <= indices.length; i++)
    for (const rest of choices(indices.slice(i + 1), count - 1)) yield [indices[i] as number, ...rest];
}
