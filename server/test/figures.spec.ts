/** Workbooks as a spreadsheet opens them. */
import { DEFAULT_POLICY, type ShopFigures } from '@estuarine/core';
import ExcelJS from 'exceljs';
import type { FastifyInstance } from 'fastify';
import { sheetsOf } from '../src/figures/sheets.ts';
import { writeWorkbook } from '../src/figures/workbook.ts';
import { createDatabase, Desk, signIn, startApp, stockModules, type TestDatabase } from './support.ts';

const AT = new Date('2026-05-04T10:00:00Z');

async function open(bytes: Buffer): Promise<ExcelJS.Workbook> {
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(bytes as unknown as ArrayBuffer);
  return book;
}
const cellsOf = (sheet: ExcelJS.Worksheet | undefined): unknown[][] =>
  Array.from({ length: sheet?.rowCount ?? 0 }, (_, i) =>
    Array.from({ length: sheet?.columnCount ?? 0 }, (__, k) => sheet?.getRow(i + 1).getCell(k + 1).value ?? null),
  );

describe('a workbook', () => {
  it('has a bold head that stays in sight, a filter over all columns, and cells as they were given', async () => {
    const columns = [{ name: 'what', width: 30 }, { name: 'n' }];
    const rows = [['plain', 1.5], ['', null], ['yes', true]]; // prettier-ignore
    const book = await open(await writeWorkbook([{ name: 'One', columns, rows }, { name: 'None', columns: [], rows: [] }], AT)); // prettier-ignore
    expect(book.worksheets.map((s) => s.name)).toEqual(['One', 'None']);
    expect([book.creator, book.created]).toEqual(['Estuarine', AT]);
    const one = book.getWorksheet('One');
    expect(cellsOf(one)).toEqual([['what', 'n'], ['plain', 1.5], ['', null], ['yes', true]]); // prettier-ignore
    expect([one?.getCell('A1').font.bold, one?.getCell('A2').font?.bold ?? false]).toEqual([true, false]);
    expect(one?.views).toMatchObject([{ state: 'frozen', ySplit: 1 }]);
    expect([one?.getColumn(1).width, one?.getColumn(2).width]).toEqual([30, 16]);
    expect(one?.autoFilter).toBe('A1:B1');
  });

  it('runs no text as a formula, and leaves numbers alone', async () => {
    const odd = ['=1+1', '+1', '-1', '@x', '\tx', '\rx', 'a=1', -1];
    const book = await open(await writeWorkbook([{ name: 'S', columns: odd.map((_, i) => ({ name: `${i}` })), rows: [odd] }], AT));
    const read = cellsOf(book.getWorksheet('S'))[1]?.map(String);
    expect(read?.slice(0, 4)).toEqual(["'=1+1", "'+1", "'-1", "'@x"]);
    expect(read?.slice(4, 6).every((cell) => cell.startsWith("'"))).toBe(true);
    expect(read?.slice(6)).toEqual(['a=1', '-1']);
  });
});

it('figures are written a sheet each, in the words and the currency of the shop', () => {
  const figures: ShopFigures = {
    comebacks: [{ school: 'spotRepair', schoolName: 'Spot repair', profileName: 'Dunlin 28', closed: 4, comebacks: 1, share: 1 / 3, jobs: [15, 17] }] as never, // prettier-ignore
    minutes: [{ stage: 'handOver', profileName: 'Dunlin 28', quotedMinute: 30, medianMinute: 27.6, jobs: 3 }],
    money: [{ jobId: 'j', number: 14, supplier: 'Marsh', what: 'pack', count: 1, deposit: 90, outstanding: 45, shipBy: '2026-05-20', isShipped: false, isDisputed: true, isSettled: false, isLate: false }] as never, // prettier-ignore
    outstanding: 45,
    months: [{ month: '2026-04', closed: 2, in: 5, out: 6 }],
  };
  const policy = {
    ...DEFAULT_POLICY,
    money: { currency: 'CHF' },
    wording: { ...DEFAULT_POLICY.wording, handOver: 'Give back' },
  };
  const sheets = sheetsOf(figures, policy);
  expect(sheets.map((s) => [s.name, ...s.columns.map((c) => c.name)])).toEqual([
    ['Comebacks', 'school', 'profile', 'closed', 'came back', 'share, one of each added', 'jobs'],
    ['Minutes', 'profile', 'stage', 'quoted / min', 'median / min', 'jobs'],
    ['Money out', 'job', 'supplier', 'what', 'count', 'deposit / CHF', 'outstanding / CHF', 'ship by', 'shipped', 'disputed', 'late'],
    ['Modules', 'month', 'jobs closed', 'into packs', 'out of packs'],
  ]);
  expect(sheets.map((s) => s.rows)).toEqual([
    [['Spot repair', 'Dunlin 28', 4, 1, 1 / 3, '15 17']],
    [['Dunlin 28', 'Give back', 30, 28, 3]],
    [[14, 'Marsh', 'pack', 1, 90, 45, '2026-05-20', false, true, false]],
    [['2026-04', 2, 5, 6]],
  ]);
  expect(sheets[0]?.columns.map((c) => c.width)).toEqual(Array(6).fill(22));
});

