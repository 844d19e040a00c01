/** Two figures of each name side by side, lying: hollow the first, filled the second. */
import type { Picture, Shape } from './picture.ts';

export interface BarPair {
  readonly name: string;
  readonly first: number;
  readonly second: number;
}

export interface BarWords {
  readonly unit: string;
  readonly first: string;
  readonly second: string;
}

const LEFT = 110;
const RIGHT = 56;
const TOP = 30;
const ROW = 44;

export function drawBars(pairs: readonly BarPair[], words: BarWords, width = 560): Picture {
  const most = Math.max(1e-9, ...pairs.flatMap((p) => [p.first, p.second]));
  const wide = (value: number): number => Math.max(1, (value / most) * (width - LEFT - RIGHT));
  const key: Shape[] = [
    { kind: 'rect', x: LEFT, y: 4, width: 14, height: 12, fill: 'shell', line: 'ink' },
    { kind: 'text', x: LEFT + 20, y: 15, text: words.first, size: 13, ink: 'ink' },
    { kind: 'rect', x: LEFT + 130, y: 4, width: 14, height: 12, fill: 'channel', line: 'ink' },
    { kind: 'text', x: LEFT + 150, y: 15, text: words.second, size: 13, ink: 'ink' },
    { kind: 'text', x: 0, y: 15, text: words.unit, size: 13, ink: 'fog' },
  ];
  const bars = pairs.flatMap(({ name, first, second }, i): Shape[] => {
    const y = TOP + i * ROW;
    return [
      { kind: 'text', x: 0, y: y + 22, text: name, size: 14, ink: 'ink' },
      { kind: 'rect', x: LEFT, y, width: wide(first), height: 14, fill: 'shell', line: 'ink' },
      { kind: 'text', x: LEFT + wide(first) + 6, y: y + 12, text: first.toFixed(0), size: 13, ink: 'fog', isFigure: true },
      { kind: 'rect', x: LEFT, y: y + 17, width: wide(second), height: 14, fill: 'channel', line: 'ink' },
      { kind: 'text', x: LEFT + wide(second) + 6, y: y + 29, text: second.toFixed(0), size: 13, ink: 'ink', isFigure: true },
    ];
  });
  return { width, height: TOP + pairs.length * ROW, shapes: [...key, ...bars] };
}
