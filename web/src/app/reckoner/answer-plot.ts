/** Curves that belong to an answer: what was asked, and what follows from it. */
import { dischargeVolt, type Decay, type Discharge, type TimedReading } from '@estuarine/core';
import type { PlotLine } from '../ui/plot.ts';

export interface AnswerPlot {
  readonly lines: readonly PlotLine[];
  readonly xTitle: string;
  readonly yTitle: string;
  readonly label: string;
}

const STEPS = 80;

/** Null where the calculation has no curve. */
export function plotAnswer(name: string, input: unknown, answer: unknown): AnswerPlot | null {
  if (name === 'isolate.discharge') return plotDischarge(input as { startVolt: number; limitVolt: number }, answer as Discharge);
  if (name === 'isolate.fitDecay') return plotDecay(input as { readings: TimedReading[]; limitVolt: number }, answer as Decay);
  return null;
}

function steps(from: number, to: number): number[] {
  return Array.from({ length: STEPS }, (_, i) => from + ((to - from) * i) / (STEPS - 1));
}

function plotDischarge({ startVolt, limitVolt }: { startVolt: number; limitVolt: number }, found: Discharge): AnswerPlot {
  const end = Math.max(found.secondsToLimit * 1.3, found.tauSecond);
  const x = steps(0, end);
  return {
    lines: [
      { kind: 'line', name: 'voltage', tone: 'channel', x, y: x.map((s) => dischargeVolt(startVolt, found.tauSecond, s)) },
      { kind: 'dash', name: `limit ${limitVolt} V`, tone: 'live', x: [0, end], y: [limitVolt, limitVolt] },
      { kind: 'dots', name: 'at the limit', tone: 'live', x: [found.secondsToLimit], y: [Math.min(startVolt, limitVolt)] },
    ],
    ...{ xTitle: 's', yTitle: 'V', label: `The voltage falls to the limit in ${found.secondsToLimit.toFixed(0)} s` },
  };
}

function plotDecay({ readings, limitVolt }: { readings: TimedReading[]; limitVolt: number }, found: Decay): AnswerPlot | null {
  const last = readings[readings.length - 1];
  if (!last) return null;
  const end = last.second + Math.max(found.secondsToLimit ?? 0, (last.second - (readings[0]?.second ?? 0)) * 0.2) * 1.1;
  const x = steps(readings[0]?.second ?? 0, end);
  const { tauSecond, startVolt } = found;
  const fitted: PlotLine[] =
    tauSecond !== null && startVolt !== null
      ? [{ kind: 'line', name: 'fitted', tone: 'channel', x, y: x.map((s) => dischargeVolt(startVolt, tauSecond, s)) }]
      : [];
  return {
    lines: [
      ...fitted,
      { kind: 'dots', name: 'read', tone: 'channel', x: readings.map((r) => r.second), y: readings.map((r) => Math.abs(r.volt)) },
      { kind: 'dash', name: `limit ${limitVolt} V`, tone: 'live', x: [x[0] ?? 0, end], y: [limitVolt, limitVolt] },
    ],
    ...{ xTitle: 's', yTitle: 'V', label: `Readings over time: ${found.verdict}` },
  };
}
