import type { Stage } from '../../pack/stage.ts';
import { drawLine, type LineInput } from './line-shape.ts';
import type { TracePoint } from './trace.ts';

const point = (stage: Stage, reachableVolt: number, behindVolt = reachableVolt): TracePoint => ({
  ...{ stage, reachableVolt, behindVolt, number: null, cause: 'lapsed' },
});
/** Four columns of 100, and half a unit of height a volt where 172 V is the highest: the floor is 100 and the top 14. */
const PLAIN: LineInput = {
  start: { reachableVolt: 0, behindVolt: 172 },
  ...{ done: [], planned: [], stages: ['intake', 'isolate', 'strip', 'open'], present: 'isolate', width: 400, height: 108 },
};
const draw = (over: Partial<LineInput>) => drawLine({ ...PLAIN, ...over });

describe('the line as shapes', () => {
  it('spaces the acts of a stage evenly, planned ones behind, and steps from one to the next', () => {
    const shape = draw({
      done: [point('isolate', 86, 172), point('isolate', 0, 86)],
      planned: [point('strip', 172), point('isolate', 40)],
    });
    expect(shape).toEqual({
      done: 'M0.0 100.0H125.0V57.0H150.0V100.0H150.0',
      planned: 'M150.0 100.0H175.0V80.0H250.0V14.0H400.0',
      behind: 'M0.0 14.0H125.0V14.0H150.0V57.0H175.0V80.0H250.0V14.0H400.0',
      ...{ markY: 70, marker: { x: 150, y: 100 }, top: 14, floor: 100 },
      ticks: [0, 100, 200, 300].map((x, i) => ({ stage: PLAIN.stages[i], x })),
      peaks: [{ x: 125, y: 57, volt: 86 }],
    });
  });

  it('a stage that is come back to keeps its acts before the later ones, though they were stated after', () => {
    const { done } = draw({ done: [point('strip', 172), point('isolate', 86)], present: 'strip' });
    expect(done).toBe('M0.0 100.0H150.0V57.0H250.0V14.0H250.0');
  });

  it('before anything was done it stands in the middle of the present stage, and plans only what lies ahead', () => {
    const shape = draw({
      ...{ present: 'strip', start: { reachableVolt: 20, behindVolt: 172 } },
      planned: [point('isolate', 0), point('strip', 86), point('open', 100)],
    });
    expect(shape.marker).toEqual({ x: 250, y: 90 });
    expect(shape.planned).toBe('M250.0 90.0H350.0V50.0H400.0');
    // of a stage that the job does not have, at the first
    expect(draw({ present: 'cool' }).marker.x).toBe(50);
  });

  it('is no lower than half again what is live, so that a few volt stay small', () => {
    const shape = draw({ start: { reachableVolt: 9, behindVolt: 9 }, done: [point('intake', 30)] });
    expect(shape.markY).toBeCloseTo(100 - (86 * 60) / 90, 9);
    expect(shape.peaks).toEqual([]);
    const high = draw({ start: { reachableVolt: 0, behindVolt: 0 }, done: [point('intake', 300, 100)] });
    expect(high.markY).toBeCloseTo(100 - (86 * 60) / 300, 9);
    const behind = draw({ start: { reachableVolt: 0, behindVolt: 0 }, planned: [point('open', 0, 300)] });
    expect(behind.markY).toBeCloseTo(100 - (86 * 60) / 300, 9);
  });

  it('labels each new height that is live; of labels that would lie over one another the highest', () => {
    const volts = [100, 172, 172, 150];
    const { peaks } = draw({ done: volts.map((volt) => point('isolate', volt)) });
    // at 120, 140, 160 and 180
    expect(peaks.map(({ x, volt }) => [x, volt])).toEqual([[140, 172], [180, 150]]); // prettier-ignore
    const apart = draw({ done: [point('intake', 60), point('strip', 59.9), point('open', 172)] });
    expect(apart.peaks.map(({ x, y, volt }) => [x, y, volt])).toEqual([[50, 70, 60], [350, 14, 172]]); // prettier-ignore
    // exactly a label apart both fit
    expect(draw({ width: 432, done: [point('intake', 80), point('intake', 90)] }).peaks).toHaveLength(2);
    expect(draw({ width: 428, done: [point('intake', 80), point('intake', 90)] }).peaks.map((p) => p.volt)).toEqual([90]);
  });
});
