import { TextDecoder, TextEncoder } from 'node:util';
import { decode, findDelimiter, MAXIMUM_BYTES, readGrid } from './read-text.ts';

Object.assign(globalThis, { TextDecoder });
const utf8 = (text: string): Uint8Array => Uint8Array.from(new TextEncoder().encode(text));

describe('decode', () => {
  it('reads UTF-8 with and without a mark, UTF-16 both ways, and Windows-1252', () => {
    expect(decode(utf8('mΩ')).text).toBe('mΩ');
    expect(decode(Uint8Array.from([0xef, 0xbb, 0xbf, ...utf8('Ah')])).encoding).toBe('UTF-8 with mark');
    expect(decode(Uint8Array.from([0xff, 0xfe, 0x41, 0x00])).text.at(-1)).toBe('A');
    expect(decode(Uint8Array.from([0xfe, 0xff, 0x00, 0x41])).text.at(-1)).toBe('A');
    expect(decode(Uint8Array.from([0x4b, 0x61, 0x70, 0x61, 0x7a, 0x69, 0x74, 0xe4, 0x74]))).toEqual({
      text: 'Kapazität',
      encoding: 'Windows-1252',
    });
  });
});

describe('findDelimiter', () => {
  it('does not take decimal commas for columns', () => {
    expect(findDelimiter('Nr.;U1;U2\n1;7,8;7,7\n2;7,8;7,7')).toBe(';');
    expect(findDelimiter('a\tb\n1,5\t2,5')).toBe('\t');
    expect(findDelimiter('a,b\n1.5,2.5')).toBe(',');
    expect(findDelimiter('a|b\n1|2')).toBe('|');
  });
});

describe('readGrid', () => {
  it('keeps row numbers as a spreadsheet shows them, blank rows too', () => {
    expect(readGrid(utf8('title\n\nmodule,V1\n1,7.8'))).toMatchObject({
      kind: 'grid',
      rows: [['title'], [''], ['module', 'V1'], ['1', '7.8']],
    });
  });
  it.each([
    ['an empty file', new Uint8Array(0), 'empty'],
    ['a file too large', new Uint8Array(MAXIMUM_BYTES + 1).fill(65), 'up to 5 MB'],
    ['no text at all', Uint8Array.from([80, 75, 3, 4, 0, 0, 0]), 'not a text table'],
    ['a quotation mark left open', utf8('module,V1\n1,"7.8\n2,7.8'), 'not closed'],
    ['too many rows', utf8('a,b\n'.repeat(20_100)), 'up to 20000'],
  ])('refuses %s with a sentence', (_what, bytes, words) => {
    expect(readGrid(bytes)).toMatchObject({ kind: 'unreadable', reason: expect.stringContaining(words) });
  });
});
