/**
 * Malformed files without end: tables, profiles and photographs that fit but for a few spoilt places. Each is read whole or refused with
 * its place and reason; none throws, none hangs, and nothing that no module could read comes through.
 */
import {
  createGenerator,
  describeStockFile,
  describeSweepFile,
  findBesides,
  leaveOutBesides,
  readProfile,
  readStockFile,
  readSweepFile,
  sayImpossible,
  type Generator,
  type Profile,
} from '@estuarine/core';
import { readGrid } from '../app/import/read-text.ts';

/** Longest that one file of up to 5 MB may take, in milliseconds; a file that hangs takes for ever. */
const HANG_MILLISECOND = 5000;
const CELLS = [
  ...['', ' ', '"', '""', '=1+1', '1.234,5', '1e999', '-', 'NaN', 'Infinity', '٣', 'constructor', '__proto__', '99999999999', '7,8,9'],
  ...['1'.repeat(400), 'x'.repeat(70_000), '\u202e7.8', '\ud800', '0x10', '7845', '7.845 V', '7.8;7.9', '\t', '2026-05-04'],
];
const HEADINGS = [
  'Module',
  'Modul Nr',
  'Voltage 1 / V',
  'Spannung 2 (mV)',
  'rest',
  'constructor',
  'Module',
  '',
  'Ri mOhm',
  'Capacity / mAh',
];

/** A photograph as the device makes it: start, head, tables, one scan, end. */
const PICTURE = Uint8Array.from([
  ...[0xff, 0xd8, 0xff, 0xe0, 0, 16, 0x4a, 0x46, 0x49, 0x46, 0, 1, 2, 0, 0, 1, 0, 1, 0, 0],
  ...[0xff, 0xdb, 0, 6, 0, 1, 2, 3, 0xff, 0xc4, 0, 4, 0, 1, 0xff, 0xc0, 0, 11, 8, 0, 1, 0, 1, 1, 1, 0x11, 0],
  ...[0xff, 0xda, 0, 8, 1, 1, 0, 0, 63, 0, 1, 0xff, 0x00, 0xfe, 2, 0xff, 0xd3, 7, 0xff, 0xd9],
]);

export interface FileCounts {
  readonly read: number;
  readonly refused: number;
  /** What threw, hung, said nothing of its reason, or let something impossible through. */
  readonly faults: readonly string[];
}

export class MalformedFiles {
  readonly #random: Generator;
  readonly #profile: Profile;
  readonly #raw: unknown;
  #read = 0;
  #refused = 0;

  /** @param profile a profile as its file holds it */
  constructor(profile: unknown, seed: number) {
    const read = readProfile(profile);
    if (read.kind === 'refused') throw new Error(read.message);
    this.#profile = read.value;
    this.#raw = profile;
    this.#random = createGenerator(seed * 104_729);
  }