describe('over HTTP', () => {
  let db: TestDatabase;
  let app: FastifyInstance;
  let cookie: string;
  let sweep: string;
  beforeAll(async () => {
    db = await createDatabase();
    const desk = new Desk(db);
    sweep = await desk.openJob('swept');
    for (const [place, value] of [[3, 7.83], [1, 7.81], [1, 7.85]] as const) await desk.read('swept', sweep, place, value); // prettier-ignore
    await stockModules(db.pool, 'S-1');
    app = await startApp(db, { clock: () => AT });
    cookie = await signIn(app);
  });
  afterAll(async () => {
    await app.close();
    await db.drop();
  });
  const ask = (url: string) => app.inject({ method: 'GET', url, headers: { cookie } });

  it('sweeps come a sheet each, by place, with what counts of each module', async () => {
    const answer = await ask('/api/jobs/swept/sweeps.xlsx');
    expect(answer.headers).toMatchObject({
      'content-disposition': 'attachment; filename="sweeps.xlsx"',
      'content-type': 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      'cache-control': 'private, no-store',
    });
    const book = await open(answer.rawPayload);
    expect(book.worksheets.map((s) => s.name)).toEqual(['1 openCircuit']);
    expect(cellsOf(book.worksheets[0])).toEqual([
      ['place', 'module', 'openCircuitVolt'],
      [1, 'swept-1', 7.85],
      [3, 'swept-3', 7.83],
    ]);
    expect((await ask('/api/jobs/nowhere/sweeps.xlsx')).json()).toMatchObject({ status: 404, type: 'urn:estuarine:unknownJob' });
    expect((await ask('/api/jobs/a%20b/sweeps.xlsx')).statusCode).toBe(422);
  });

  it('the stock comes with where each module is', async () => {
    const book = await open((await ask('/api/stock.xlsx')).rawPayload);
    const [head, ...rows] = cellsOf(book.getWorksheet('Stock'));
    expect(head).toEqual(['module', 'label', 'type', 'capacity / Ah', 'resistance / mohm', 'rest drop / mV', 'open circuit / V', 'bin', 'quarantine', 'reserved by job', 'in job', 'place']); // prettier-ignore
    expect(rows.find(([id]) => id === 'S-1')).toEqual(['S-1', 'S-1', 'nimh-6-prismatic', 5.6, 26, 20, 7.8, 'Rack A', '', null, null, null]);
    expect(rows.find(([id]) => id === 'swept-3')).toMatchObject({ 10: 1, 11: 3 });
  });

  it('figures of a shop that closed nothing have no line but the minutes of what is under way', async () => {
    const book = await open((await ask('/api/figures.xlsx')).rawPayload);
    expect(book.worksheets.map((s) => [s.name, s.rowCount])).toEqual([['Comebacks', 1], ['Minutes', 2], ['Money out', 1], ['Modules', 1]]); // prettier-ignore
    expect((await ask('/api/figures')).json()).toMatchObject({ currency: 'EUR', figures: { comebacks: [], money: [], outstanding: 0 } });
  });
});
