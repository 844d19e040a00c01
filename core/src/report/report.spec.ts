import fc from 'fast-check';
import { everyAct } from '../../test/every-act.ts';
import { Recorder, SHIPPED, shippedProfile } from '../../test/job-fixture.ts';
import type { Act } from '../job/frame/acts.ts';
import { fold } from '../job/frame/fold.ts';
import type { Spot } from '../ledger/spot.ts';
import { DEFAULT_POLICY } from '../shop/act.ts';
import { TERMS_FORMAT } from '../warranty/terms.ts';
import type { Report, ReportBlock, ReportInput } from './blocks.ts';
import { countModules } from './modules.ts';
import { composeReport } from './report.ts';

const VEHICLE = { name: 'Test wagon', plate: 'T 1', odometerKilometre: 99_000, note: '' };

function inputOf(job: Recorder, change: Partial<ReportInput> = {}): ReportInput {
  return {
    ...{ state: job.state(), profile: job.pack, policy: DEFAULT_POLICY, vehicle: VEHICLE, customer: { name: 'Lise', contact: '' } },
    ...{
      shelf: new Map(),
      terms: null,
      comebackOf: null,
      chainHash: 'ab'.repeat(32),
      fingerprint: null,
      fingerprintCode: null,
      isDemo: false,
      now: job.now,
    },
    ...change,
  };
}

/** All words of a report, block after block. */
function wordsOf({ blocks }: Report): string {
  return blocks.map(wordsOfBlock).join('\n');
}
function wordsOfBlock(block: ReportBlock): string {
  switch (block.kind) {
    case 'page':
      return '';
    case 'heading':
    case 'text':
      return block.text;
    case 'facts':
      return block.rows.map((r) => `${r.name}: ${r.value}`).join('\n');
    case 'table':
      return [block.columns.map((c) => c.name), ...block.rows].map((r) => r.join(' | ')).join('\n');
    case 'picture':
      return block.says;
    case 'photos':
      return block.photos.map((p) => p.caption).join('\n');
  }
}
const say = (job: Recorder, change: Partial<ReportInput> = {}): string => wordsOf(composeReport(inputOf(job, change)));

