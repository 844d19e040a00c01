/** Turns the bytes of a table file into cells: any common encoding, any common delimiter. */
import Papa from 'papaparse';

export const MAXIMUM_BYTES = 5 * 1024 * 1024;
export const MAXIMUM_ROWS = 20_000;

export type GridResult =
  | { readonly kind: 'grid'; readonly rows: string[][]; readonly encoding: string; readonly delimiter: string }
  | { readonly kind: 'unreadable'; readonly reason: string };

/** A byte order mark decides; else UTF-8 where every byte fits it; else Windows-1252, which every byte fits. */
export function decode(bytes: Uint8Array): { readonly text: string; readonly encoding: string } {
  const [a, b, c] = bytes;
  if (a === 0xff && b === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
  if (a === 0xfe && b === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
  const hasMark = a === 0xef && b === 0xbb && c === 0xbf;
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: hasMark ? 'UTF-8 with mark' : 'UTF-8' };
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'Windows-1252' };
  }
}

/** The mark that parts the most lines alike; a comma last, since it may be a decimal comma. */
export function findDelimiter(text: string): string {
  const lines = text
    .split(/\r\n|\n|\r/)
    .filter((l) => l.trim() !== '')
    .slice(0, 30);
  for (const mark of ['\t', ';', '|', ',']) {
    const parted = lines.filter((l) => l.includes(mark)).length;
    if (parted > 0 && parted * 2 >= lines.length) return mark;
  }
  return ',';
}

export function readGrid(bytes: Uint8Array): GridResult {
  if (bytes.length === 0) return { kind: 'unreadable', reason: 'The file is empty.' };
  if (bytes.length > MAXIMUM_BYTES)
    return { kind: 'unreadable', reason: `The file has ${(bytes.length / 1e6).toFixed(1)} MB; up to 5 MB are taken.` };
  const { text, encoding } = decode(bytes);
  if (text.includes('\u0000')) return { kind: 'unreadable', reason: 'This is not a text table. Save it as CSV or TSV first.' };
  const delimiter = findDelimiter(text);
  const parsed = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { delimiter, skipEmptyLines: false });
  const torn = parsed.errors.find((e) => e.type === 'Quotes');
  if (torn) return { kind: 'unreadable', reason: `A quotation mark is not closed, near row ${(torn.row ?? 0) + 1}.` };
  if (parsed.data.length > MAXIMUM_ROWS + 50)
    return { kind: 'unreadable', reason: `The table has ${parsed.data.length} rows; up to ${MAXIMUM_ROWS} are taken.` };
  return { kind: 'grid', rows: parsed.data, encoding, delimiter };
}
