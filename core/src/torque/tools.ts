/**
 * Which torque tools suit a figure. A tool is used from 20 % of its maximum up, and may deviate by 6 % up to 10 N·m, by 4 % above
 * (ISO 6789-1, from memory).
 */

export interface TorqueTool {
  readonly id: string;
  readonly minNewtonMetre: number;
  readonly maxNewtonMetre: number;
}

export interface JudgedTool {
  readonly id: string;
  readonly suitable: boolean;
  /** Why it does not suit; empty where it does. */
  readonly reason: string;
  readonly deviationPercent: number;
}

const LEAST_SHARE = 0.2;
const SMALL_NEWTON_METRE = 10;
const [SMALL_DEVIATION, LARGE_DEVIATION] = [6, 4];

/** Suitable ones first, the smallest first. */
export function judgeTools(specNewtonMetre: number, tolerancePercent: number, tools: readonly TorqueTool[]): JudgedTool[] {
  const judged = tools.map((tool) => ({ tool, verdict: judge(specNewtonMetre, tolerancePercent, tool) }));
  return judged
    .sort(
      (a, b) =>
        Number(b.verdict.suitable) - Number(a.verdict.suitable) ||
        a.tool.maxNewtonMetre - b.tool.maxNewtonMetre ||
        (a.tool.id < b.tool.id ? -1 : 1),
    )
    .map((j) => j.verdict);
}

export interface Cover {
  /** The fewest that together suit every figure that any of them suits, the smallest first. */
  readonly toolIds: readonly string[];
  /** Figures that none suits, N·m, ascending. */
  readonly without: readonly number[];
}

/** Which tools a whole job takes: two at least, as a rule, since none is used below 20 % of its maximum. */
export function coverTools(
  specs: readonly { readonly newtonMetre: number; readonly tolerancePercent: number }[],
  tools: readonly TorqueTool[],
): Cover {
  const suits = tools.map((tool) => specs.map((s) => judge(s.newtonMetre, s.tolerancePercent, tool).suitable));
  const able = specs.map((_, i) => suits.some((row) => row[i]));
  const without = [...new Set(specs.filter((_, i) => !able[i]).map((s) => s.newtonMetre))].sort((a, b) => a - b);
  const order = tools.map((_, i) => i).sort((a, b) => (tools[a]?.maxNewtonMetre ?? 0) - (tools[b]?.maxNewtonMetre ?? 0));
  const covers = (set: readonly number[]): boolean => specs.every((_, i) => !able[i] || set.some((t) => suits[t]?.[i]));
  for (let size = 0; size <= tools.length; size++) {
    const found = pick(order, size).find(covers);
    if (found) return { toolIds: found.map((t) => tools[t]?.id ?? ''), without };
  }
  return { toolIds: [], without };
}

/** Every choice of so many of a list, the earlier first. */
function pick<T>(list: readonly T[], size: number): T[][] {
  if (size === 0) return [[]];
  return list.flatMap((one, i) => pick(list.slice(i + 1), size - 1).map((rest) => [one, ...rest]));
}

/** Least and most that a tool is used for, in N·m. */
export function usableRange({ minNewtonMetre, maxNewtonMetre }: Omit<TorqueTool, 'id'>): readonly [number, number] {
  return [Math.max(minNewtonMetre, LEAST_SHARE * maxNewtonMetre), maxNewtonMetre];
}

function judge(spec: number, tolerancePercent: number, tool: TorqueTool): JudgedTool {
  const [least, most] = usableRange(tool);
  const deviationPercent = tool.maxNewtonMetre <= SMALL_NEWTON_METRE ? SMALL_DEVIATION : LARGE_DEVIATION;
  // 20 % of 50 is 10, whatever floating point makes of it
  const slack = 1e-9 * most;
  let reason = '';
  if (spec > most + slack) reason = `${show(spec)} N·m is above its ${show(most)} N·m.`;
  else if (spec < least - slack)
    reason =
      least > tool.minNewtonMetre
        ? `${show(spec)} N·m is below ${show(least)} N·m, 20 % of its maximum of ${show(most)} N·m.`
        : `${show(spec)} N·m is below its ${show(least)} N·m.`;
  else if (deviationPercent > tolerancePercent)
    reason = `It may deviate by ${deviationPercent} %, ${show(tolerancePercent)} % are allowed.`;
  return { id: tool.id, suitable: reason === '', reason, deviationPercent };
}

function show(value: number): string {
  return String(Number(value.toFixed(2)));
}
