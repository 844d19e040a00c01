import type { Picture, Report, ReportBlock } from '@estuarine/core';
import { readPdf, type ReadPdf } from '../../test/pdf-reader.ts';
import { writePdf } from './pdf.ts';

/** A4 in points, and what the page leaves free: text, and the line at its foot (ISO 216; 1/72 inch). */
const [WIDTH, HEIGHT] = [595.28, 841.89];
const MARGIN = 48;
const FLOOR = HEIGHT - MARGIN - 28;
/** 1 by 1 px, JPEG. */
const JPEG = Buffer.from('/9j/4AAQSkZJRgABAQEASABIAAD/2wBDAP//////////////////////////////////////////////////////////////////////////////////////wAALCAABAAEBAREA/8QAFAABAAAAAAAAAAAAAAAAAAAACf/EABQQAQAAAAAAAAAAAAAAAAAAAAD/2gAIAQEAAD8AVN//2Q==', 'base64'); // prettier-ignore

async function print(blocks: readonly ReportBlock[], photos: ReadonlyMap<string, Uint8Array> = new Map()): Promise<ReadPdf> {
  const report: Report = { title: 'Job 7: the record', number: 7, photoIds: [], blocks };
  const pdf = await writePdf({ report, photos, now: 0 });
  if (!pdf) throw new Error('cancelled');
  return readPdf(pdf);
}

const at = (read: ReadPdf, text: string, page = 0) => {
  const found = read.placed[page]?.find((p) => p.text.includes(text));
  if (!found) throw new Error(`${text} is not on page ${page + 1}: ${read.pages[page] ?? ''}`);
  return found;
};
const line = (text: string): ReportBlock => ({ kind: 'text', text });
/** Takes up so many lines of 17 points or so each. */
const fill = (count: number): ReportBlock[] => Array.from({ length: count }, (_, i) => line(`line ${i}.`));

it('has a bookmark for each heading of the first two levels, the second under the first', async () => {
  const heading = (level: 1 | 2 | 3, text: string): ReportBlock => ({ kind: 'heading', level, text });
  const read = await print([heading(2, 'Alone'), heading(1, 'One'), heading(2, 'Under one'), heading(3, 'Small'), heading(1, 'Two')]);
  expect(read.outline.map((o) => [o.title, o.items.map((i) => i.title)])).toEqual([
    ['Alone', []],
    ['One', ['Under one']],
    ['Two', []],
  ]);
  expect(read.structure[0]).toEqual(['Document', 'H2', 'H1', 'H2', 'H3', 'H1']);
  expect([at(read, 'One').size, at(read, 'Under one').size, at(read, 'Small').size]).toEqual([22, 15, 12]);
  expect(at(read, 'Alone').left).toBeCloseTo(MARGIN);
  // the first at the upper edge, each below the one before
  expect(at(read, 'Alone').baseline).toBeLessThan(MARGIN + 20);
  const lines = ['Alone', 'Under one', 'Small', 'Two'].map((text) => at(read, text).baseline);
  expect([...lines].sort((a, b) => a - b)).toEqual(lines);
});

it('leaves no heading alone at the foot of a page, and begins a page where it is told to', async () => {
  const short = await print([...fill(31), { kind: 'heading', level: 2, text: 'Next' }, line('what follows')]);
  expect(short.pages).toHaveLength(1);
  const long = await print([
    ...fill(34),
    { kind: 'heading', level: 2, text: 'Next' },
    line('what follows'),
    { kind: 'page' },
    line('last'),
  ]);
  expect(long.pages).toHaveLength(3);
  expect(long.pages[0]).toContain('line 33.');
  expect(long.pages[1]).toMatch(/^Next what follows/);
  expect(long.pages[2]).toMatch(/^last/);
  const body = long.placed.flatMap((page) => page.filter((p) => p.baseline < FLOOR));
  expect(body.map((p) => p.text).join(' ')).toMatch(/line 33\. Next what follows last$/);
});

