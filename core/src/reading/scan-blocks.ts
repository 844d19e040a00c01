/**
 * Block voltages from a scan tool, divided by each block's own module count before they are compared. Tools that take all
 * blocks as equal call good packs bad when block sizes differ (common practice, no source).
 */
import { answer, refuse, type Result } from '../result.ts';
import { describeCrowd, findOutliers, median } from '../stats/robust.ts';

export interface ScanBlock {
  readonly id: string;
  readonly volt: number;
  readonly modules: number;
}

export interface JudgedBlock {
  readonly id: string;
  readonly voltPerModule: number;
  readonly modifiedZ: number;
  readonly outlier: boolean;
  /** Volts of the block less its module count times the crowd's median a module: below zero where it is low. */
  readonly deficitVolt: number;
  /** It is low by a cell: the same in a block of two and of four, however many modules hide it. */
  readonly deadCellSuspect: boolean;
}

export interface ScanBlocks {
  readonly items: readonly JudgedBlock[];
  /** What a tool that takes all blocks as equal would flag: those off the most common block voltage by more than 10 %. */
  readonly naiveOutliers: readonly string[];
}

/** Readings within this share of each other count as the same voltage when the most common one is sought. */
const SAME_SHARE = 0.05;
const CUTOFF = 3.5;
const NAIVE_SHARE = 0.1;

/** Nominal voltage of a nickel-metal hydride cell. */
export const NIMH_CELL_VOLT = 1.2;
/** So much of a cell's nominal voltage is missing where a cell is dead; the same rule as for single modules. */
const DEAD_SHARE = 0.8;

export interface ScanScale {
  /** Smallest step of the display, volt a block; a module's share of it is the smaller the more modules a block has. */
  readonly resolution?: number | undefined;
  readonly cellVolt?: number | undefined;
}

/** Normalises and judges blocks. Refusals: `empty`; `impossible` for a block of no modules. */
export function normaliseScanBlocks(
  blocks: readonly ScanBlock[],
  { resolution, cellVolt = NIMH_CELL_VOLT }: ScanScale = {},
): Result<ScanBlocks> {
  const bad = blocks.findIndex((b) => !(b.modules >= 1));
  if (bad >= 0) return refuse('impossible', `Block ${bad + 1} must hold at least one module.`, ['blocks', bad, 'modules']);
  const judged = findOutliers(blocks.map((b) => ({ id: b.id, value: b.volt / b.modules })));
  if (judged.kind === 'refused') return refuse(judged.code, 'A scan needs at least one block.', ['blocks']);
  const common = mostCommonVolt(blocks);
  const perModule = judged.value.items.map((i) => i.value);
  const middle = median(perModule);
  const zOf = (i: number): number => {
    if (resolution === undefined || blocks.length < 3) return judged.value.items[i]?.modifiedZ ?? 0;
    // the crowd's own spread, and never finer than a step of the display spread over the modules of this block
    const { scale } = describeCrowd(perModule, resolution / (blocks[i]?.modules ?? 1));
    return scale > 0 ? ((perModule[i] ?? middle) - middle) / scale : 0;
  };
  return answer({
    items: blocks.map(({ id, volt, modules }, i) => {
      const [modifiedZ, deficitVolt] = [zOf(i), volt - modules * middle];
      return {
        ...{ id, voltPerModule: volt / modules, modifiedZ, outlier: Math.abs(modifiedZ) > CUTOFF, deficitVolt },
        // a last digit of the display decides nothing
        deadCellSuspect: deficitVolt <= -DEAD_SHARE * cellVolt + 1e-9,
      };
    }),
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
