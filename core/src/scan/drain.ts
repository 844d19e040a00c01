/**
 * Capacity asked in the car: the pack is charged, then drained at a steady current. What comes is a window of its charge, never its
 * capacity; the share of new capacity is told with the window and with how far it can be off. Common practice, no source.
 */
import { answer, refuse, type Result } from '../result.ts';
import { integrateCapacity } from '../reading/capacity.ts';

export interface DrainSample {
  readonly second: number;
  /** Discharge positive, as measured. */
  readonly ampere: number;
  readonly blockVolts: readonly number[];
}

export interface DrainAsked {
  readonly samples: readonly DrainSample[];
  /** Shares of charge that the car shows at both ends, percent. */
  readonly startPercent: number;
  readonly endPercent: number;
  readonly newCapacityAh: number;
  /** Smallest step of the charge that the car shows, percent. */
  readonly stepPercent: number;
  /** What the current may be off by, as a share of it. */
  readonly ampereShare: number;
  /** Modules in each block. */
  readonly blocks: readonly number[];
}

export interface DrainFound {
  readonly ampereHour: number;
  readonly seconds: number;
  readonly meanAmpere: number;
  /** Share of a full charge that was drawn, by the car's own word. */
  readonly windowShare: number;
  /** Share of new capacity, with the least and the most that the steps of the display allow. */
  readonly share: number;
  readonly leastShare: number;
  /** Null: the steps of the display allow any. */
  readonly mostShare: number | null;
  /** The block that was lowest a module at the end, from 1. */
  readonly endsAtBlock: number;
  /** Volt a module between the highest and the lowest block at the end. */
  readonly spreadVolt: number;
}

const MOST_HOURS = 24;

/** Refusals: `empty` under two samples; `impossible` for times that do not rise, a window that is none, or blocks that differ. */
export function findDrain(asked: DrainAsked): Result<DrainFound> {
  const { samples, startPercent, endPercent, newCapacityAh, stepPercent, ampereShare, blocks } = asked;
  const last = samples.at(-1);
  if (samples.length < 2 || !last) return refuse('empty', 'A drain has at least two samples.', ['samples']);
  const odd = samples.findIndex((s) => s.blockVolts.length !== blocks.length);
  if (odd >= 0)
    return refuse('mismatch', `Sample ${odd + 1} has ${samples[odd]?.blockVolts.length} blocks, the pack ${blocks.length}.`, [
      'samples',
      odd,
    ]);
  const drawn = integrateCapacity(
    samples.map((s) => [s.second, s.ampere, s.blockVolts.reduce((a, b) => a + b, 0)] as const),
    Number.NEGATIVE_INFINITY,
  );
  if (drawn.kind === 'refused') return drawn;
  const { ampereHour, seconds } = drawn.value;
  if (seconds > MOST_HOURS * 3600) return refuse('tooLarge', `A drain of more than ${MOST_HOURS} h is none.`, ['samples']);
  const window = startPercent - endPercent;
  if (!(window > 0))
    return refuse('impossible', `The charge shown went from ${startPercent} to ${endPercent} %: nothing was drained.`, ['endPercent']);
  if (!(ampereHour > 0)) return refuse('impossible', 'More was charged than drained meanwhile.', ['samples']);
  const shareAt = (percent: number, ah: number): number => shareOfNew(ah, percent, newCapacityAh);
  const perModule = last.blockVolts.map((v, i) => v / (blocks[i] ?? 1));
  const lowest = Math.min(...perModule);
  return answer({
    ampereHour,
    seconds,
    meanAmpere: (3600 * ampereHour) / seconds,
    windowShare: window / 100,
    share: shareAt(window, ampereHour),
    leastShare: shareAt(window + stepPercent, ampereHour * (1 - ampereShare)),
    mostShare: window > stepPercent ? shareAt(window - stepPercent, ampereHour * (1 + ampereShare)) : null,
    endsAtBlock: perModule.indexOf(lowest) + 1,
    spreadVolt: Math.max(...perModule) - lowest,
  });
}

/** Share of new capacity that a window of so many percent tells of, if the rest of the charge is alike. */
export function shareOfNew(ampereHour: number, windowPercent: number, newCapacityAh: number): number {
  return (100 * ampereHour) / (windowPercent * newCapacityAh);
}

/** What must be alike before one drain is held against another. */
export interface DrainConditions {
  readonly startPercent: number;
  readonly meanAmpere: number;
  /** Of the pack at the start. */
  readonly celsius: number;
  readonly isCabinCooled: boolean;
  readonly isTwelveVoltSupported: boolean;
  readonly reader: string;
  readonly readerVersion: string;
}

const ALIKE = { percent: 5, ampereShare: 0.1, celsius: 5 } as const;

/** What differs between two drains, as words; empty where they may be compared. */
export function findUnlike(a: DrainConditions, b: DrainConditions): string[] {
  const say = (isUnlike: boolean, words: string): string[] => (isUnlike ? [words] : []);
  const yes = (is: boolean): string => (is ? 'on' : 'off');
  return [
    ...say(Math.abs(a.startPercent - b.startPercent) > ALIKE.percent, `charge at the start, ${a.startPercent} and ${b.startPercent} %`),
    ...say(
      Math.abs(a.meanAmpere - b.meanAmpere) > ALIKE.ampereShare * Math.max(Math.abs(a.meanAmpere), Math.abs(b.meanAmpere)),
      `current, ${a.meanAmpere.toFixed(1)} and ${b.meanAmpere.toFixed(1)} A`,
    ),
    ...say(Math.abs(a.celsius - b.celsius) > ALIKE.celsius, `temperature, ${a.celsius} and ${b.celsius} °C`),
    ...say(a.isCabinCooled !== b.isCabinCooled, `cabin cooling, ${yes(a.isCabinCooled)} and ${yes(b.isCabinCooled)}`),
    ...say(
      a.isTwelveVoltSupported !== b.isTwelveVoltSupported,
      `12 V support, ${yes(a.isTwelveVoltSupported)} and ${yes(b.isTwelveVoltSupported)}`,
    ),
    ...say(a.reader !== b.reader, `reader, ${a.reader} and ${b.reader}`),
    ...say(
      a.reader === b.reader && a.readerVersion !== b.readerVersion,
      `version of the reader, ${a.readerVersion} and ${b.readerVersion}`,
    ),
  ];
}
