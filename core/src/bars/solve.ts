/**
 * The solution of a square set of linear equations by elimination with partial pivoting.
 * @param matrix one row an equation, its right side last; it is used up
 */
export function solveLinear(matrix: readonly Float64Array[]): number[] {
  const size = matrix.length;
  const rows = [...matrix];
  for (let k = 0; k < size; k++) {
    let best = k;
    for (let i = k + 1; i < size; i++) if (Math.abs(rows[i]?.[k] ?? 0) > Math.abs(rows[best]?.[k] ?? 0)) best = i;
    const pivot = rows[best] as Float64Array;
    [rows[k], rows[best]] = [pivot, rows[k] as Float64Array];
    for (let i = k + 1; i < size; i++) {
      const row = rows[i] as Float64Array;
      const factor = (row[k] as number) / (pivot[k] as number);
      if (factor === 0) continue;
      for (let j = k; j <= size; j++) row[j] = (row[j] as number) - factor * (pivot[j] as number);
    }
  }
  const solution = Array.from({ length: size }, () => 0);
  for (let k = size - 1; k >= 0; k--) {
    const row = rows[k] as Float64Array;
    let sum = row[size] as number;
    for (let j = k + 1; j < size; j++) sum -= (row[j] as number) * (solution[j] as number);
    solution[k] = sum / (row[k] as number);
  }
  return solution;
}
