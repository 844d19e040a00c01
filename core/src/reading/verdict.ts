/**
 * Verdict of each module from the crowd it stands in. One-sided: bad is low voltage, high drop, high resistance, low
 * capacity; the other side only asks to check the reading. A verdict is worst-wins and every reason is kept, each as a
 * sentence with the numbers behind it. Statistics: Iglewicz and Hoaglin 1993; the floors are common practice, no source.
 */
import * as z from 'zod';
import { NOMINAL_CELL_VOLT, type Chemistry } from '../cell/battery-model.ts';
import { roundTo } from '../quantity/decimal.ts';
import { QUANTITIES, showQuantity } from '../quantity/module-quantities.ts';
import { describeCrowd, median } from '../stats/robust.ts';
import type { Doubt } from './doubt.ts';

export const VERDICTS = ['reject', 'watch', 'keep', 'unknown'] as const;
export type Verdict = (typeof VERDICTS)[number];

export const FIGURES = ['openCircuitVolt', 'restDropMillivolt', 'loadDropMillivolt', 'resistanceMilliohm', 'capacityAh'] as const;
export type Figure = (typeof FIGURES)[number];

const positive = z.number().positive().max(1e6);
const optionalLimit = z.number().min(0).max(1e6).nullable();

/** Limits of a shop: a policy that can be edited. Hard limits of null do not apply. */
export const verdictLimitsSchema = z.strictObject({
  watchZ: positive,
  rejectZ: positive,
  /** From where the voltage of an open-circuit reading alone rejects; null: it only makes a module suspect, and something else must confirm it. */
  openCircuitRejectZ: positive.nullable().default(null),
  /** Fewest readings of a figure that make a crowd. */
  crowdSize: z.int().min(3).max(1000),
  floorOpenCircuitMillivolt: z.number().min(0).max(1e6),
  floorDropMillivolt: z.number().min(0).max(1e6),
  floorResistanceShare: z.number().min(0).max(10),
  floorCapacityShare: z.number().min(0).max(10),
  /** A dead cell: this share of one cell's nominal voltage below the median. */
  deadCellShare: z.number().positive().max(2),
  /** A rest of fewer hours is not judged: what a module loses at first says little (common practice, no source). */
  leastRestHour: z.number().min(0).max(1000).default(1),
  minOpenCircuitVolt: optionalLimit,
  maxRestDropMillivolt: optionalLimit,
  maxResistanceMilliohm: optionalLimit,
  minCapacityAh: optionalLimit,
});
export type VerdictLimits = z.infer<typeof verdictLimitsSchema>;

export const DEFAULT_LIMITS: VerdictLimits = {
  watchZ: 2.5,
  rejectZ: 3.5,
  openCircuitRejectZ: null,
  crowdSize: 8,
  floorOpenCircuitMillivolt: 10,
  floorDropMillivolt: 15,
  floorResistanceShare: 0.1,
  floorCapacityShare: 0.05,
  deadCellShare: 0.8,
  leastRestHour: 1,
  minOpenCircuitVolt: null,
  maxRestDropMillivolt: null,
  maxResistanceMilliohm: null,
  minCapacityAh: null,
};

/** What is known of one module; a missing figure was not measured. */
export interface ModuleFigures {
  readonly place: number;
  readonly figures: Partial<Record<Figure, number>>;
}

export interface VerdictReason {
  readonly figure: Figure;
  readonly rule: 'crowd' | 'deadCell' | 'hardLimit' | 'otherSide';
  readonly verdict: Verdict;
  readonly sentence: string;
  readonly value: number;
  /** Of the crowd; null for a hard limit. */
  readonly median: number | null;
  readonly scale: number | null;
  /** Positive is the bad side. */
  readonly modifiedZ: number | null;
  readonly limit: number;
  readonly unit: string;
}

export interface ModuleVerdict {
  readonly place: number;
  readonly verdict: Verdict;
  /** What decided it comes first. */
  readonly reasons: readonly VerdictReason[];
  /** The other side of the crowd: good beyond belief, so the reading is questioned, not the module. */
  readonly notes: readonly VerdictReason[];
  readonly doubts: readonly Doubt[];
}

