/** A drawing as data: shapes with the part that their colour plays, drawn by the screen and by the report alike, or written as SVG. */

/** What a colour means; each surface has its own for it. */
export const INKS = ['ink', 'channel', 'tide', 'silt', 'shell', 'fog', 'reed', 'sedge', 'madder', 'live'] as const;
export type Ink = (typeof INKS)[number];

interface Painted {
  readonly fill?: Ink;
  readonly line?: Ink;
  /** Of the line; 1 where left out. */
  readonly thick?: number;
  readonly isDashed?: boolean;
}

export type Shape =
  | ({ readonly kind: 'rect'; readonly x: number; readonly y: number; readonly width: number; readonly height: number } & Painted)
  | ({ readonly kind: 'path'; readonly d: string; readonly x?: number; readonly y?: number } & Painted)
  | ({ readonly kind: 'circle'; readonly x: number; readonly y: number; readonly r: number } & Painted)
  | {
      readonly kind: 'text';
      readonly x: number;
      readonly y: number;
      readonly text: string;
      readonly size: number;
      readonly ink: Ink;
      readonly anchor?: 'start' | 'middle' | 'end';
      readonly isFigure?: boolean;
      /** Turned so many degrees about its point. */
      readonly turn?: number;
    };

export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly shapes: readonly Shape[];
}

/** Colours of print and of day: the tokens of the product's look. */
export const DAY_INKS: Record<Ink, string> = {
  ink: '#10242b',
  channel: '#0e5e6f',
  tide: '#2a858d',
  silt: '#f3f0e8',
  shell: '#fbfaf6',
  fog: '#57696d',
  reed: '#476f23',
  sedge: '#8a5f00',
  madder: '#a3262a',
  live: '#e8710a',
};

export interface SvgFonts {
  readonly words: string;
  readonly figures: string;
}

/** Text of an SVG picture, as wide as it is let be. */
export function writeSvg({ width, height, shapes }: Picture, fonts: SvgFonts, inks: Record<Ink, string> = DAY_INKS): string {
  const body = shapes.map((shape) => writeShape(shape, fonts, inks)).join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${round(width)} ${round(height)}">${body}</svg>`;
}

function writeShape(shape: Shape, fonts: SvgFonts, inks: Record<Ink, string>): string {
  switch (shape.kind) {
    case 'rect':
      return `<rect x="${round(shape.x)}" y="${round(shape.y)}" width="${round(shape.width)}" height="${round(shape.height)}"${paint(shape, inks)}/>`;
    case 'circle':
      return `<circle cx="${round(shape.x)}" cy="${round(shape.y)}" r="${round(shape.r)}"${paint(shape, inks)}/>`;
    case 'path': {
      const moved = shape.x === undefined ? '' : ` transform="translate(${round(shape.x)} ${round(shape.y ?? 0)})"`;
      return `<path d="${shape.d}" fill-rule="evenodd"${moved}${paint(shape, inks)}/>`;
    }
    case 'text': {
      const { x, y, text, size, ink, anchor = 'start', isFigure = false, turn } = shape;
      const turned = turn === undefined ? '' : ` transform="rotate(${turn} ${round(x)} ${round(y)})"`;
      const font = `font-family="${isFigure ? fonts.figures : fonts.words}" font-size="${size}"`;
      return `<text x="${round(x)}" y="${round(y)}" ${font} fill="${inks[ink]}" text-anchor="${anchor}"${turned}>${escapeXml(text)}</text>`;
    }
  }
}

function paint({ fill, line, thick = 1, isDashed = false }: Painted, inks: Record<Ink, string>): string {
  const stroke = line ? ` stroke="${inks[line]}" stroke-width="${thick}"${isDashed ? ' stroke-dasharray="4 3"' : ''}` : '';
  return ` fill="${fill ? inks[fill] : 'none'}"${stroke}`;
}

function escapeXml(text: string): string {
  return text.replace(/[&<>"]/g, (c) => (c === '&' ? '&amp;' : c === '<' ? '&lt;' : c === '>' ? '&gt;' : '&quot;'));
}

function round(value: number): number {
  return Math.round(value * 100) / 100;
}
