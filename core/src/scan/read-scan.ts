/**
 * A scan as another reader wrote it, or as somebody types it: a line for each thing, cells apart by comma, semicolon, tab or spaces.
 * `P0A80, stored` is a code; `block, 3, 16.02` volts of a block; `sensor, 1, 24`, `pack, 224`, `ampere, -6.5` and `charge, 61` the rest.
 */
import { readDecimal } from '../quantity/decimal.ts';
import { answer, refuse, type Result } from '../result.ts';
import type { ScannedCode } from './codes.ts';
import { CODE_PATTERN, CODE_STATUSES } from './general.ts';
import type { ScannedFigures } from './scan-map.ts';

export interface ReadScan extends ScannedFigures {
  readonly codes: readonly ScannedCode[];
}

const MOST_LINES = 2000;
const RANGES = { pack: [-2000, 2000], block: [-1000, 1000], sensor: [-60, 200], ampere: [-2000, 2000], charge: [0, 100] } as const;

/** Refusals name the line: `unreadable` for what is none of these, `impossible` for figures outside their range, `unknownName` for a block that is not there. */
export function readScan(text: string, blockCount: number): Result<ReadScan> {
  const lines = text.split(/\r?\n/);
  if (lines.length > MOST_LINES) return refuse('tooLarge', `A scan has up to ${MOST_LINES} lines.`);
  const codes: ScannedCode[] = [];
  const blockVolts: (number | null)[] = [];
  const celsius: (number | null)[] = [];
  let packVolt: number | null = null;
  let ampere: number | null = null;
  let chargePercent: number | null = null;
  for (const [i, line] of lines.entries()) {
    const cells = cellsOf(line);
    const [head = ''] = cells;
    if (head === '') continue;
    const fail = (code: 'unreadable' | 'impossible' | 'unknownName', words: string) =>
      refuse(code, `Line ${i + 1}: ${words}`, ['lines', i]);
    const code = head.toUpperCase();
    if (CODE_PATTERN.test(code)) {
      const surplus = sayFirstSurplus(cells, 2);
      if (surplus !== null) return fail('unreadable', surplus);
      const status = CODE_STATUSES.find((s) => s === (cells[1] ?? 'stored').toLowerCase());
      if (!status) return fail('unreadable', `"${cells[1]}" is none of ${CODE_STATUSES.join(', ')}.`);
      codes.push({ code, status });
      continue;
    }
    const word = head.toLowerCase();
    if (word !== 'block' && word !== 'sensor' && word !== 'pack' && word !== 'ampere' && word !== 'charge')
      return fail('unreadable', `"${head.slice(0, 40)}" is no code such as P0A80, and none of block, sensor, pack, ampere, charge.`);
    const isNumbered = word === 'block' || word === 'sensor';
    const number = isNumbered ? Number(cells[1]) : 1;
    if (!Number.isInteger(number) || number < 1 || number > 200) return fail('unreadable', `${word} ${cells[1] ?? ''}: which one, from 1?`);
    if (word === 'block' && number > blockCount) return fail('unknownName', `the pack has ${blockCount} blocks, none of number ${number}.`);
    const surplus = sayFirstSurplus(cells, isNumbered ? 3 : 2);
    if (surplus !== null) return fail('unreadable', surplus);
    const read = readDecimal(cells[isNumbered ? 2 : 1] ?? '');
    if (read.kind === 'refused') return fail('unreadable', read.message);
    const [least, most] = RANGES[word];
    if (read.value < least || read.value > most) return fail('impossible', `${read.value} lies outside ${least} to ${most}.`);
    if (word === 'block') blockVolts[number - 1] = read.value;
    else if (word === 'sensor') celsius[number - 1] = read.value;
    else if (word === 'pack') packVolt = read.value;
    else if (word === 'ampere') ampere = read.value;
    else chargePercent = read.value;
  }
  if (codes.length + blockVolts.length + celsius.length === 0 && packVolt === null && ampere === null && chargePercent === null)
    return refuse('empty', 'Nothing was read: a line for each code or figure.');
  const filled = (list: readonly (number | null)[], length: number): (number | null)[] => Array.from({ length }, (_, i) => list[i] ?? null);
  return answer({
    ...{ codes, packVolt, ampere, chargePercent, celsius: filled(celsius, celsius.length) },
    blockVolts: blockVolts.length === 0 ? [] : filled(blockVolts, blockCount),
  });
}

/** Why a line says more than it can, as with a decimal comma among commas; null where it does not. */
function sayFirstSurplus(cells: readonly string[], most: number): string | null {
  const at = cells.findIndex((cell, i) => i >= most && cell !== '');
  return at < 0 ? null : `"${cells[at]?.slice(0, 40)}" is cell ${at + 1} of ${most}: a decimal comma wants semicolons between the cells.`;
}

/** By semicolon or tab where there is one, so that a comma may be a decimal one; else by comma, else by spaces. */
function cellsOf(line: string): string[] {
  const by = /[;\t]/.test(line) ? /[;\t]/ : line.includes(',') && !/^\s*\S+\s+(\S+\s+)?-?\d+,\d+\s*$/.test(line) ? /,/ : /\s+/;
  return line.trim().split(by).map((c) => c.trim()); // prettier-ignore
}
