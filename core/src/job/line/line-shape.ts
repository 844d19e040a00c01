/** The exposure line as shapes: stages side by side, acts evenly spaced within each, height by voltage. */
import { STAGES, type Stage } from '../../pack/stage.ts';
import type { TracePoint } from './trace.ts';
import { LIVE_VOLT } from './volts.ts';

export interface LineInput {
  readonly start: { readonly reachableVolt: number; readonly behindVolt: number };
  readonly done: readonly TracePoint[];
  readonly planned: readonly TracePoint[];
  readonly stages: readonly Stage[];
  readonly present: Stage;
  readonly width: number;
  readonly height: number;
}

export interface LineShape {
  /** Path of what was reachable, and what is planned. */
  readonly done: string;
  readonly planned: string;
  readonly behind: string;
  readonly markY: number;
  readonly marker: { readonly x: number; readonly y: number };
  readonly ticks: readonly { readonly stage: Stage; readonly x: number }[];
  readonly top: number;
  readonly floor: number;
  /** Highest voltage reached within each stage, for its label; 0 is left out. */
  readonly peaks: readonly { readonly x: number; readonly y: number; readonly volt: number }[];
}

const TOP = 14;
const FLOOR = 8;

/** Acts of each stage in order, the stated ones first; a revisited stage gets them appended. */
export function drawLine(input: LineInput): LineShape {
  const { stages, width, height, start } = input;
  const highest = Math.max(
    start.behindVolt,
    LIVE_VOLT * 1.5,
    ...[...input.done, ...input.planned].map((p) => Math.max(p.reachableVolt, p.behindVolt)),
  );
  const floor = height - FLOOR;
  const y = (volt: number): number => floor - (volt / highest) * (floor - TOP);
  const column = width / stages.length;
  const xOf = new Map<TracePoint, number>();
  for (const [index, stage] of stages.entries()) {
    const points = [...input.done, ...input.planned].filter((p) => p.stage === stage);
    points.forEach((p, i) => xOf.set(p, column * (index + (i + 1) / (points.length + 1))));
  }
  const inOrder = (points: readonly TracePoint[]): { x: number; point: TracePoint }[] =>
    points.map((point) => ({ x: xOf.get(point) ?? 0, point })).sort((a, b) => a.x - b.x);
  const done = inOrder(input.done);
  const presentIndex = Math.max(0, stages.indexOf(input.present));
  const presentX = Math.max(done.at(-1)?.x ?? 0, column * (presentIndex + 0.5));
  const now = input.done.at(-1) ?? start;
  const doneSteps = steps(
    0,
    start.reachableVolt,
    done.map((d) => [d.x, d.point.reachableVolt]),
    presentX,
    y,
  );
  const ahead = inOrder(input.planned).filter((p) => p.x > presentX);
  const plannedSteps = steps(
    presentX,
    now.reachableVolt,
    ahead.map((d) => [d.x, d.point.reachableVolt]),
    width,
    y,
  );
  const behindPoints = [...done, ...ahead].map((d): [number, number] => [d.x, d.point.behindVolt]);
  return {
    done: doneSteps,
    planned: plannedSteps,
    behind: steps(0, start.behindVolt, behindPoints, width, y),
    markY: y(LIVE_VOLT),
    marker: { x: presentX, y: y(now.reachableVolt) },
    ticks: STAGES.filter((s) => stages.includes(s)).map((stage) => ({ stage, x: column * stages.indexOf(stage) })),
    top: TOP,
    floor,
    peaks: thin(
      done
        .filter((d, i) => d.point.reachableVolt >= LIVE_VOLT && d.point.reachableVolt !== done[i - 1]?.point.reachableVolt)
        .map((d) => ({ x: d.x, y: y(d.point.reachableVolt), volt: d.point.reachableVolt })),
    ),
  };
}

/** Room that a label takes along the line. */
const LABEL = 36;

/** Of labels that would lie over one another the highest. */
function thin(peaks: LineShape['peaks']): LineShape['peaks'] {
  const kept: LineShape['peaks'][number][] = [];
  for (const peak of peaks.toSorted((a, b) => b.volt - a.volt)) if (kept.every((k) => Math.abs(k.x - peak.x) >= LABEL)) kept.push(peak);
  return kept.sort((a, b) => a.x - b.x);
}

function steps(
  fromX: number,
  fromVolt: number,
  points: readonly (readonly [number, number])[],
  toX: number,
  y: (volt: number) => number,
): string {
  let path = `M${fromX.toFixed(1)} ${y(fromVolt).toFixed(1)}`;
  for (const [x, volt] of points) path += `H${x.toFixed(1)}V${y(volt).toFixed(1)}`;
  return `${path}H${toX.toFixed(1)}`;
}
