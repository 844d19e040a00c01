/** The report of a job of which everything was recorded, and of one of which hardly anything was, word by word. */
import { readFileSync } from 'node:fs';
import { Recorder } from '../../test/job-fixture.ts';
import { DEFAULT_POLICY } from '../shop/act.ts';
import { TERMS_FORMAT } from '../warranty/terms.ts';
import type { ReportBlock, ReportInput } from './blocks.ts';
import { composeReport } from './report.ts';

/** A report as lines: what kind of block, and all it says. */
function linesOf(blocks: readonly ReportBlock[]): string {
  return blocks.flatMap(linesOfBlock).join('\n') + '\n';
}

function linesOfBlock(block: ReportBlock): string[] {
  switch (block.kind) {
    case 'page':
      return ['', '=== another page ==='];
    case 'heading':
      return ['', `${'#'.repeat(block.level)} ${block.text}`];
    case 'text':
      return [`${block.tone === undefined || block.tone === 'plain' ? '' : `(${block.tone}) `}${block.text}`];
    case 'facts':
      return block.rows.map((r) => `${r.name}: ${r.value}`);
    case 'table':
      return [
        block.columns.map((c) => `${c.name}${c.isFigure ? ' >' : ''} ${c.share}`).join(' | '),
        ...block.rows.map((r) => r.join(' | ')),
      ];
    case 'picture':
      return [`[${JSON.stringify(block.picture).length > 100 ? 'picture' : 'nothing drawn'}: ${block.says}]`];
    case 'photos':
      return block.photos.map((p) => `[${p.photoId}: ${p.caption}]`);
  }
}

function inputOf(job: Recorder, change: Partial<ReportInput> = {}): ReportInput {
  return {
    ...{ state: job.state(), profile: job.pack, policy: DEFAULT_POLICY, shelf: new Map(), terms: null, comebackOf: null, now: job.now },
    ...{ vehicle: { name: 'Test wagon', plate: 'T 1', odometerKilometre: 99_000, note: '' }, customer: { name: 'Lise', contact: '' } },
    ...{ chainHash: 'ab'.repeat(32), fingerprint: null, fingerprintCode: null, isDemo: false },
    ...change,
  };
}

