/**
 * The linear assignment problem, solved exactly in O(n^3) by shortest augmenting paths with potentials
 * (H. W. Kuhn 1955; R. Jonker and A. Volgenant 1987).
 */

/** For a square cost matrix: the column given to each row so that the sum is least. Infinite costs are not allowed. */
export function assign(cost: readonly (readonly number[])[]): number[] {
  const n = cost.length;
  const rowPotential = new Float64Array(n + 1);
  const columnPotential = new Float64Array(n + 1);
  const rowOfColumn = new Int32Array(n + 1);
  const way = new Int32Array(n + 1);
  for (let row = 1; row <= n; row++) {
    rowOfColumn[0] = row;
    let column = 0;
    const least = new Float64Array(n + 1).fill(Infinity);
    const used = new Uint8Array(n + 1);
    do {
      used[column] = 1;
      const atRow = rowOfColumn[column] as number;
      let delta = Infinity;
      let next = 0;
      for (let j = 1; j <= n; j++) {
        if (used[j]) continue;
        const reduced = (cost[atRow - 1]?.[j - 1] as number) - (rowPotential[atRow] as number) - (columnPotential[j] as number);
        if (reduced < (least[j] as number)) {
          least[j] = reduced;
          way[j] = column;
        }
        if ((least[j] as number) < delta) {
          delta = least[j] as number;
          next = j;
        }
      }
      for (let j = 0; j <= n; j++) {
        if (used[j]) {
          const r = rowOfColumn[j] as number;
          rowPotential[r] = (rowPotential[r] as number) + delta;
          columnPotential[j] = (columnPotential[j] as number) - delta;
        } else least[j] = (least[j] as number) - delta;
      }
      column = next;
    } while (rowOfColumn[column] !== 0);
    do {
      const before = way[column] as number;
      rowOfColumn[column] = rowOfColumn[before] as number;
      column = before;
    } while (column !== 0);
  }
  const columnOfRow = new Array<number>(n).fill(0);
  for (let j = 1; j <= n; j++) columnOfRow[(rowOfColumn[j] as number) - 1] = j - 1;
  return columnOfRow;
}