it('foots each page with its title and its number, to the left and to the right', async () => {
  const read = await print([line('one'), { kind: 'page' }, line('two')]);
  expect(read.pages.map((p) => /(\d of \d)/.exec(p)?.[1])).toEqual(['1 of 2', '2 of 2']);
  const foot = (read.placed[1] ?? []).filter((p) => p.baseline > FLOOR);
  expect(Math.min(...foot.map((p) => p.left))).toBeCloseTo(MARGIN);
  expect(Math.max(...foot.map((p) => p.right))).toBeCloseTo(WIDTH - MARGIN, 0);
  expect(new Set(foot.map((p) => p.baseline.toFixed(0))).size).toBe(1);
  expect(foot[0]?.baseline).toBeLessThan(HEIGHT - 20);
});

it('sets text plainly, quietly smaller, and a caution apart', async () => {
  const read = await print([
    line('plain'),
    { kind: 'text', text: 'quiet', tone: 'quiet' },
    { kind: 'text', text: 'care', tone: 'caution' },
  ]);
  expect(['plain', 'quiet', 'care'].map((text) => [at(read, text).left, at(read, text).size])).toEqual([
    [MARGIN, 10],
    [MARGIN, 8.5],
    [MARGIN + 12, 10],
  ]);
  expect(read.structure[0]).toEqual(['Document', 'P', 'P', 'P']);
  // what does not fit on a line goes on below, within the margins
  const long = await print([line('word '.repeat(400))]);
  for (const { right } of long.placed[0] ?? []) expect(right).toBeLessThanOrEqual(WIDTH - MARGIN + 1);
});

it('sets figures flush right in their column, also where a sign is of another font', async () => {
  const columns = [{ name: 'Module', share: 3 }, { name: 'Capacity', isFigure: true, share: 1 }] as const; // prettier-ignore
  const read = await print([{ kind: 'table', columns, rows: [['M-01', '5.61'], ['M-02', '12.5 Ω']] }]); // prettier-ignore
  const edge = WIDTH - MARGIN - 6;
  for (const text of ['Capacity', '5.61', 'Ω']) expect(Math.abs(at(read, text).right - edge)).toBeLessThan(2);
  expect(at(read, 'M-01').left).toBeCloseTo(MARGIN + 6);
  expect(at(read, '12.5').left).toBeGreaterThan(MARGIN + 0.75 * (WIDTH - 2 * MARGIN));
  expect(at(read, '5.61').baseline).toBeCloseTo(at(read, 'M-01').baseline, 0);
  expect(read.structure[0]).toEqual(['Document', 'Table', 'TR', 'TH', 'TH', 'TR', 'TD', 'TD', 'TR', 'TD', 'TD']);
});

it('goes on with a table over pages, its names at the head of each, no row twice and none lost', async () => {
  const columns = [{ name: 'Module', share: 1 }, { name: 'Place', isFigure: true, share: 1 }] as const; // prettier-ignore
  const rows = Array.from({ length: 120 }, (_, i) => [`M-${String(i).padStart(3, '0')}`, String(i)]);
  const read = await print([{ kind: 'table', columns, rows }, line('after it')]);
  expect(read.pages.length).toBeGreaterThan(1);
  for (const page of read.pages) expect(page.match(/Module/g)).toHaveLength(1);
  expect(read.text.match(/M-\d{3}/g)).toEqual(rows.map(([name]) => name));
  const last = read.placed.at(-1) ?? [];
  const end = last.find((p) => p.text.includes('M-119'))?.baseline ?? 0;
  expect(last.find((p) => p.text === 'after it')?.baseline).toBeGreaterThan(end + 10);
});

it('says facts by name, in two columns, over pages without a head', async () => {
  const rows = Array.from({ length: 70 }, (_, i) => ({ name: `name ${i}`, value: `value ${i}` }));
  const read = await print([{ kind: 'facts', rows }]);
  expect(read.pages).toHaveLength(2);
  expect(read.structure[0]?.slice(0, 5)).toEqual(['Document', 'Table', 'TR', 'TH', 'TD']);
  const text = read.text.replace(/ Job 7: the record \d of \d/g, '');
  for (const [i, { name, value }] of rows.entries()) expect(text).toContain(i < 69 ? `${name} ${value} name ${i + 1}` : `${name} ${value}`);
  // 1.4 of 5.4 parts for the name
  expect(at(read, 'value 0').left).toBeCloseTo(MARGIN + (1.4 / 5.4) * (WIDTH - 2 * MARGIN) + 6, 0);
});