/** Everything that a report tells of, recorded once. */
function workWhole(): Recorder {
  const job = new Recorder().open();
  const IN = { kind: 'inPlace' } as const;
  job.add({ type: 'use.noted', body: { uses: ['pets'], lookedUp: '', noScan: '' } });
  const code = (name: string, status: 'stored' | 'pending') => ({ code: name, status });
  const scan = (
    moment: 'asFound' | 'afterRoadTest',
    codes: ReturnType<typeof code>[],
    isSimulated: boolean,
    blockVolts: number[],
  ): void => {
    const none = { readiness: null, packVolt: null, celsius: [24], ampere: 0, chargePercent: 60 };
    job.add({ type: 'car.scanned', body: { ...none, moment, reader: 'Reader 7', readerVersion: '1', isSimulated, codes, blockVolts } });
  };
  scan('asFound', [code('P0A80', 'stored'), code('P0A7F', 'stored')], true, [15.12, 15.1, 14.2]);
  const drained = { reader: 'Reader 7', readerVersion: '1', isSimulated: false, startPercent: 70, endPercent: 45, celsius: 24, isCabinCooled: true, isTwelveVoltSupported: true, endsAtBlock: 3, spreadVolt: 0.2 } as const; // prettier-ignore
  job.add({ type: 'drain.measured', body: { ...drained, when: 'before', ampereHour: 1.574, seconds: 868.4 } });
  const note = (kind: 'leak' | 'corrosion', severity: 'slight' | 'severe', place: number, isOnArrival: boolean, words: string): string =>
    job.add({ type: 'finding.noted', body: { stage: 'open', kind, severity, follow: 'clean', isOnArrival, pin: { on: 'module', place }, note: words } }); // prettier-ignore
  note('corrosion', 'severe', 6, true, 'Green at the post.');
  job.add({ type: 'finding.settled', body: { findingId: note('leak', 'slight', 7, false, ''), note: 'Wiped off.' } });
  job.fact('isolate', { kind: 'plug', isIn: false });
  job.add({ type: 'step.overridden', body: { stepId: 'gear', reason: 'The sheet is late.' } }, 'ts');
  const point = { at: 'carSide', label: 'posts' } as const;
  const proofId = job.add({ type: 'proof.started', body: { meterId: 'M-02', source: 'battery', sourceId: null, point, known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1 } }); // prettier-ignore
  for (const [entry, volt, isFromMeter] of [
    ['knownBefore', 12.6, true],
    ['plusMinus', 3.14, false],
    ['plusMinus', 0.14, false],
    ['plusChassis', 0.1, false],
    ['minusChassis', 0, true],
    ['knownAfter', 12.61, true],
  ] as const)
    job.add({ type: 'proof.read', body: { proofId, entry, volt, isFromMeter } });
  job.add({ type: 'proof.signed', body: { proofId, until: null, breakMinute: 30 } }, 'ts');
  job.add({ type: 'insulation.tested', body: { testerId: 'I-1', minusOhm: 3e6, plusOhm: 1.5e8 } });
  job.add({ type: 'insulation.read', body: { packVolt: 220, minusChassisVolt: 60, plusChassisVolt: 160, withResistorVolt: 100, resistorOhm: 2e5 } }); // prettier-ignore
  job.wait(1);
  job.add({ type: 'part.moved', body: { stage: 'strip', partId: 'seat-bolt', count: 1, from: IN, to: { kind: 'scrapped' }, condition: 'broken' } }); // prettier-ignore
  job.add({ type: 'part.moved', body: { stage: 'strip', partId: 'trim-clip', count: 3, from: IN, to: { kind: 'tray', cell: 'A1' }, condition: 'good' } }); // prettier-ignore
  job.add({ type: 'part.leftOff', body: { partId: 'trim-clip', count: 2, reason: 'None in stock.', followUp: 'Ordered.' } });
  job.add({ type: 'transfer.stated', body: { transferId: 'control-unit', fate: 'moves', isDone: true } });
  sweepWhole(job);
  job.fact('rebuild', { kind: 'module', place: 6, moduleId: 'S-3', isTurned: false });
  job.fact('rebuild', { kind: 'module', place: 1, moduleId: 'm2', isTurned: false });
  job.fact('rebuild', { kind: 'module', place: 2, moduleId: 'm1', isTurned: false });
  const plan = { moduleIds: [], fromShelf: ['S-3'], rangeAh: 0.4, lowerBoundAh: 0.4, proven: true, blockMeanAh: [], assumedPlaces: [] };
  job.add({ type: 'plan.chosen', body: { ...plan, school: 'spotRepair' } });
  for (const how of ['cleaned', 'new'] as const)
    job.add({
      type: 'bars.readied',
      body: { frame: 'vent-frame', how, isInFrame: true, isDry: true, plating: 'whole', haveNewNuts: true },
    });
  const settingId = job.add({ type: 'torque.set', body: { partId: 'bar-nut', toolId: 'T-1', reads: 'figure', setNewtonMetre: 5.4, toolLabel: 'T-1, small' } }); // prettier-ignore
  for (const [seat, newtonMetre] of [[1, 5.4], [2, 2.1], [3, 5.5]] as const) job.add({ type: 'fastener.torqued', body: { settingId, partId: 'bar-nut', seat, pass: 1, newtonMetre } }); // prettier-ignore
  job.add({ type: 'group.tightened', body: { partId: 'pack-bolt', newtonMetre: 19 } });
  job.add({ type: 'air.found', body: { part: 1, when: 'asFound', blockedShare: 0.514, note: '' } });
  job.add({ type: 'air.cleaned', body: { part: 1, school: 'air', note: '' } });
  job.add({ type: 'air.found', body: { part: 1, when: 'after', blockedShare: 0.05, note: '' } });
  job.add({ type: 'fan.tested', body: { part: 2, spins: true, noise: 'rough', hasPlay: true, startVolt: 3.5 } });
  job.add({ type: 'cooling.judged', body: { isAnswered: true, note: 'The filter was shut.' } });
  job.add({ type: 'look.set', body: { months: 6, stripMonths: 24, uses: ['pets'] } });
  job.add({ type: 'codes.cleared', body: { reader: 'Reader 7' } });
  job.add({ type: 'road.driven', body: { minute: 20, spreadLoadVolt: 0.1, spreadChargeVolt: 0.1, highestCelsius: 35, isGood: true, note: 'Up the dyke.' } }); // prettier-ignore
  scan('afterRoadTest', [code('P0A7F', 'pending')], false, []);
  job.add({ type: 'drain.measured', body: { ...drained, when: 'after', ampereHour: 3.2, seconds: 1700 } });
  job.add({ type: 'cause.answered', body: { cause: 'joint', isAnswered: true, how: 'Bars renewed.' } });
  job.add({ type: 'cause.answered', body: { cause: 'heat', isAnswered: false, how: '' } }, 'ts');
  for (const [photoId, caption] of [['p1', 'Left side'], ['p2', '']] as const) job.add({ type: 'photo.taken', body: { stage: 'open', photoId, caption, sha256: 'a'.repeat(64), byte: 9, width: 4, height: 3, place: null, pairOf: null } }); // prettier-ignore
  job.add({ type: 'report.prepared', body: { photoIds: ['p2', 'p1'], toCustomer: 'Mind the grille.' } });
  job.add({ type: 'warranty.given', body: { months: 12, kilometre: 20_000, words: 'On modules.' } });
  for (const answer of ['refused', 'open'] as const) job.add({ type: 'accessory.offered', body: { what: answer === 'open' ? 'Seat cover' : 'Cabin filter', answer, note: '' } }); // prettier-ignore
  job.add({ type: 'core.agreed', body: { supplier: 'Marsh Cells', what: 'modules', count: 2, deposit: 20, shipBy: '2026-12-20' } });
  job.add({ type: 'core.checked', body: { check: 'whole', isGood: true } });
  job.add({ type: 'core.shipped', body: { on: '2026-12-04', count: 1, carrier: 'the ferry' } });
  job.add({ type: 'core.settled', body: { outcome: 'credited', credit: 9.5, note: 'One came back dented.' } });
  job.wait(30);
  job.add({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The owner fetched it.', unmet: ['The 12 V is stated off.'] } });
  job.add({ type: 'job.reopened', body: { reason: 'A light came on.' } });
  job.add({ type: 'job.closed', body: { outcome: 'finished', note: '' } });
  return job;
}

/** Every kind of sweep: module 6 is weak, 7 falls at rest. */
function sweepWhole(job: Recorder): void {
  const read = (
    sweepId: string,
    quantity: 'openCircuitVolt' | 'restVolt' | 'loadVolt' | 'resistanceMilliohm' | 'capacityAh',
    of: (place: number) => number,
  ): void => {
    // prettier-ignore
    for (let place = 1; place <= 28; place++)
      job.add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity, value: of(place) } });
  };
  const open = (place: number): number => (place === 6 ? 6.9 : 7.8 + place / 1000);
  read(job.startSweep('openCircuit'), 'openCircuitVolt', open);
  job.wait(14);
  read(job.startSweep('rest', 'ts', { restSince: new Date(job.now - 14 * 3_600_000).toISOString() }), 'restVolt', (p) => open(p) - (p === 7 ? 0.3 : 0.02)); // prettier-ignore
  read(job.startSweep('load', 'om', { loadAmpere: 20, loadSecond: 60 }), 'loadVolt', (p) => open(p) - 0.5);
  read(job.startSweep('resistance'), 'resistanceMilliohm', () => 24);
  read(job.startSweep('capacity'), 'capacityAh', (p) => (p === 6 ? 2.1 : 5.5 + p / 100));
}

