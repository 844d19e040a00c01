/** What is looked at on the way up, drawn: as it should be and as it should not. Paths on a field of 72 by 40; data, drawn by the screen. */
import type { Look } from '../../../pack/way-up.ts';

export interface LookPicture {
  /** What is there, in both. */
  readonly common: string;
  readonly good: string;
  readonly bad: string;
}

const box = (x: number, y: number, width: number, height: number): string => `M${x} ${y}h${width}v${height}h${-width}z`;
const ring = (x: number, y: number, r: number): string => `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
/** Modules side by side from the left, each so wide. */
const row = (xs: readonly number[], y = 6, height = 28, width = 14): string => xs.map((x) => box(x, y, width, height)).join('');

export const LOOK_PICTURES: Record<Look, LookPicture> = {
  nubsSeated: {
    common: `${box(6, 6, 26, 28)}M32 16h5v8h-5`,
    good: box(32, 6, 30, 28),
    bad: `${box(42, 6, 26, 28)}M37 20h5`,
  },
  endsFlush: { common: 'M4 6h64', good: row([8, 24, 40, 56 - 2]), bad: `${row([8, 24, 54])}${box(40, 12, 14, 28)}` },
  gapsOpen: { common: 'M4 36h64', good: row([6, 24, 42], 4, 30, 14), bad: `${row([6, 20, 34], 4, 30, 14)}M52 12l10 12m0-12l-10 12` },
  flapStraight: { common: box(8, 14, 40, 20), good: 'M48 14h18', bad: 'M48 14l10-3 6-9' },
  ventsHome: { common: `${box(8, 20, 56, 14)}M20 20v-6h6v6M46 20v-6h6v6`, good: 'M18 14v-4h36v4', bad: 'M18 14v-4h22l12-6' },
  tabsRight: {
    common: 'M6 20h60M14 20v8M26 20v8M46 20v8M58 20v8',
    good: `${box(10, 8, 20, 8)}${box(42, 8, 20, 8)}`,
    bad: `${box(10, 8, 20, 8)}M42 8h20v8h-20z M44 10l16 4m0-4l-16 4`,
  },
  eyeletsUnder: {
    common: 'M36 4v34',
    good: `${box(16, 30, 40, 4)}${box(22, 24, 28, 4)}${box(28, 12, 16, 9)}`,
    bad: `${box(16, 30, 40, 4)}${box(28, 19, 16, 9)}${box(22, 12, 28, 4)}`,
  },
  senseLocked: { common: box(34, 8, 30, 24), good: `${box(10, 12, 24, 16)}M28 8h12v4`, bad: `${box(4, 12, 24, 16)}M22 2l8 4` },
  interlockIn: { common: `${box(10, 6, 52, 12)}${box(28, 22, 16, 12)}`, good: box(31, 18, 10, 12), bad: 'M50 34h12M50 30v8' },
  edgeProtected: { common: 'M8 34h40V8', good: 'M44 34h8V4h-8', bad: 'M48 14l8-4m-8 10l8-4m-8 10l8-4' },
  fanPiecesIn: {
    common: `${ring(26, 20, 15)}${ring(26, 20, 4)}`,
    good: `${box(46, 8, 8, 6)}${box(46, 26, 8, 6)}M54 20h12`,
    bad: `${box(46, 8, 8, 6)}M48 26l6 6m0-6l-6 6M54 20h4`,
  },
  pipesClicked: { common: 'M4 14h24v12H4', good: 'M28 11h8v18h-8zM36 14h30v12H36', bad: 'M34 11h8v18h-8zM42 14h24v12H42M31 28v5m0 3v1' },
  residueOff: { common: box(6, 26, 60, 8), good: 'M14 14l4 4 8-10', bad: 'M10 26c4-6 8 0 12-4s8 4 12 0 6 2 8 4' },
  sidesPhotographed: {
    common: `${box(6, 10, 28, 22)}${ring(20, 21, 7)}M14 10l3-4h6l3 4`,
    good: `${box(40, 6, 26, 12)}${box(40, 22, 26, 12)}`,
    bad: `${box(40, 6, 26, 12)}M42 24l22 8m0-8l-22 8`,
  },
};
