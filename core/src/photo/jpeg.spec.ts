import { findBesides, leaveOutBesides } from './jpeg.ts';

const segment = (marker: number, ...data: number[]): number[] => [0xff, marker, (data.length + 2) >> 8, (data.length + 2) & 0xff, ...data];
const text = (word: string): number[] => Array.from(word, (c) => c.charCodeAt(0));
const START = [0xff, 0xd8];
const HEAD = segment(0xe0, ...text('JFIF\0'), 1, 2, 0, 0, 1, 0, 1, 0, 0);
const TABLES = [
  ...segment(0xdb, 0, 1, 2, 3),
  ...segment(0xc4, 0, 1),
  ...segment(0xc0, 8, 0, 1, 0, 1, 1, 1, 0x11, 0),
  ...segment(0xdd, 0, 4),
];
/** Data with a stuffed byte, a restart, and the bytes of a comment that is none. */
const SCAN = [...segment(0xda, 1, 1, 0, 0, 63, 0), 1, 0xff, 0x00, 0xfe, 2, 0xff, 0xd3, 7];
const END = [0xff, 0xd9];
const PLAIN = [...START, ...HEAD, ...TABLES, ...SCAN, ...END];
const bytes = (...parts: number[][]): Uint8Array => Uint8Array.from(parts.flat());

describe('a JPEG', () => {
  it('that holds what it needs and no more is let in, in one scan or several, and left as it is', () => {
    const plain = bytes(PLAIN);
    expect(findBesides(plain)).toMatchObject({ kind: 'answer' });
    expect(leaveOutBesides(plain)).toEqual({ kind: 'answer', value: plain });
    const progressive = bytes(START, HEAD, TABLES, SCAN, segment(0xc4, 9), SCAN, END);
    expect(findBesides(progressive)).toMatchObject({ kind: 'answer' });
    expect(findBesides(bytes(START, TABLES, SCAN, END))).toMatchObject({ kind: 'answer' });
  });

  it.each<[string, number[], RegExp]>([
    [
      'the place in a comment',
      [...START, ...HEAD, ...segment(0xfe, ...text('51.5 N')), ...TABLES, ...SCAN, ...END],
      /^A comment at byte 20/,
    ],
    ['what a camera wrote', [...START, ...segment(0xe1, ...text('Exif\0\0')), ...TABLES, ...SCAN, ...END], /APP1\)/],
    ['a second picture by its list', [...START, ...HEAD, ...segment(0xe2, ...text('MPF\0')), ...TABLES, ...SCAN, ...END], /APP2\)/],
    ['a box of claims', [...START, ...HEAD, ...segment(0xeb, ...text('JP')), ...TABLES, ...SCAN, ...END], /APP11\)/],
    ['colours of an editor', [...START, ...HEAD, ...segment(0xee, ...text('Adobe')), ...TABLES, ...SCAN, ...END], /APP14\)/],
    ['a head of its own kind', [...START, ...segment(0xe0, ...text('JFXX\0'), 0x10), ...TABLES, ...SCAN, ...END], /APP0\)/],
    ['a small picture in its head', [...START, ...segment(0xe0, ...text('JFIF\0'), 1, 2, 0, 0, 1, 0, 1, 1, 1, 9, 9, 9), ...TABLES, ...SCAN, ...END], /APP0\)/], // prettier-ignore
    ['a second head', [...START, ...HEAD, ...HEAD, ...TABLES, ...SCAN, ...END], /APP0\)/],
    ['a comment between scans', [...START, ...HEAD, ...TABLES, ...SCAN, ...segment(0xfe, 1), ...SCAN, ...END], /^A comment/],
    ['an unknown segment', [...START, ...HEAD, ...segment(0xf0, 1), ...TABLES, ...SCAN, ...END], /type f0/],
    ['words behind its end', [...PLAIN, ...text('51.5 N')], /^6 bytes lie behind/],
    ['a second picture behind its end', [...PLAIN, ...PLAIN], /bytes lie behind/],
  ])('is not let in with %s, and comes out without', (_what, given, reason) => {
    const all = bytes(given);
    expect(findBesides(all)).toMatchObject({ kind: 'refused', code: 'mismatch', message: expect.stringMatching(reason) });
    const left = leaveOutBesides(all);
    if (left.kind === 'refused') throw new Error(left.message);
    expect(findBesides(left.value)).toMatchObject({ kind: 'answer' });
    expect(left.value.length).toBeLessThan(all.length);
  });

  it.each<[string, number[]]>([
    ['nothing at all', []],
    ['no picture', text('hello')],
    ['a start alone', START],
    ['one cut within a table', PLAIN.slice(0, 25)],
    ['one cut within its scan', PLAIN.slice(0, -4)],
    ['a table of no length', [...START, 0xff, 0xdb, 0, 0, ...END]],
    ['bytes between segments', [...START, ...HEAD, 0, ...TABLES, ...SCAN, ...END]],
  ])('is told as unreadable when it is %s', (_what, given) => {
    expect(findBesides(bytes(given))).toMatchObject({ kind: 'refused', code: 'unreadable' });
    expect(leaveOutBesides(bytes(given))).toMatchObject({ kind: 'refused', code: 'unreadable' });
  });
});
