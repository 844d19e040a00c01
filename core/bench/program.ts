/** The arrangement as an integer program in LP format: one binary for each module and block. */
export function toProgram(modules: readonly { readonly capacityAh: number }[], sizes: readonly number[]): string {
  const x = (i: number, b: number): string => `x_${i}_${b}`;
  const each = modules.map((_, i) => ` a${i}: ${sizes.map((_, b) => x(i, b)).join(' + ')} = 1`);
  const full = sizes.map((size, b) => ` f${b}: ${modules.map((_, i) => x(i, b)).join(' + ')} = ${size}`);
  const mean = (b: number): string => modules.map((m, i) => `${(m.capacityAh / (sizes[b] as number)).toFixed(9)} ${x(i, b)}`).join(' + ');
  const bound = sizes.flatMap((_, b) => [` h${b}: ${mean(b)} - high <= 0`, ` l${b}: ${mean(b)} - low >= 0`]);
  const names = modules.flatMap((_, i) => sizes.map((_, b) => x(i, b)));
  return `Minimize\n obj: high - low\nSubject To\n${[...each, ...full, ...bound].join('\n')}\nBounds\n high free\n low free\nBinary\n ${names.join(' ')}\nEnd\n`;
}
