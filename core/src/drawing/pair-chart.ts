/** One figure of every place before and after, side by side: hollow as found, filled as it is now. */
import type { Picture, Shape } from './picture.ts';

export interface Pair {
  readonly place: number;
  /** Null where it was not measured. */
  readonly before: number | null;
  readonly after: number | null;
}

const LEFT = 56;
const FOOT = 26;
const TOP = 22;

/** @param unit written at the scale, such as `Ah` */
export function drawPairs(pairs: readonly Pair[], unit: string, width = 760, height = 200): Picture {
  const values = pairs.flatMap((p) => [p.before, p.after]).filter((v): v is number => v !== null && Number.isFinite(v));
  const [low, high] = scaleOf(values);
  const y = (v: number): number => height - FOOT - ((v - low) / (high - low)) * (height - FOOT - TOP);
  const pitch = (width - LEFT) / Math.max(1, pairs.length);
  const x = (i: number): number => LEFT + pitch * (i + 0.5);
  const every = Math.ceil(pairs.length / 30);
  const lines = [low, (low + high) / 2, high].flatMap((v): Shape[] => [
    { kind: 'path', d: `M${LEFT} ${y(v).toFixed(1)}H${width}`, line: 'fog', thick: 0.5, isDashed: true },
    { kind: 'text', x: LEFT - 6, y: y(v) + 4, text: shorten(v, high - low), size: 11, ink: 'fog', anchor: 'end', isFigure: true },
  ]);
  const r = Math.min(5, Math.max(2.5, pitch * 0.25));
  const dots = pairs.flatMap(({ place, before, after }, i): Shape[] => [
    ...(before !== null && after !== null
      ? [{ kind: 'path', d: `M${x(i).toFixed(1)} ${y(before).toFixed(1)}V${y(after).toFixed(1)}`, line: 'fog', thick: 1 } as const]
      : []),
    ...(before === null ? [] : [{ kind: 'circle', x: x(i), y: y(before), r, fill: 'shell', line: 'ink', thick: 1.2 } as const]),
    ...(after === null ? [] : [{ kind: 'circle', x: x(i), y: y(after), r: r * 0.8, fill: 'channel', line: 'ink', thick: 0.6 } as const]),
    ...(i % every === 0
      ? [{ kind: 'text', x: x(i), y: height - 8, text: `${place}`, size: 10, ink: 'fog', anchor: 'middle', isFigure: true } as const]
      : []),
  ]);
  const key: Shape[] = [
    { kind: 'circle', x: LEFT + 6, y: 8, r: 4, fill: 'shell', line: 'ink', thick: 1.2 },
    { kind: 'text', x: LEFT + 16, y: 12, text: 'as found', size: 11, ink: 'ink' },
    { kind: 'circle', x: LEFT + 96, y: 8, r: 4, fill: 'channel', line: 'ink', thick: 0.6 },
    { kind: 'text', x: LEFT + 106, y: 12, text: 'as it is now', size: 11, ink: 'ink' },
    { kind: 'text', x: LEFT - 6, y: 12, text: unit, size: 11, ink: 'fog', anchor: 'end' },
  ];
  return { width, height, shapes: [...key, ...lines, ...dots] };
}

function scaleOf(values: readonly number[]): [number, number] {
  if (values.length === 0) return [0, 1];
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const spread = most - least || Math.abs(most) || 1;
  return [least - spread * 0.1, most + spread * 0.1];
}

function shorten(value: number, span: number): string {
  return value.toFixed(span >= 20 ? 0 : span >= 2 ? 1 : span >= 0.2 ? 2 : 3);
}