  run(count: number): FileCounts {
    const faults: string[] = [];
    for (let i = 0; i < count; i++) {
      const kind = this.#pick(['sweep', 'sweep', 'stock', 'profile', 'photo'] as const);
      const began = performance.now();
      let fault: string | null;
      try {
        fault = kind === 'profile' ? this.#tryProfile() : kind === 'photo' ? this.#tryPhoto() : this.#tryTable(kind);
      } catch (error) {
        fault = `threw ${String(error)}`;
      }
      if (performance.now() - began > HANG_MILLISECOND) fault ??= 'hung';
      if (fault !== null) faults.push(`file ${i}, ${kind}: ${fault}`);
    }
    return { read: this.#read, refused: this.#refused, faults };
  }

  #tryTable(kind: 'sweep' | 'stock'): string | null {
    const grid = readGrid(this.#spoilBytes(this.#encode(this.#table())));
    if (grid.kind === 'unreadable') return this.#refuse(grid.reason);
    const { moduleCount, moduleType } = this.#profile;
    if (kind === 'stock') {
      const stock = readStockFile(grid.rows, describeStockFile(grid.rows, moduleType), moduleType);
      if (stock.kind === 'faulty') return this.#refuse(...stock.faults.map((f) => f.reason));
      this.#read++;
      return new Set(stock.modules.map((m) => m.moduleId)).size === stock.modules.length ? null : 'two rows of one module came through';
    }
    const target = { moduleCount, type: moduleType };
    const sweep = readSweepFile(grid.rows, describeSweepFile(grid.rows, target), target);
    if (sweep.kind === 'faulty') return this.#refuse(...sweep.faults.map((f) => f.reason));
    this.#read++;
    for (const { place, figure, value } of sweep.readings) {
      if (!Number.isInteger(place) || place < 1 || place > moduleCount) return `place ${place} came through`;
      // a whole column in another unit is asked about before anything is kept
      if (sweep.questions.some((q) => q.figure === figure)) continue;
      if (sayImpossible(figure, value, moduleType) !== null) return `${figure} ${value} came through`;
    }
    return null;
  }

  #tryProfile(): string | null {
    const copy = structuredClone(this.#raw);
    for (let i = this.#random.below(3); i >= 0; i--) this.#spoilValue(copy);
    let parsed: unknown;
    try {
      parsed = JSON.parse(this.#chance(0.2) ? JSON.stringify(copy).slice(0, this.#random.below(4000)) : JSON.stringify(copy));
    } catch {
      return this.#refuse('no JSON');
    }
    const read = readProfile(parsed);
    if (read.kind === 'refused') return this.#refuse(read.message);
    this.#read++;
    return null;
  }

  #tryPhoto(): string | null {
    const bytes = this.#spoilBytes(PICTURE);
    const left = leaveOutBesides(bytes);
    if (left.kind === 'refused') return this.#refuse(left.message);
    this.#read++;
    return findBesides(left.value).kind === 'answer' ? null : 'what was left out is still there';
  }

  #refuse(...reasons: readonly string[]): string | null {
    this.#refused++;
    return reasons.length > 0 && reasons.every((r) => r.trim() !== '') ? null : 'refused without a reason';
  }

  /** A table of the pack's modules, with a few cells, headings or rows that do not belong. */
  #table(): string {
    const mark = this.#pick([',', ';', '\t', '|']);
    const columns = 1 + this.#random.below(4);
    const heading = Array.from({ length: columns + 1 }, (_, i) => (i === 0 ? 'Module' : this.#pick(HEADINGS)));
    const rows = Array.from({ length: this.#pick([0, 1, 28, 28, 28, 29, 3000]) }, (_, i) => [
      String(i + 1),
      ...Array.from({ length: columns }, () => (7.6 + this.#random.next() * 0.4).toFixed(3)),
    ]);
    for (let i = this.#random.below(4); i > 0 && rows.length > 0; i--) {
      const row = this.#pick(rows);
      row[this.#random.below(row.length)] = this.#pick(CELLS);
      if (this.#chance(0.2)) row.push(...Array.from({ length: this.#random.below(200) }, () => '1'));
      if (this.#chance(0.1)) row.splice(0, 1);
    }
    return [heading, ...rows].map((r) => r.join(mark)).join(this.#pick(['\n', '\r\n', '\r']));
  }

  #encode(text: string): Uint8Array {
    if (this.#chance(0.1)) return Uint8Array.from([0xff, 0xfe, ...Buffer.from(text, 'utf16le')]);
    return this.#chance(0.2) ? Uint8Array.from(Buffer.from(text, 'latin1')) : new TextEncoder().encode(text);
  }

  #spoilBytes(bytes: Uint8Array): Uint8Array {
    const spoilt = Uint8Array.from(bytes);
    for (let i = this.#random.below(4); i > 0 && spoilt.length > 0; i--)
      spoilt[this.#random.below(spoilt.length)] = this.#pick([0, 0x22, 0xff, 0xd8, 0xe1, 0x0a, this.#random.below(256)]);
    if (this.#chance(0.2)) return spoilt.slice(0, this.#random.below(spoilt.length + 1));
    return this.#chance(0.1) ? Uint8Array.from([...spoilt, ...spoilt.slice(0, 2000)]) : spoilt;
  }

  /** One value somewhere in a document becomes another. */
  #spoilValue(document: unknown): void {
    const spots: [Record<string, unknown>, string][] = [];
    const walk = (value: unknown): void => {
      if (typeof value !== 'object' || value === null) return;
      for (const key of Object.keys(value)) {
        spots.push([value as Record<string, unknown>, key]);
        walk((value as Record<string, unknown>)[key]);
      }
    };
    walk(document);
    const [holder, key] = this.#pick(spots);
    if (this.#chance(0.2)) Reflect.deleteProperty(holder, key);
    else
      holder[key] = this.#pick([
        null,
        -1,
        0,
        1e308,
        2147483648,
        '',
        '\u0000',
        'constructor',
        [],
        {},
        true,
        [[1, 2]],
        1.5,
        'x'.repeat(5000),
      ]);
  }

  #chance(share: number): boolean {
    return this.#random.next() < share;
  }

  #pick<T>(list: readonly T[]): T {
    return list[this.#random.below(list.length)] as T;
  }
}
