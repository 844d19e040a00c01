/** The exposure line of a job as a picture for print: what could be reached, over the stages, with the mark of 60 V. */
import type { Picture, Shape } from '../../drawing/picture.ts';
import type { Stage } from '../../pack/stage.ts';
import { drawLine } from './line-shape.ts';
import type { traceExposure } from './trace.ts';
import { LIVE_VOLT } from './volts.ts';

const [width, height] = [760, 120];

/** @param names how the shop calls the stages */
export function drawExposureLine(
  trace: ReturnType<typeof traceExposure>,
  stages: readonly Stage[],
  present: Stage,
  names: Readonly<Record<Stage, string>>,
): Picture {
  const line = drawLine({ ...trace, planned: [], stages, present, width, height });
  const shapes: Shape[] = [
    { kind: 'path', d: line.behind, line: 'fog', thick: 1, isDashed: true },
    { kind: 'path', d: `M0 ${line.markY.toFixed(1)}H${width}`, line: 'madder', thick: 0.6, isDashed: true },
    { kind: 'text', x: width, y: line.markY - 3, text: `${LIVE_VOLT} V DC`, size: 10, ink: 'madder', anchor: 'end' },
    { kind: 'path', d: line.done, line: 'channel', thick: 2.5 },
    ...line.peaks.map((p): Shape => ({ kind: 'text', x: p.x + 3, y: p.y - 3, text: `${p.volt.toFixed(0)} V`, size: 10, ink: 'ink', isFigure: true })), // prettier-ignore
    ...line.ticks.map((t): Shape => ({ kind: 'text', x: t.x + 2, y: height + 12, text: names[t.stage], size: 10, ink: 'fog' })),
  ];
  return { width, height: height + 18, shapes };
}
