/** What a scan says, told right: blocks by their own modules, beside the bench, the wiring that explains them, and bars by two loads. */
import { blockPlaces, type Profile } from '../../pack/profile.ts';
import { DEFAULT_LIMITS } from '../../reading/verdict.ts';
import { NIMH_CELL_VOLT, normaliseScanBlocks, type ScanBlocks } from '../../reading/scan-blocks.ts';
import { findBarRests, type BarRest } from '../../scan/bar-rest.ts';
import { blockStepVolt } from '../../scan/scan-map.ts';
import { explainWiring, type Explanation } from '../../scan/wiring.ts';
import { recordModules } from '../chapters/sweep/view.ts';
import { restingVolts, type JobState } from '../frame/state.ts';

export type KeptScan = JobState['refit']['scanned'][number];

export interface PackSums {
  /** Null where it is not whole, or not said. */
  readonly readerVolt: number | null;
  readonly blocksVolt: number | null;
  readonly benchVolt: number | null;
  /** Two of them differ by more than any charge explains: by a factor, as a wrong map does. */
  readonly isMapWrong: boolean;
}

export interface ScanView {
  readonly scan: KeptScan;
  /** Null where the scan has no whole set of blocks. */
  readonly blocks: ScanBlocks | null;
  /** The pack as the reader says it, as its blocks add up, and as the bench measured its modules; null where none of them can be held against another. */
  readonly sums: PackSums | null;
  /** The best explanation of the wiring first; empty where the bench did not measure every module. */
  readonly wiring: readonly Explanation[];
  /** By the last two scans at different currents; null where there are none. */
  readonly bars: { readonly light: KeptScan; readonly heavy: KeptScan; readonly rests: readonly BarRest[] } | null;
}

/** Currents that lie so far apart tell a resistance. */
const LEAST_STEP_AMPERE = 10;
/** Two meters seldom agree better than this on a block, volt. */
const METER_VOLT = 0.08;
/** No charge makes so much of a difference; a map that is off by two does. */
const OFF_BY = 1.6;
const LIION_CELL_VOLT = 3.6;

/** Of the last scan; null before the first. */
export function viewScan(state: JobState, profile: Profile): ScanView | null {
  const { scanned } = state.refit;
  const scan = scanned.at(-1);
  if (!scan) return null;
  const step = profile.scan ? blockStepVolt(profile.scan) : 0;
  const volts = wholeBlocks(scan, profile);
  const cellVolt = profile.moduleType.chemistry === 'nimh' ? NIMH_CELL_VOLT : LIION_CELL_VOLT;
  const judged = volts
    ? normaliseScanBlocks(
        volts.map((volt, i) => ({ id: `${i + 1}`, volt, modules: profile.blocks[i] ?? 1 })),
        { resolution: step > 0 ? step : undefined, cellVolt },
      )
    : null;
  const bench = restingVolts(state).filter((v): v is number => v !== null);
  const isBenchWhole = bench.length === profile.moduleCount;
  return {
    scan,
    blocks: judged?.kind === 'answer' ? judged.value : null,
    sums: addUp(scan, volts, isBenchWhole ? bench : null),
    wiring: volts && isBenchWhole ? explain(volts, bench, profile, Math.max(step, METER_VOLT)) : [],
    bars: findBars(state, profile, step),
  };
}

function addUp({ packVolt }: KeptScan, blocks: readonly number[] | null, bench: readonly number[] | null): PackSums | null {
  const total = (list: readonly number[] | null): number | null => list?.reduce((a, b) => a + b, 0) ?? null;
  const [blocksVolt, benchVolt] = [total(blocks), total(bench)];
  const said = [packVolt, blocksVolt, benchVolt].filter((v): v is number => v !== null);
  if (said.length < 2) return null;
  const share = Math.max(...said) / Math.min(...said);
  return { readerVolt: packVolt, blocksVolt, benchVolt, isMapWrong: !(share > 0 && share < OFF_BY) };
}

function wholeBlocks(scan: KeptScan, { blocks }: Profile): readonly number[] | null {
  const volts = scan.blockVolts.filter((v): v is number => v !== null);
  return volts.length === blocks.length ? volts : null;
}

function explain(
  scannedVolts: readonly number[],
  moduleVolts: readonly number[],
  { blocks }: Profile,
  toleranceVolt: number,
): readonly Explanation[] {
  const found = explainWiring({ scannedVolts, moduleVolts, blocks, toleranceVolt });
  return found.kind === 'answer' ? found.value : [];
}

function findBars(state: JobState, profile: Profile, step: number): ScanView['bars'] {
  const whole = state.refit.scanned.filter((s) => s.ampere !== null && wholeBlocks(s, profile) !== null);
  const last = whole.at(-1);
  const before = whole.findLast((s) => Math.abs((s.ampere ?? 0) - (last?.ampere ?? 0)) >= LEAST_STEP_AMPERE);
  if (!last || !before) return null;
  const [light, heavy] = (before.ampere ?? 0) < (last.ampere ?? 0) ? [before, last] : [last, before];
  const figures = recordModules(state, profile, DEFAULT_LIMITS).map(
    (r) => r.figures.resistanceMilliohm ?? profile.moduleType.typicalMilliohm,
  );
  const modules = blockPlaces(profile.blocks).map(({ from, to }) => figures.slice(from - 1, to).reduce((a, b) => a + b, 0));
  const load = (s: KeptScan) => ({ ampere: s.ampere ?? 0, volts: wholeBlocks(s, profile) ?? [] });
  const rests = findBarRests(load(light), load(heavy), modules, profile.blocks, step);
  return rests.kind === 'answer' ? { light, heavy, rests: rests.value } : null;
}