interface FigureRule {
  /** How a sentence about it begins. */
  readonly begins: string;
  readonly floor: (limits: VerdictLimits, median: number) => number;
  readonly hard: (limits: VerdictLimits) => number | null;
}

const RULES: Record<Figure, FigureRule> = {
  openCircuitVolt: { begins: 'It reads', floor: (l) => l.floorOpenCircuitMillivolt / 1000, hard: (l) => l.minOpenCircuitVolt },
  restDropMillivolt: { begins: 'At rest it lost', floor: (l) => l.floorDropMillivolt, hard: (l) => l.maxRestDropMillivolt },
  loadDropMillivolt: { begins: 'Under load it dipped', floor: (l) => l.floorDropMillivolt, hard: () => null },
  resistanceMilliohm: {
    begins: 'Its resistance is',
    floor: (l, m) => l.floorResistanceShare * Math.abs(m),
    hard: (l) => l.maxResistanceMilliohm,
  },
  capacityAh: { begins: 'It gave', floor: (l, m) => l.floorCapacityShare * Math.abs(m), hard: (l) => l.minCapacityAh },
};

/** The difference from the crowd's middle that never counts against a module, in the figure's unit. */
export function figureFloor(figure: Figure, limits: VerdictLimits, median: number): number {
  return RULES[figure].floor(limits, median);
}

/** The unit and decimals a figure is shown with. */
export function figureFormat(figure: Figure): { readonly unit: string; readonly digits: number } {
  const { unit, digits } = QUANTITIES[figure];
  return { unit, digits };
}

/**
 * Judges every module of a pack or a pool.
 * @param modules what was measured, in string order
 * @param doubts what speaks against a reading, shown before a module is condemned
 * @param resolutions of the instruments by figure, in the figure's unit; the crowd's scale never falls below it
 */
export function judgeModules(
  modules: readonly ModuleFigures[],
  chemistry: Chemistry,
  limits: VerdictLimits,
  doubts: readonly Doubt[] = [],
  resolutions: Partial<Record<Figure, number>> = {},
): ModuleVerdict[] {
  const reasons = new Map<number, VerdictReason[]>(modules.map((m) => [m.place, []]));
  const add = (place: number, reason: VerdictReason): unknown => reasons.get(place)?.push(reason);
  for (const figure of FIGURES) {
    const resolution = resolutions[figure] ?? QUANTITIES[figure].resolution;
    const measured = modules.flatMap((m) => {
      const value = m.figures[figure];
      return value === undefined ? [] : [{ place: m.place, value: roundTo(value, resolution) }];
    });
    judgeByHardLimit(figure, measured, limits, add);
    if (figure === 'openCircuitVolt') judgeDeadCells(measured, chemistry, limits, add);
    if (measured.length >= limits.crowdSize) judgeByCrowd(figure, measured, limits, resolution, add);
  }
  return modules.map(({ place }) => {
    const all = reasons.get(place) ?? [];
    const ranked = all.filter((r) => r.rule !== 'otherSide').sort((a, b) => VERDICTS.indexOf(a.verdict) - VERDICTS.indexOf(b.verdict));
    return {
      place,
      verdict: ranked[0]?.verdict ?? 'unknown',
      reasons: isRejected(ranked) ? ranked.map(withoutDoubt) : ranked,
      notes: all.filter((r) => r.rule === 'otherSide'),
      doubts: doubts.filter((d) => d.places.includes(place)),
    };
  });
}

/** Whether a verdict speaks against a module. */
export function isAgainst(verdict: Verdict): boolean {
  return verdict === 'reject' || verdict === 'watch';
}

/** Everything that speaks against a module, the worst first; empty where nothing does. */
export function sentencesAgainst({ reasons }: Pick<ModuleVerdict, 'reasons'>): string[] {
  return reasons.filter((r) => isAgainst(r.verdict)).map((r) => r.sentence);
}

interface Measured {
  readonly place: number;
  readonly value: number;
}
type Add = (place: number, reason: VerdictReason) => unknown;

