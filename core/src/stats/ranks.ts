/** Agreement of two orders: Spearman's rank correlation, ties by their mean rank (C. Spearman 1904). */

/** From -1 (the other way round) to 1 (the same order); null below three pairs, or where one of them does not vary. */
export function findRankAgreement(pairs: readonly (readonly [number, number])[]): number | null {
  if (pairs.length < 3) return null;
  const [a, b] = [ranksOf(pairs.map((p) => p[0])), ranksOf(pairs.map((p) => p[1]))];
  const mean = (pairs.length + 1) / 2;
  let [ab, aa, bb] = [0, 0, 0];
  for (const [i, x] of a.entries()) {
    const [dx, dy] = [x - mean, (b[i] ?? 0) - mean];
    ab += dx * dy;
    aa += dx * dx;
    bb += dy * dy;
  }
  return aa === 0 || bb === 0 ? null : ab / Math.sqrt(aa * bb);
}

function ranksOf(values: readonly number[]): number[] {
  const order = values.map((value, i) => ({ value, i })).sort((x, y) => x.value - y.value);
  const ranks = values.map(() => 0);
  for (let from = 0; from < order.length;) {
    let to = from;
    while (order[to + 1]?.value === order[from]?.value) to++;
    for (let k = from; k <= to; k++) ranks[order[k]?.i ?? 0] = (from + to) / 2 + 1;
    from = to + 1;
  }
  return ranks;
}
