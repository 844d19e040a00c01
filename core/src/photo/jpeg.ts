/**
 * What a JPEG is made of (ITU-T T.81, annex B; JFIF 1.02), told apart without decoding it. Only what a picture needs to be seen is let in: a
 * plain JFIF head, tables, frame and scans, and nothing behind its end. Whatever cameras, phones and editors add lies elsewhere: where it
 * was taken, comments, small or further pictures, colour profiles.
 */
import { answer, refuse, type Result } from '../result.ts';

const [START, END, SCAN, JFIF] = [0xd8, 0xd9, 0xda, 0xe0];
/** Quantisation, Huffman tables and restart interval; frames of baseline, extended and progressive pictures. */
const NEEDED: ReadonlySet<number> = new Set([0xdb, 0xc4, 0xdd, 0xc0, 0xc1, 0xc2]);

interface Segment {
  readonly marker: number;
  readonly from: number;
  readonly to: number;
  readonly isNeeded: boolean;
}

/** A refusal `mismatch` names the first thing that a picture does not need; `unreadable` a JPEG that ends before its end. */
export function findBesides(bytes: Uint8Array): Result<null> {
  const read = readSegments(bytes);
  if (read.kind === 'refused') return read;
  const { segments, end } = read.value;
  const odd = segments.find((s) => !s.isNeeded);
  if (odd) return refuse('mismatch', `${nameOf(odd.marker)} at byte ${odd.from} is not needed to see the picture.`);
  return end === bytes.length ? answer(null) : refuse('mismatch', `${bytes.length - end} bytes lie behind the end of the picture.`);
}

/** The same picture without what it does not need; the bytes themselves where there is nothing to leave out. */
export function leaveOutBesides(bytes: Uint8Array): Result<Uint8Array> {
  const read = readSegments(bytes);
  if (read.kind === 'refused') return read;
  const { segments, end } = read.value;
  if (end === bytes.length && segments.every((s) => s.isNeeded)) return answer(bytes);
  const parts = segments.filter((s) => s.isNeeded).map((s) => bytes.subarray(s.from, s.to));
  const left = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    left.set(part, at);
    at += part.length;
  }
  return answer(left);
}

/** The segments of the first picture, its start and end included, each scan with its data; and where it ends. */
function readSegments(bytes: Uint8Array): Result<{ readonly segments: readonly Segment[]; readonly end: number }> {
  if (bytes[0] !== 0xff || bytes[1] !== START) return refuse('unreadable', 'It does not begin as a JPEG does.');
  const segments: Segment[] = [{ marker: START, from: 0, to: 2, isNeeded: true }];
  let at = 2;
  while (at + 1 < bytes.length) {
    const marker = bytes[at + 1] ?? 0;
    if (bytes[at] !== 0xff) return refuse('unreadable', `No marker stands at byte ${at}.`);
    if (marker === END) return answer({ segments: [...segments, { marker, from: at, to: at + 2, isNeeded: true }], end: at + 2 });
    const length = ((bytes[at + 2] ?? 0) << 8) | (bytes[at + 3] ?? 0);
    const head = at + 2 + length;
    if (length < 2 || head > bytes.length) break;
    const to = marker === SCAN ? endOfScan(bytes, head) : head;
    segments.push({ marker, from: at, to, isNeeded: isNeeded(bytes, marker, at, length, segments.length) });
    at = to;
  }
  return refuse('unreadable', 'It ends before the picture does.');
}

/** Data of a scan goes on to the next marker that is no stuffed byte and no restart. */
function endOfScan(bytes: Uint8Array, from: number): number {
  for (let at = from; at + 1 < bytes.length; at++) {
    if (bytes[at] !== 0xff) continue;
    const next = bytes[at + 1] ?? 0;
    if (next !== 0 && (next < 0xd0 || next > 0xd7)) return at;
  }
  return bytes.length;
}

function isNeeded(bytes: Uint8Array, marker: number, at: number, length: number, index: number): boolean {
  if (marker === SCAN || NEEDED.has(marker)) return true;
  // the head comes first and holds no small picture of its own
  return marker === JFIF && index === 1 && length === 16 && String.fromCharCode(...bytes.subarray(at + 4, at + 9)) === 'JFIF\0';
}

function nameOf(marker: number): string {
  if (marker === 0xfe) return 'A comment';
  if (marker >= 0xe0 && marker <= 0xef) return `What a camera or an editor added (APP${marker - 0xe0})`;
  return `A segment of type ${marker.toString(16)}`;
}