describe('composeReport', () => {
  it.each(SHIPPED)('writes whatever was recorded on %s, with no figure that is none and every table whole', (id) => {
    const { acts } = everyAct();
    fc.assert(
      fc.property(fc.shuffledSubarray(Object.values(acts), { minLength: 1 }), (some) => {
        const job = new Recorder(shippedProfile(id)).open();
        for (const act of some) if (act.type !== 'job.opened') job.add(act);
        const report = composeReport(inputOf(job, { state: fold(job.pack, job.events) }));
        expect(wordsOf(report)).not.toMatch(/NaN|undefined|Infinity|\[object|null/);
        for (const block of report.blocks)
          if (block.kind === 'table') for (const row of block.rows) expect(row).toHaveLength(block.columns.length);
      }),
      { numRuns: 12, seed: 16 },
    );
  });

  it('names both where a word was passed on and nobody answered for it', () => {
    const job = new Recorder().open();
    expect(say(job)).not.toContain('Passed on');
    const said = { commandId: 'p', deviceAt: '2026-05-04T08:00:00.000Z', device: { id: 'd', isClockSure: true, turn: 1 }, type: 'reading.taken', version: 2, body: {} }; // prettier-ignore
    job.add({ type: 'word.passed', body: { of: 'om', said } }, 'ts');
    expect(say(job)).toMatch(/reads a module \| OM \| TS \| .*2026/);
    job.add({ type: 'word.confirmed', body: { commandIds: ['p'], areSo: false } });
    expect(say(job)).not.toContain('Passed on');
  });

  it('calls the stages as the shop does', () => {
    const policy = { ...DEFAULT_POLICY, wording: { ...DEFAULT_POLICY.wording, strip: 'Take down' } };
    const picture = (input: ReturnType<typeof inputOf>) => JSON.stringify(composeReport(input).blocks.find((b) => b.kind === 'picture'));
    const job = inputOf(new Recorder().open());
    expect(picture({ ...job, policy })).toContain('"Take down"');
    expect(picture(job)).toContain(`"${DEFAULT_POLICY.wording.strip}"`);
  });

  it('is a page for the customer, then the record', () => {
    const report = composeReport(inputOf(new Recorder().open()));
    const cut = report.blocks.findIndex((b) => b.kind === 'page');
    const front = wordsOf({ ...report, blocks: report.blocks.slice(0, cut) });
    expect(front).toContain('for Lise');
    expect(front).toContain('deadly voltage');
    expect(front).not.toMatch(/Hash|entries/i);
    expect(wordsOf({ ...report, blocks: report.blocks.slice(cut) })).not.toContain('Lise');
    expect(report.title).toBe('Job 1: Test wagon');
  });

  it('names nobody who was erased', () => {
    const said = say(new Recorder().open(), { vehicle: null, customer: null });
    expect(said).toContain('for the owner');
    expect(said).toContain('Vehicle: erased');
    expect(said).not.toMatch(/Lise|Test wagon|T 1\b/);
  });

  it('tells what came with the pack from what lies in it now, wherever it went', () => {
    const job = new Recorder().open();
    const sweepId = job.startSweep('openCircuit');
    const read = (place: number, value: number): void =>
      void job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value } });
    for (let place = 1; place <= 28; place++) read(place, 7.8 + place / 1000);
    // 1 and 2 change places, 3 is another one, 4 goes out and comes back
    for (const [place, moduleId] of [[1, 'm2'], [2, 'm1'], [3, 'S9'], [4, 'S8'], [4, 'm4']] as const) job.fact('rebuild', { kind: 'module', place, moduleId, isTurned: false }); // prettier-ignore
    const report = composeReport(inputOf(job, { shelf: new Map([['S9', { capacityAh: 6.1, resistanceMilliohm: 25 }]]) }));
    const tables = report.blocks.flatMap((b) => (b.kind === 'table' ? [b] : []));
    const found = tables.find((t) => t.columns.some((c) => c.name === 'Verdict'));
    const now = tables.find((t) => t.columns.some((c) => c.name === 'From') && t.columns.some((c) => c.name === 'Place'));
    const at = (table: typeof found, place: number): readonly string[] => table?.rows[place - 1] ?? [];
    expect([1, 2, 3, 4, 5].map((p) => [at(found, p)[1], at(found, p)[2], at(found, p).at(-1)])).toEqual([
      ['m1', '7.801', 'place 2'],
      ['m2', '7.802', 'place 1'],
      ['m3', '7.803', 'out'],
      ['m4', '7.804', 'stays'],
      ['m5', '7.805', 'stays'],
    ]);
    expect([1, 2, 3, 4].map((p) => at(now, p).slice(1))).toEqual([
      ['m2', 'place 2', '–', '–'],
      ['m1', 'place 1', '–', '–'],
      ['S9', 'shelf', '6.10', '25.0'],
      ['m4', 'stays', '–', '–'],
    ]);
    expect(wordsOf(report)).toContain('1 module renewed, 27 stayed.');
  });

  it('does not take for what came with the pack what was named only since', () => {
    const job = new Recorder().open('diagnosis');
    job.fact('rebuild', { kind: 'module', place: 3, moduleId: 'S9', isTurned: false });
    const report = composeReport(inputOf(job));
    const found = report.blocks.flatMap((b) => (b.kind === 'table' && b.columns.some((c) => c.name === 'Verdict') ? [b] : []))[0];
    expect(found?.rows[2]?.slice(0, 2)).toEqual(['3', 'unnamed']);
    // what somebody took out and put in again came with it
    const named = new Recorder().open();
    for (const moduleId of ['S8', 'm3', 'S7', 'm3']) named.fact('rebuild', { kind: 'module', place: 3, moduleId, isTurned: false });
    expect(wordsOf(composeReport(inputOf(named)))).not.toContain('renewed');
  });

  it('promises until the day that it says, counted from the closing', () => {
    const job = new Recorder().open();
    expect(say(job)).toContain('Warranty: not said yet');
    job.add({ type: 'warranty.given', body: { months: 12, kilometre: 20_000, words: 'On modules.' } });
    job.add({ type: 'look.set', body: { months: 6, stripMonths: 24, uses: [] } });
    job.wait(48);
    job.add({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The owner fetched it.', unmet: ['The 12 V is stated off.'] } });
    const said = say(job);
    // opened 4 May 2026, closed two days later
    expect(said).toContain('Warranty: 12 months or 20000 km, until 2027-05-06');
    expect(said).toContain('Next look at the air path: 2026-11-02');
    expect(said).toContain('Left undone: The 12 V is stated off.');
    job.add({ type: 'warranty.given', body: { months: 0, kilometre: null, words: '' } });
    expect(say(job)).toContain('Warranty: none');
  });

  it('shows the photographs that were chosen and not erased, in their order', () => {
    const job = new Recorder().open();
    const photo = (photoId: string, caption: string) => ({ stage: 'open', photoId, sha256: 'a'.repeat(64), byte: 9, width: 4, height: 3, caption, place: null, pairOf: null }) as const; // prettier-ignore
    for (const id of ['p1', 'p2', 'p3']) job.add({ type: 'photo.taken', body: photo(id, `of ${id}`) });
    job.add({ type: 'report.prepared', body: { photoIds: ['p3', 'p1', 'p2', 'never'], toCustomer: 'Mind the grille.' } });
    job.add({ type: 'photo.erased', body: { photoId: 'p1', reason: 'A face was in it.' } });
    const report = composeReport(inputOf(job));
    expect(report.photoIds).toEqual(['p3', 'p2']);
    expect(wordsOf(report)).toContain('Mind the grille.');
    expect(wordsOf(report)).not.toContain('of p1');
  });

  it('says how a supplier’s conditions stand, and that figures of a demonstration are no figures', () => {
    const terms = {
      format: TERMS_FORMAT,
      id: 't',
      version: 3,
      supplier: 'Marsh',
      months: 24,
      conditions: [{ kind: 'scanKept' as const }],
    } as const;
    const said = say(new Recorder().open(), { terms: { ...terms, conditions: [...terms.conditions] }, isDemo: true });
    expect(said).toContain('Conditions of Marsh');
    expect(said).toContain('A scan after the road test, kept | missing | No scan after the road test yet.');
    expect(said).toContain('invented or simulated');
    expect(say(new Recorder().open())).not.toMatch(/invented|Conditions of/);
  });
});

