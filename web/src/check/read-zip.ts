/**
 * A zip taken apart with suspicion: every member in the order of the file, and every byte of the wrapping that is not as the sealing
 * writes it. Field numbers by APPNOTE 6.3.9 of the zip format, from memory.
 */
import { inflateSync } from 'fflate';

export interface ZipMember {
  readonly name: string;
  readonly bytes: Uint8Array;
}

export interface ReadZip {
  readonly members: readonly ZipMember[];
  /** What is not as the sealing writes it, as sentences; it may still hold every member whole. */
  readonly wrapping: readonly string[];
}

/** Why a file is no zip that can be read, as a sentence. */
export class NotReadable extends Error {}

const END = 0x06054b50;
const CENTRAL = 0x02014b50;
const LOCAL = 0x04034b50;
const END_BYTES = 22;
const CENTRAL_BYTES = 46;
const LOCAL_BYTES = 30;
const STORED = 0;
const DEFLATED = 8;
/** As the sealing writes every member: version needed 2.0, names in UTF-8, stored, first moment that a zip can name. */
const FIXED = { needed: 20, flags: 0x0800, time: 0, date: 33, madeBy: 0x033f, attributes: (0o100664 << 16) >>> 0 } as const;

/** Files that a record holds at most. */
const MOST_MEMBERS = 5000;

/** @param mostBytes that all members come to at most; more is a trap */
export function readZip(file: Uint8Array, mostBytes: number): ReadZip {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  const end = findEnd(view);
  const wrapping: string[] = [];
  if (end + END_BYTES !== file.length) wrapping.push(`${file.length - end - END_BYTES} bytes stand behind the end of the zip.`);
  if (view.getUint32(end + 4, true) !== 0 || view.getUint16(end + 20, true) !== 0)
    wrapping.push('The end of the zip is written otherwise.');
  const count = view.getUint16(end + 10, true);
  if (count > MOST_MEMBERS) throw new NotReadable(`It lists ${count} files: no record has so many.`);
  if (view.getUint16(end + 8, true) !== count) wrapping.push('The end of the zip counts its members twice differently.');
  const central = view.getUint32(end + 16, true);
  if (central + view.getUint32(end + 12, true) !== end) wrapping.push('Something stands between the list of the zip and its end.');
  const members: ZipMember[] = [];
  let [at, expected, total] = [central, 0, 0];
  for (let i = 0; i < count; i++) {
    need(view, at, CENTRAL_BYTES);
    if (view.getUint32(at, true) !== CENTRAL) throw new NotReadable(`The list of the zip breaks off at member ${i + 1}.`);
    const nameBytes = view.getUint16(at + 28, true);
    const more = view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
    need(view, at + CENTRAL_BYTES, nameBytes);
    const name = decode(file.subarray(at + CENTRAL_BYTES, at + CENTRAL_BYTES + nameBytes));
    const entry = {
      ...{ name, method: view.getUint16(at + 10, true), crc: view.getUint32(at + 16, true) },
      ...{ packed: view.getUint32(at + 20, true), byte: view.getUint32(at + 24, true), offset: view.getUint32(at + 42, true) },
    };
    total += entry.byte;
    if (total > mostBytes) throw new NotReadable(`Unpacked it would come to more than ${Math.round(mostBytes / 1e6)} MB: this is a trap, not a record.`); // prettier-ignore
    const isAsWritten =
      view.getUint16(at + 4, true) === FIXED.madeBy &&
      view.getUint16(at + 6, true) === FIXED.needed &&
      view.getUint16(at + 8, true) === FIXED.flags &&
      entry.method === STORED &&
      view.getUint16(at + 12, true) === FIXED.time &&
      view.getUint16(at + 14, true) === FIXED.date &&
      more === 0 &&
      view.getUint16(at + 34, true) === 0 &&
      view.getUint16(at + 36, true) === 0 &&
      view.getUint32(at + 38, true) === FIXED.attributes;
    if (!isAsWritten) wrapping.push(`The list entry of ${name} is written otherwise.`);
    const { bytes, isPlain, next } = readLocal(file, view, entry);
    if (!isPlain) wrapping.push(`The head of ${name} is written otherwise.`);
    if (entry.offset !== expected) wrapping.push(`${name} does not stand behind the member before it.`);
    if (crc32(bytes) !== entry.crc) wrapping.push(`${name} does not fit its check sum.`);
    expected = next;
    members.push({ name, bytes });
    at += CENTRAL_BYTES + nameBytes + more;
  }
  if (at !== end || expected !== central) wrapping.push('Bytes that belong to no member stand in the zip.');
  return { members, wrapping };
}

interface Entry {
  readonly name: string;
  readonly method: number;
  readonly crc: number;
  readonly packed: number;
  readonly byte: number;
  readonly offset: number;
}

function readLocal(file: Uint8Array, view: DataView, entry: Entry): { bytes: Uint8Array; isPlain: boolean; next: number } {
  const { offset, name } = entry;
  need(view, offset, LOCAL_BYTES);
  if (view.getUint32(offset, true) !== LOCAL) throw new NotReadable(`${name} is not where the list says.`);
  const nameBytes = view.getUint16(offset + 26, true);
  const extra = view.getUint16(offset + 28, true);
  const start = offset + LOCAL_BYTES + nameBytes + extra;
  need(view, start, entry.packed);
  const packed = file.subarray(start, start + entry.packed);
  const isPlain =
    view.getUint16(offset + 4, true) === FIXED.needed &&
    view.getUint16(offset + 6, true) === FIXED.flags &&
    view.getUint16(offset + 8, true) === STORED &&
    view.getUint16(offset + 10, true) === FIXED.time &&
    view.getUint16(offset + 12, true) === FIXED.date &&
    view.getUint32(offset + 14, true) === entry.crc &&
    view.getUint32(offset + 18, true) === entry.packed &&
    view.getUint32(offset + 22, true) === entry.byte &&
    extra === 0 &&
    decode(file.subarray(offset + LOCAL_BYTES, offset + LOCAL_BYTES + nameBytes)) === name;
  return { bytes: unpack(packed, entry), isPlain, next: start + entry.packed };
}

function unpack(packed: Uint8Array, { method, byte, name }: Entry): Uint8Array {
  if (method === STORED) {
    if (packed.length !== byte) throw new NotReadable(`${name} is not as long as it says.`);
    return packed;
  }
  if (method !== DEFLATED) throw new NotReadable(`${name} is packed in a way that this page does not know.`);
  try {
    // into room of the size that was told, and not a byte more
    const room = new Uint8Array(byte);
    const bytes = inflateSync(packed, { out: room });
    if (bytes.length !== byte) throw new Error('shorter');
    return bytes;
  } catch {
    throw new NotReadable(`${name} cannot be unpacked.`);
  }
}

function findEnd(view: DataView): number {
  // behind the end stands at most a comment of 65,535 bytes
  for (let at = view.byteLength - END_BYTES; at >= Math.max(0, view.byteLength - END_BYTES - 0xffff); at--)
    if (view.getUint32(at, true) === END) return at;
  throw new NotReadable('This is no zip, or it was cut short.');
}

function need(view: DataView, at: number, bytes: number): void {
  if (at < 0 || at + bytes > view.byteLength) throw new NotReadable('The zip was cut short, or its list points outside of it.');
}

function decode(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new NotReadable('A name in the zip is no text.');
  }
}

const TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const byte of bytes) c = (TABLE[(c ^ byte) & 0xff] ?? 0) ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}
