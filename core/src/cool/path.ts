/** How much of a whole path is shut, from what each part of it is: parts in a row resist one after the other, twins stand side by side. */

export interface PathPart {
  readonly kind: string;
  /** Share of it that is shut, 0 to below 1. */
  readonly blockedShare: number;
}

/**
 * A part that lets (1 - b) through resists by 1 / (1 - b)². Parts of one kind next to each other, such as a left and a right filter, share
 * the air. Clean, every part resists alike; an empty path is open.
 * @example findPathShare([{ kind: 'fan', blockedShare: 0.5 }, { kind: 'cells', blockedShare: 0 }]) // 0.37
 */
export function findPathShare(parts: readonly PathPart[]): number {
  const groups: number[][] = [];
  for (const [i, { kind, blockedShare }] of parts.entries()) {
    const open = 1 - blockedShare;
    const group = groups.at(-1);
    if (group && parts[i - 1]?.kind === kind) group.push(open);
    else groups.push([open]);
  }
  if (groups.length === 0) return 0;
  const opens = groups.map((g) => g.reduce((sum, o) => sum + o, 0) / g.length);
  if (opens.some((o) => o <= 0)) return 1;
  const resistance = opens.reduce((sum, o) => sum + 1 / (o * o), 0) / groups.length;
  return 1 - 1 / Math.sqrt(resistance);
}
