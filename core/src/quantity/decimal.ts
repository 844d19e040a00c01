/**
 * Numbers as people and benches write them. A decimal comma is the same as a decimal point; a number that
 * groups its thousands (1.234,5 or 1,234.5) is refused, since 1.234 volt and 1234 volt must never be mistaken.
 */
import { answer, refuse, type Result } from '../result.ts';

const PLAIN = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d{1,3})?$/i;
const GROUPED = /^[+-]?\d{1,3}([.,' \u00a0\u202f]\d{3})*[.,]\d+$/;

/**
 * Reads one number. White space around it, a Unicode minus and a comma for the point are accepted.
 * Refusals: `empty` for blank text, `unreadable` for anything else that is not one plain number.
 * @example readDecimal('7,845') // { kind: 'answer', value: 7.845 }
 */
export function readDecimal(text: string): Result<number> {
  const clean = text.trim().replace(/^\u2212/, '-');
  if (clean === '') return refuse('empty', 'No number was given.');
  if (!PLAIN.test(clean)) {
    const isGrouped = GROUPED.test(clean) || /\d[.,]\d+[.,]/.test(clean);
    return refuse(
      'unreadable',
      isGrouped
        ? `"${shorten(clean)}" groups its thousands. Write it with one decimal mark only.`
        : `"${shorten(clean)}" is not a number. Write digits with a point or a comma.`,
    );
  }
  const value = Number(clean.replace(',', '.'));
  return Number.isFinite(value) ? answer(value) : refuse('unreadable', `"${shorten(clean)}" is too large to be a reading.`);
}

/** Rounds to a whole number of steps of `resolution`, so that differences of readings carry no false digits. */
export function roundTo(value: number, resolution: number): number {
  return Math.round(value / resolution) * resolution;
}

function shorten(text: string): string {
  return text.length > 24 ? `${text.slice(0, 24)}…` : text;
}