const fixture = (name: string): string => readFileSync(new URL(`../../test/fixtures/${name}`, import.meta.url), 'utf8');

describe('a report, word by word', () => {
  // each figure of it was held against what is recorded above
  it('of a job of which everything was recorded', () => {
    const conditions = [{ kind: 'scanKept' as const }, { kind: 'newNuts' as const }];
    const terms = { format: TERMS_FORMAT, id: 't', version: 3, supplier: 'Marsh Cells', months: 24, conditions } as const;
    const job = workWhole();
    const report = composeReport(
      inputOf(job, {
        ...{ terms: { ...terms, conditions }, comebackOf: 4, isDemo: true, fingerprint: 'aaaa bbbb' },
        shelf: new Map([['S-3', { capacityAh: 6.1, resistanceMilliohm: 25 }]]),
      }),
    );
    expect(linesOf(report.blocks)).toBe(fixture('report-whole.txt'));
  });

  it('of a job that was only opened', () => {
    expect(linesOf(composeReport(inputOf(new Recorder().open())).blocks)).toBe(fixture('report-opened.txt'));
  });

  it('of an exchange, erased, with a whole pack to send back', () => {
    const job = new Recorder().open('exchange');
    job.add({ type: 'core.agreed', body: { supplier: 'Marsh Cells', what: 'pack', count: 1, deposit: 280, shipBy: '2026-12-20' } });
    job.add({ type: 'core.checked', body: { check: 'whole', isGood: false } });
    job.add({ type: 'group.tightened', body: { partId: 'pack-bolt', newtonMetre: 19.5 } });
    job.add({ type: 'insulation.read', body: { packVolt: 220, minusChassisVolt: 0, plusChassisVolt: 0, withResistorVolt: 0, resistorOhm: 2e5 } }); // prettier-ignore
    job.add({ type: 'road.driven', body: { minute: 3, spreadLoadVolt: null, spreadChargeVolt: null, highestCelsius: null, isGood: false, note: '' } }); // prettier-ignore
    job.add({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'It never woke.', unmet: [] } });
    const erased = { vehicle: null, customer: null };
    expect(linesOf(composeReport(inputOf(job, erased)).blocks)).toBe(fixture('report-exchange.txt'));
  });
});