it('a row that is higher than one line pushes the next one down', async () => {
  const columns = [{ name: 'What', share: 1 }, { name: 'Note', share: 1 }] as const; // prettier-ignore
  const read = await print([{ kind: 'table', columns, rows: [['first', 'a note of many words '.repeat(12)], ['second', '']] }]); // prettier-ignore
  const note = (read.placed[0] ?? []).filter((p) => p.text.includes('note of')).map((p) => p.baseline);
  expect(note.length).toBeGreaterThan(3);
  expect(at(read, 'second').baseline).toBeGreaterThan(Math.max(...note));
});

it('draws a picture within the page, says what it shows, and goes on below it', async () => {
  const picture: Picture = { width: 1000, height: 500, shapes: [] };
  const read = await print([{ kind: 'picture', picture, says: 'the pack from above' }, line('below')]);
  expect(read.structure[0]).toEqual(['Document', 'Figure: the pack from above', 'Caption', 'P']);
  // made as wide as the text, and as high as that gives
  const caption = at(read, 'the pack from above').baseline;
  expect(caption).toBeGreaterThan(MARGIN + (WIDTH - 2 * MARGIN) / 2);
  expect(caption).toBeLessThan(MARGIN + (WIDTH - 2 * MARGIN) / 2 + 20);
  expect(at(read, 'below').baseline).toBeGreaterThan(caption + 10);
  // one that has no room left goes to the next page
  expect((await print([...fill(30), { kind: 'picture', picture, says: 'late' }])).pages[1]).toMatch(/^late/);
});

it('sets photographs two by two, each over its caption, and says which never came', async () => {
  const photos = ['a', 'b', 'c'].map((photoId) => ({ photoId, caption: `shot ${photoId}` }));
  const read = await print([{ kind: 'photos', photos }, line('after')], new Map([['a', JPEG], ['c', JPEG]])); // prettier-ignore
  expect(read.structure[0]).toEqual(['Document', 'Figure: shot a', 'Caption', 'Caption', 'Figure: shot c', 'Caption', 'P']);
  expect(read.text).toContain('shot b. The picture never came from its device.');
  const [a, b, c] = ['shot a', 'shot b', 'shot c'].map((text) => at(read, text));
  expect(a?.left).toBeCloseTo(MARGIN);
  expect(b?.left).toBeCloseTo(MARGIN + (WIDTH - 2 * MARGIN - 16) / 2 + 16, 0);
  expect(b?.baseline).toBeCloseTo(a?.baseline ?? 0);
  expect(c?.left).toBeCloseTo(MARGIN);
  expect((c?.baseline ?? 0) - (a?.baseline ?? 0)).toBeGreaterThan(0.75 * ((WIDTH - 2 * MARGIN - 16) / 2));
  expect(at(read, 'after').baseline).toBeGreaterThan(c?.baseline ?? 0);
});

it('tells how far it is, ends where it is cancelled, and is the same file for the same moment', async () => {
  const report: Report = { title: 't', number: 1, photoIds: [], blocks: fill(20) };
  const shares: number[] = [];
  const one = await writePdf({ report, photos: new Map(), now: 5, onProgress: (share) => shares.push(share) });
  expect(shares).toEqual([...Array.from({ length: 20 }, (_, i) => (i + 1) / 21), 1]);
  expect((await writePdf({ report, photos: new Map(), now: 5 }))?.equals(one ?? Buffer.alloc(0))).toBe(true);
  expect((await writePdf({ report, photos: new Map(), now: 6 }))?.equals(one ?? Buffer.alloc(0))).toBe(false);
  let asked = 0;
  expect(await writePdf({ report, photos: new Map(), now: 5, isCancelled: () => ++asked > 10 })).toBeNull();
  expect(asked).toBe(11);
});
