/**
 * In which order bars go on so that as little as possible stands in the string for as long as possible: first as many acts as can be
 * before the limit is reached, then the least sum of voltages over the acts, which is the area under the line that screens draw.
 */
import { answer, refuse, type Result } from '../result.ts';

export interface BarsOrderInput {
  /** Voltage of each module, string order. */
  readonly volts: readonly number[];
  /** What goes on in one act: a bar alone, or a frame that closes all its links when it is laid. Links are disjoint. */
  readonly acts: readonly { readonly id: string; readonly links: readonly number[] }[];
  /** Links that are closed already. */
  readonly closed?: readonly number[] | undefined;
  /** From here on it counts as live, volt. */
  readonly limitVolt?: number | undefined;
}

export interface BarsOrder {
  readonly order: readonly string[];
  /** Highest voltage of any run of joined modules after each act. */
  readonly volts: readonly number[];
  /** Acts after which it is still below the limit. */
  readonly actsBelow: number;
  /** Every order was weighed; otherwise the order is good, and no better one was looked for. */
  readonly proven: boolean;
}

/** Up to here every subset of acts is weighed: 2^14 sets of 14 acts are some 20 ms. */
const MOST_WEIGHED = 14;
/** Volts are weighed in whole microvolt, so that sums taken in another order are equal. */
const MICRO = 1e6;

/**
 * Refusals: `impossible` for a link that is not there or a voltage below zero, `mismatch` for a link that is closed twice, `tooLarge`.
 * @example orderBars({ volts: [8, 8, 8, 8], acts: [{ id: '2', links: [2] }, { id: '1', links: [1] }, { id: '3', links: [3] }] }).value.order // ['1', '3', '2']
 */
export function orderBars(input: BarsOrderInput): Result<BarsOrder> {
  const { volts, acts, closed = [], limitVolt = 60 } = input;
  if (volts.length < 2) return refuse('empty', 'A string has at least two modules.', ['volts']);
  if (volts.length > 200 || acts.length > 200) return refuse('tooLarge', 'Up to 200 modules and 200 acts are ordered.', ['acts']);
  const odd = volts.findIndex((v) => !(v >= 0));
  if (odd >= 0) return refuse('impossible', `Module ${odd + 1} cannot stand at ${volts[odd]} V here.`, ['volts', odd]);
  const seen = new Set(closed);
  for (const [i, act] of acts.entries())
    for (const [k, link] of act.links.entries()) {
      if (!Number.isInteger(link) || link < 1 || link >= volts.length)
        return refuse('impossible', `There is no link ${link}.`, ['acts', i, 'links', k]);
      if (seen.has(link)) return refuse('mismatch', `Link ${link} is closed twice.`, ['acts', i, 'links', k]);
      seen.add(link);
    }
  const micro = volts.map((v) => Math.round(v * MICRO));
  // of each link which act closes it; -1 where it is closed already
  const closers = new Map([
    ...closed.map((link) => [link, -1] as const),
    ...acts.flatMap((a, k) => a.links.map((link) => [link, k] as const)),
  ]);
  const highest = (isOn: (act: number) => boolean): number =>
    findHighest(micro, (link) => {
      const closer = closers.get(link);
      return closer !== undefined && (closer === -1 || isOn(closer));
    });
  const limit = limitVolt * MICRO;
  const order = acts.length <= MOST_WEIGHED ? weighAll(acts.length, highest, limit) : growLeast(acts.length, highest);
  const on = new Set<number>();
  const after = order.map((act) => {
    on.add(act);
    return highest((other) => on.has(other)) / MICRO;
  });
  return answer({
    order: order.map((i) => acts[i]?.id ?? ''),
    volts: after,
    actsBelow: after.filter((v) => v < limitVolt).length,
    proven: acts.length <= MOST_WEIGHED,
  });
}

/** The highest that stands once these acts are on, microvolt. */
type Highest = (isOn: (act: number) => boolean) => number;

/** The highest sum of a run of modules joined by these links. */
function findHighest(micro: readonly number[], isJoined: (link: number) => boolean): number {
  let [highest, sum] = [0, 0];
  for (const [i, volt] of micro.entries()) {
    sum += volt;
    highest = Math.max(highest, sum);
    if (!isJoined(i + 1)) sum = 0;
  }
  return highest;
}

/** Over all sets of acts: what came before matters only by which they were. */
function weighAll(acts: number, highest: Highest, limit: number): number[] {
  const full = (1 << acts) - 1;
  // of each set: most acts below the limit, then the least sum, then which act came last
  const best: { below: number; sum: number; last: number }[] = [{ below: 0, sum: 0, last: -1 }];
  for (let set = 1; set <= full; set++) {
    const here = highest((act) => ((set >> act) & 1) === 1);
    let found = { below: -1, sum: Infinity, last: -1 };
    for (let i = 0; i < acts; i++) {
      const before = (set >> i) & 1 ? best[set & ~(1 << i)] : undefined;
      if (!before) continue;
      const [below, sum] = [before.below + (here < limit ? 1 : 0), before.sum + here];
      // on a tie the later act of the list comes last
      if (below > found.below || (below === found.below && sum <= found.sum)) found = { below, sum, last: i };
    }
    best[set] = found;
  }
  const order: number[] = [];
  for (let set = full; set > 0; set &= ~(1 << (order[0] ?? 0))) order.unshift(best[set]?.last ?? 0);
  return order;
}

/** The act that brings least, each time. */
function growLeast(acts: number, highest: Highest): number[] {
  const on = new Set<number>();
  while (on.size < acts) {
    let best = { act: -1, volt: Infinity };
    for (let act = 0; act < acts; act++) {
      if (on.has(act)) continue;
      const volt = highest((other) => other === act || on.has(other));
      if (volt < best.volt) best = { act, volt };
    }
    on.add(best.act);
  }
  return [...on];
}