describe('what the report says of parts and of what was done', () => {
  const IN = { kind: 'inPlace' } as const;
  const move = (job: Recorder, partId: string, count: number, to: Spot, condition: 'good' | 'broken' = 'good'): string =>
    job.add({ type: 'part.moved', body: { stage: 'strip', partId, count, from: IN, to, condition } });
  const rows = (job: Recorder): string[][] =>
    composeReport(inputOf(job)).blocks.flatMap((b) => (b.kind === 'table' && b.columns.some((c) => c.name === 'to order') ? b.rows.map((r) => [...r]) : [])); // prettier-ignore

  it('lists what is owed, what was left off and what is to order, each by itself, and nothing that is square', () => {
    const job = new Recorder().open();
    move(job, 'trim-clip', 3, { kind: 'tray', cell: 'A1' });
    move(job, 'seat-bolt', 1, { kind: 'scrapped' }, 'broken');
    const out = move(job, 'post-cover', 1, { kind: 'tray', cell: 'A2' });
    job.add({ type: 'part.moved', body: { stage: 'refit', partId: 'post-cover', count: 1, from: { kind: 'tray', cell: 'A2' }, to: IN, condition: 'good' } }); // prettier-ignore
    expect(out).not.toBe('');
    const names = new Map(job.pack.parts.map((p) => [p.id, p.name]));
    expect(rows(job).map(([name, , owed, , order]) => [name, owed, order])).toEqual([
      [names.get('seat-bolt'), '1', '1'],
      [names.get('trim-clip'), '3', '0'],
    ].sort((a, b) => job.pack.parts.findIndex((p) => p.name === a[0]) - job.pack.parts.findIndex((p) => p.name === b[0]))); // prettier-ignore
    const square = new Recorder().open();
    expect(rows(square)).toEqual([]);
  });

  it('says that it was driven only where a drive was good', () => {
    const road = (isGood: boolean): Act => ({ type: 'road.driven', body: { minute: 9, spreadLoadVolt: null, spreadChargeVolt: null, highestCelsius: null, isGood, note: '' } }); // prettier-ignore
    const job = new Recorder().open();
    expect(say(job)).not.toContain('Driven and scanned.');
    job.add(road(false));
    expect(say(job)).not.toContain('Driven and scanned.');
    job.add(road(true));
    expect(say(job)).toContain('Driven and scanned.');
  });

  it('counts modules that stay, that came from the shelf, and that went', () => {
    const job = new Recorder().open();
    for (const [place, moduleId] of [[3, 'S1'], [4, 'S2'], [5, null]] as const) job.fact('rebuild', { kind: 'module', place, moduleId, isTurned: false }); // prettier-ignore
    expect(countModules(inputOf(job))).toEqual({ staying: 25, fromShelf: 2, out: 3 });
    expect(say(job)).toContain('2 modules renewed, 25 stayed.');
    const out = new Recorder().open();
    for (const place of [3, 5]) out.fact('rebuild', { kind: 'module', place, moduleId: null, isTurned: false });
    expect(say(out)).toContain('2 modules were taken out.');
  });
});