function judgeByHardLimit(figure: Figure, measured: readonly Measured[], limits: VerdictLimits, add: Add): void {
  const limit = RULES[figure].hard(limits);
  const { bad, unit } = QUANTITIES[figure];
  if (limit === null) return;
  for (const { place, value } of measured) {
    if (bad * (value - limit) <= 0) continue;
    const side = bad > 0 ? 'above' : 'below';
    add(place, {
      ...{ figure, rule: 'hardLimit', verdict: 'reject', value, median: null, scale: null, modifiedZ: null, limit, unit },
      sentence: `${RULES[figure].begins} ${showQuantity(figure, value)}, ${side} the shop's limit of ${showQuantity(figure, limit)}.`,
    });
  }
}

function judgeDeadCells(measured: readonly Measured[], chemistry: Chemistry, limits: VerdictLimits, add: Add): void {
  if (measured.length < 3) return;
  const show = (volt: number): string => showQuantity('openCircuitVolt', volt);
  const middle = median(measured.map((m) => m.value));
  const limit = limits.deadCellShare * NOMINAL_CELL_VOLT[chemistry];
  for (const { place, value } of measured) {
    const short = middle - value;
    if (!(short > limit)) continue;
    const cells = Math.max(1, Math.round(short / NOMINAL_CELL_VOLT[chemistry]));
    add(place, {
      ...{ figure: 'openCircuitVolt', rule: 'deadCell', verdict: 'reject', value, median: middle, scale: null, modifiedZ: null },
      ...{ limit, unit: 'V' },
      sentence: `It reads ${show(value)}, ${short.toFixed(2)} V below the others (${show(middle)}): ${cells === 1 ? 'one cell is' : `${cells} cells are`} dead.`,
    });
  }
}

function isRejected(reasons: readonly VerdictReason[]): boolean {
  return reasons.some((r) => r.verdict === 'reject');
}

/** A module that is rejected by a rule is not at the same time let off for want of a second figure. */
function withoutDoubt(reason: VerdictReason): VerdictReason {
  return reason.sentence.endsWith(CONFIRM) ? { ...reason, sentence: reason.sentence.slice(0, -CONFIRM.length) } : reason;
}

const CONFIRM = ' One voltage alone rejects nothing: let it rest, load it or measure its capacity.';

function judgeByCrowd(figure: Figure, measured: readonly Measured[], limits: VerdictLimits, resolution: number, add: Add): void {
  const { median: middle, scale } = describeCrowd(
    measured.map((m) => m.value),
    resolution,
  );
  const floor = figureFloor(figure, limits, middle);
  // one voltage tells the charge a module has, not yet its health
  const isSuspectOnly = figure === 'openCircuitVolt' && limits.openCircuitRejectZ === null;
  const rejectZ = figure === 'openCircuitVolt' ? (limits.openCircuitRejectZ ?? Infinity) : limits.rejectZ;
  const { bad, unit } = QUANTITIES[figure];
  // differences carry no more digits than the readings: without this, 15 mV could exceed a floor of 15 mV by rounding
  const slack = resolution / 1000;
  for (const { place, value } of measured) {
    const worse = bad * (value - middle);
    const modifiedZ = scale > 0 ? worse / scale : 0;
    const counts = Math.abs(worse) > floor + slack;
    const side = counts && modifiedZ <= -limits.watchZ;
    const verdict: Verdict = counts && modifiedZ >= rejectZ ? 'reject' : counts && modifiedZ >= limits.watchZ ? 'watch' : 'keep';
    const limit = verdict === 'watch' || isSuspectOnly ? limits.watchZ : rejectZ;
    const crowd = `${RULES[figure].begins} ${showQuantity(figure, value)}; the others ${showQuantity(figure, middle)}.`;
    const base = { figure, value, median: middle, scale, modifiedZ, limit, unit };
    if (side)
      add(place, { ...base, rule: 'otherSide', verdict: 'keep', sentence: `${crowd} That is too good to pass unread: check the reading.` });
    add(place, {
      ...base,
      rule: 'crowd',
      verdict,
      sentence: verdict === 'keep' ? crowd : `${crowd} Modified z ${modifiedZ.toFixed(1)}, limit ${limit}.${isSuspectOnly ? CONFIRM : ''}`,
    });
  }
}
