/**
 * Like with like: the least sum of within-block ranges. Of the gaps between neighbours in sorted order a block crosses every one
 * between its least and greatest; a gap is crossed by none only where whole blocks fill all values below it, so the best that can
 * be had is to cut the sorted row into runs, and only the order of the block sizes is open. That order is found by dynamic
 * programming over how many blocks of each size are used up, which is exact.
 */

export interface AlikePartition {
  /** Indices into the values, one list a block, in the order of the sizes given. */
  readonly blocks: number[][];
  /** Sum of within-block ranges, which is also its lower bound. */
  readonly cost: number;
}

/** Counts of used-up sizes that are weighed at most. */
const MAXIMUM_STATES = 2_000_000;

/** Null when the sizes are too varied for an exact answer (over two million states), which no pack comes near. */
export function partitionAlike(values: readonly number[], sizes: readonly number[]): AlikePartition | null {
  const order = values.map((_, i) => i).sort((a, b) => (values[a] as number) - (values[b] as number) || a - b);
  const sorted = order.map((i) => values[i] as number);
  const distinct = [...new Set(sizes)].sort((a, b) => a - b);
  const counts = distinct.map((size) => sizes.filter((s) => s === size).length);
  const states = counts.reduce((product, c) => product * (c + 1), 1);
  if (states > MAXIMUM_STATES) return null;

  // a state is a mixed-radix number of used-up counts; its predecessors are smaller numbers
  const best = new Float64Array(states).fill(Infinity);
  const cameBy = new Int32Array(states).fill(-1);
  best[0] = 0;
  const strides = counts.map((_, i) => counts.slice(0, i).reduce((product, c) => product * (c + 1), 1));
  for (let state = 0; state < states; state++) {
    const used = counts.map((c, i) => Math.floor(state / (strides[i] as number)) % (c + 1));
    const start = used.reduce((sum, u, i) => sum + u * (distinct[i] as number), 0);
    distinct.forEach((size, i) => {
      if (used[i] === counts[i]) return;
      const next = state + (strides[i] as number);
      const cost = (best[state] as number) + (sorted[start + size - 1] as number) - (sorted[start] as number);
      if (cost < (best[next] as number)) {
        best[next] = cost;
        cameBy[next] = i;
      }
    });
  }
  const runs: number[][] = [];
  for (let state = states - 1, end = values.length; state > 0;) {
    const i = cameBy[state] as number;
    const size = distinct[i] as number;
    runs.unshift(order.slice(end - size, end));
    end -= size;
    state -= strides[i] as number;
  }
  const left = [...runs];
  const blocks = sizes.map(
    (size) =>
      left.splice(
        left.findIndex((r) => r.length === size),
        1,
      )[0] as number[],
  );
  return { blocks, cost: best[states - 1] as number };
}
