/** Shape beside colour, readable in greyscale. */
import type { Verdict } from '../reading/verdict.ts';
import type { Ink } from './picture.ts';

export type Mark = Verdict | 'live';

/** One path each around the origin, six units to each side, filled even-odd. */
export const MARK_PATHS: Record<Mark, string> = {
  keep: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0z',
  watch: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0zM0-4.4a4.4 4.4 0 0 1 0 8.8z',
  reject: 'M-6-6h12v12h-12zM-4-1.3v2.6h8v-2.6z',
  unknown: 'M-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0zM-4.4 0a4.4 4.4 0 1 1 8.8 0a4.4 4.4 0 1 1-8.8 0z',
  live: 'M1.5-7l-6 8h3.6l-1.2 6 6.2-8.4h-3.8z',
};

export const MARK_INKS: Record<Mark, Ink> = { keep: 'reed', watch: 'sedge', reject: 'madder', unknown: 'fog', live: 'live' };
