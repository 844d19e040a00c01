/**
 * Block voltages from a scan tool, divided by each block's own module count before they are compared. Tools that take all
 * blocks as equal call good packs bad when block sizes differ (common practice, no source).
 */
import { answer, refuse, type Result } from '../result.ts';
import { findOutliers } from '../stats/robust.ts';

export interface ScanBlock {
  readonly id: string;
  readonly volt: number;
  readonly modules: number;
}

export interface ScanBlocks {
  readonly items: readonly { readonly id: string; readonly voltPerModule: number; readonly modifiedZ: number; readonly outlier: boolean }[];
  /** What a tool that takes all blocks as equal would flag: those off the most common block voltage by more than 10 %. */
  readonly naiveOutliers: readonly string[];
}

/** Readings within this share of each other count as the same voltage when the most common one is sought. */
const SAME_SHARE = 0.05;
const NAIVE_SHARE = 0.1;

/** Normalises and judges blocks. Refusals: `empty`; `impossible` for a block of no modules. */
export function normaliseScanBlocks(blocks: readonly ScanBlock[]): Result<ScanBlocks> {
  const bad = blocks.findIndex((b) => !(b.modules >= 1));
  if (bad >= 0) return refuse('impossible', `Block ${bad + 1} must hold at least one module.`, ['blocks', bad, 'modules']);
  const judged = findOutliers(blocks.map((b) => ({ id: b.id, value: b.volt / b.modules })));
  if (judged.kind === 'refused') return refuse(judged.code, 'A scan needs at least one block.', ['blocks']);
  const common = mostCommonVolt(blocks);
  return answer({
    items: judged.value.items.map(({ id, value, modifiedZ, outlier }) => ({ id, voltPerModule: value, modifiedZ, outlier })),
    naiveOutliers: blocks.filter((b) => Math.abs(b.volt - common) > NAIVE_SHARE * Math.abs(common)).map((b) => b.id),
  });
}

/** The reading with most others within 5 % of it; the lowest on a tie. */
function mostCommonVolt(blocks: readonly ScanBlock[]): number {
  let best = { count: -1, volt: 0 };
  for (const { volt } of blocks) {
    const count = blocks.filter((b) => Math.abs(b.volt - volt) <= SAME_SHARE * Math.abs(volt)).length;
    if (count > best.count || (count === best.count && volt < best.volt)) best = { count, volt };
  }
  return best.volt;
}
