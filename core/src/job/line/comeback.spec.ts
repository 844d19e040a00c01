import fc from 'fast-check';
import { Recorder, shippedProfile } from '../../../test/job-fixture.ts';
import { blockPlaces } from '../../pack/profile.ts';
import type { Act } from '../frame/acts.ts';
import { explainComeback, type ComebackCause } from './comeback.ts';

const A = shippedProfile('dunlin-28');
const SPANS = blockPlaces(A.blocks);
const BAR_NUT = A.parts.find((p) => p.id === 'bar-nut');
const at = (job: Recorder) => ({ state: job.state(), profile: job.pack });

const scan = (blockVolts: number[], celsius = 25, ampere = 0): Act => ({
  type: 'car.scanned',
  body: {
    ...{ moment: 'asFound', reader: 'r', readerVersion: '', isSimulated: false, codes: [], readiness: null, packVolt: null },
    ...{ blockVolts, celsius: [celsius], ampere, chargePercent: 60 },
  },
});
function scanned(job: Recorder, lowBlock: number | null, celsius = 25): Recorder {
  job.add(
    scan(
      SPANS.map(({ from, to }, i) => (to - from + 1) * 7.8 + 0.01 * (i % 3) - (lowBlock === i + 1 ? 1.3 : 0)),
      celsius,
    ),
  );
  return job;
}
const before = (): Recorder => new Recorder(A).open();
const share = (list: readonly ComebackCause[], what: string, place: number | null = null): number =>
  list.filter((c) => c.what === what && (place === null || c.at === place)).reduce((sum, c) => sum + c.share, 0);

describe('explainComeback', () => {
  it('points at the modules of the block that is low now, wherever it lies', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: A.blocks.length }), (block) => {
        const [first, second] = explainComeback(at(before()), at(scanned(before(), block)));
        const span = SPANS[block - 1];
        for (const cause of [first, second]) {
          expect(cause).toMatchObject({
            what: 'module',
            because: expect.arrayContaining(['its block is low in the new scan']) as string[],
          });
          expect(cause?.at).toBeGreaterThanOrEqual(span?.from ?? 0);
          expect(cause?.at).toBeLessThanOrEqual(span?.to ?? 0);
        }
      }),
      { numRuns: 14, seed: 3 },
    );
  });

  it('takes the one that was on watch, of two in the same block', () => {
    const job = before();
    // place 5 gives less than the others: on watch or worse
    const sweepId = job.startSweep('capacity');
    for (let place = 1; place <= A.moduleCount; place++)
      job.add({
        type: 'reading.taken',
        body: { sweepId, place, moduleId: `m${place}`, quantity: 'capacityAh', value: place === 5 ? 4.6 : 5.6 + 0.02 * (place % 5) },
      });
    const block = SPANS.findIndex((s) => s.from <= 5 && s.to >= 5) + 1;
    const [first] = explainComeback(at(job), at(scanned(before(), block)));
    expect(first).toMatchObject({ what: 'module', at: 5 });
  });

  it('whatever speaks for a cause raises its share', () => {
    const usual = explainComeback(at(before()), at(scanned(before(), 3)));
    const hot = explainComeback(at(before()), at(scanned(before(), 3, 62)));
    expect(share(hot, 'cooling')).toBeGreaterThan(share(usual, 'cooling'));
    const dirty = scanned(before(), 3);
    for (const part of A.airPath.keys()) dirty.add({ type: 'air.found', body: { part, when: 'asFound', blockedShare: 0.5, note: '' } });
    expect(share(explainComeback(at(before()), at(dirty)), 'cooling')).toBeGreaterThan(share(usual, 'cooling'));
    const worn = before();
    worn.add({
      type: 'bars.readied',
      body: { frame: null, how: 'cleaned', isInFrame: false, isDry: true, plating: 'gone', haveNewNuts: false },
    });
    expect(share(explainComeback(at(worn), at(scanned(before(), 3))), 'joint')).toBeGreaterThan(share(usual, 'joint'));
    const touched = scanned(before(), 3);
    touched.add({
      type: 'finding.noted',
      body: {
        stage: 'strip',
        kind: 'tiesCut',
        severity: 'moderate',
        follow: 'watch',
        pin: { on: 'zone', zone: 'boot' },
        note: '',
        isOnArrival: true,
      },
    });
    expect(share(explainComeback(at(before()), at(touched)), 'hand')).toBeGreaterThan(share(usual, 'hand'));
    const dropped = before();
    dropped.add({ type: 'module.dropped', body: { moduleId: 'm20', note: '' } });
    expect(share(explainComeback(at(dropped), at(before())), 'module', 20)).toBeGreaterThan(share(explainComeback(at(before()), at(before())), 'module', 19) * 3); // prettier-ignore
  });

  it('without a scan points nowhere in particular, and shares stay shares', () => {
    for (const now of [before(), scanned(before(), 4), scanned(before(), null)]) {
      const causes = explainComeback(at(before()), at(now));
      const sum = causes.reduce((s, c) => s + c.share, 0);
      expect(sum).toBeLessThanOrEqual(1 + 1e-9);
      for (const [i, c] of causes.entries()) expect(c.share).toBeLessThanOrEqual(causes[i - 1]?.share ?? 1);
    }
    const bare = explainComeback(at(before()), at(before()));
    expect(share(bare, 'module', 1)).toBeCloseTo(share(bare, 'module', 28), 12);
  });
});

/** What is said for a cause; empty where nothing is, or where it is not worth a line. */
const because = (then: Recorder, now: Recorder, what: string, place: number | null = null): readonly string[] =>
  explainComeback(at(then), at(now)).find((c) => c.what === what && c.at === place)?.because ?? [];
const did = (...acts: Act[]): Recorder => {
  const job = before();
  for (const act of acts) job.add(act);
  return job;
};
const found = (kind: 'tiesCut' | 'wrongPart' | 'missing' | 'leak', isOnArrival = true): Act => ({
  type: 'finding.noted',
  body: { ...{ stage: 'strip', severity: 'moderate', follow: 'watch', note: '', kind, isOnArrival }, pin: { on: 'zone', zone: 'boot' } },
});
const moved = (count: number, isOut: boolean): Act => {
  const [from, to] = isOut ? ([{ kind: 'inPlace' }, { kind: 'onPart' }] as const) : ([{ kind: 'onPart' }, { kind: 'inPlace' }] as const);
  return { type: 'part.moved', body: { stage: 'strip', partId: 'lid-screw', count, from, to, condition: 'good' } };
};
const bars = (plating: 'whole' | 'thin' | 'gone', haveNewNuts: boolean): Act => ({
  type: 'bars.readied',
  body: { frame: null, how: 'cleaned', isInFrame: false, isDry: true, plating, haveNewNuts },
});
const setTool: Act = {
  type: 'torque.set',
  body: { partId: 'bar-nut', toolId: 'T-01', reads: 'click', setNewtonMetre: BAR_NUT?.torque?.newtonMetre ?? NaN, toolLabel: 'T-01' },
};
/** Nuts tightened with the tool that was set by the second event. */
const nuts = (passes: readonly (1 | 2)[], count = BAR_NUT?.count ?? 0): Act[] => [
  setTool,
  ...passes.flatMap((pass) =>
    Array.from({ length: count }, (_, i): Act => ({
      type: 'fastener.torqued',
      body: { settingId: 'c2', partId: 'bar-nut', seat: i + 1, pass, newtonMetre: null },
    })),
  ),
];

describe('what is said for a cause', () => {
  it.each<[string, Recorder, Recorder]>([
    ['somebody was at it since: traces on arrival', before(), did(found('tiesCut'))],
    ['somebody was at it since: traces on arrival', before(), did(found('wrongPart'))],
    ['somebody was at it since: traces on arrival', before(), did(found('missing'))],
    ['steps were overridden', did({ type: 'step.overridden', body: { stepId: 'gear', reason: 'The sheet is late.' } }), before()],
    ['3 pieces were never put back', did(moved(3, true)), before()],
    ['parts were left off', did({ type: 'part.leftOff', body: { partId: 'lid-screw', count: 1, reason: 'r', followUp: 'f' } }), before()],
    ['the job was broken off', did({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'r', unmet: [] } }), before()],
  ])('a hand: %s', (sentence, then, now) => {
    expect(because(then, now, 'hand')).toEqual([sentence]);
  });

  it('of a hand nothing where all is as it should be', () => {
    const done = did(moved(3, true), moved(3, false), { type: 'job.closed', body: { outcome: 'finished', note: '' } });
    expect(because(done, did(found('leak'), found('tiesCut', false)), 'hand')).toEqual([]);
  });

  it('the weightiest first', () => {
    const worst = did(moved(1, true), { type: 'job.closed', body: { outcome: 'brokenOff', reason: 'r', unmet: [] } });
    expect(because(worst, did(found('missing')), 'hand')).toEqual([
      'somebody was at it since: traces on arrival',
      '1 pieces were never put back',
      'the job was broken off',
    ]);
  });

  it('the air: what is shut again, an answer that was owed, a look that was missed, heat', () => {
    const shut = (blockedShare: number): Recorder =>
      did(...A.airPath.map((_, part): Act => ({ type: 'air.found', body: { part, when: 'asFound', blockedShare, note: '' } })));
    const answered: Act = { type: 'cooling.judged', body: { isAnswered: true, note: '' } };
    const owed = 'the cooling was never answered';
    expect(because(before(), before(), 'cooling')).toEqual([owed]);
    expect(because(did({ ...answered, body: { isAnswered: false, note: '' } }), before(), 'cooling')).toEqual([owed]);
    expect(because(did(answered), before(), 'cooling')).toEqual([]);
    expect(because(did(answered), shut(0.5), 'cooling')[0]).toMatch(/^\d+ % of the air path is shut again$/);
    expect(because(did(answered), shut(0.01), 'cooling')).toEqual([]);
    expect(share(explainComeback(at(did(answered)), at(shut(0.01))), 'cooling')).toBeLessThan(share(explainComeback(at(did(answered)), at(before())), 'cooling')); // prettier-ignore
    expect(because(did(answered), scanned(before(), null, 50), 'cooling')).toEqual(['50 °C in the new scan']);
    expect(because(did(answered), scanned(before(), null, 49.9), 'cooling')).toEqual([]);
    const look: Act = { type: 'look.set', body: { months: 1, stripMonths: null, uses: [] } };
    const late = new Recorder(A);
    late.wait(24 * 40);
    late.open();
    expect(because(did(answered, look), late, 'cooling')).toEqual(['the next look was missed']);
    expect(because(did(answered, look), before(), 'cooling')).toEqual([]);
  });

  it('a few low blocks speak against heat, many do not', () => {
    const many = did(scan(SPANS.map((_, i) => (i < 5 ? 14.3 : 15.6 + 0.01 * (i % 3)))));
    const few = share(explainComeback(at(before()), at(scanned(before(), 3))), 'cooling');
    expect(share(explainComeback(at(before()), at(many)), 'cooling')).toBeGreaterThan(1.5 * few);
  });

  it('a joint: bars, old nuts, plating, a second pass that was left out', () => {
    const said = (...acts: Act[]): readonly string[] => because(did(...acts), before(), 'joint', 1);
    expect(said(bars('thin', true))).toEqual(['the old bars went back with worn plating']);
    expect(said(bars('gone', false))).toEqual(['the old bars went back with worn plating', 'old nuts']);
    expect(said(bars('gone', false), bars('whole', true))).toEqual([]);
    expect(said(...nuts([1]))).toEqual(['not every nut was tightened in both passes']);
    expect(said(...nuts([1], 1))).toEqual(['not every nut was tightened in both passes']);
    expect(said(...nuts([1, 2]), bars('thin', true))).toEqual(['the old bars went back with worn plating']);
    // the plug parts that link: it is no bolted joint
    expect(explainComeback(at(did(bars('gone', false), ...nuts([1]))), at(before())).filter((c) => c.what === 'joint' && c.at === A.plug.opensLink)).toEqual([]); // prettier-ignore
  });

  it('a joint in a block that is low, before those that lie elsewhere or between two blocks', () => {
    const worn = did(...nuts([1]), bars('gone', false));
    const low = SPANS[5] ?? { from: 0, to: 0 };
    const joints = explainComeback(at(worn), at(scanned(before(), 6))).filter((c) => c.what === 'joint');
    expect(joints[0]).toMatchObject({ at: low.from, because: expect.arrayContaining(['it lies in a block that is low']) as string[] });
    expect(joints.slice(1).flatMap((j) => j.because)).not.toContain('it lies in a block that is low');
  });

  it('a joint in a block whose bars rest high by two scans', () => {
    const now = before();
    const under = (ampere: number): number[] => SPANS.map((_, i) => 15.6 - (ampere * (2 * A.moduleType.typicalMilliohm + (i === 7 ? 30 : 2))) / 1000); // prettier-ignore
    for (const ampere of [0, 60]) now.add(scan(under(ampere), 25, ampere));
    const [first] = explainComeback(at(before()), at(now)).filter((c) => c.what === 'joint');
    expect(first).toMatchObject({ at: SPANS[7]?.from, because: ['its block has bars of high resistance'] });
    expect(because(before(), now, 'joint', SPANS[2]?.from ?? 0)).toEqual([]);
  });

  it('a module: what was said of it, by weight, and equals by their place', () => {
    const rejected = before();
    const sweepId = rejected.startSweep('capacity');
    for (let place = 1; place <= A.moduleCount; place++)
      rejected.add({
        type: 'reading.taken',
        body: { sweepId, place, moduleId: `m${place}`, quantity: 'capacityAh', value: place === 9 ? 2 : 5.6 + 0.02 * (place % 5) },
      });
    rejected.add({ type: 'module.dropped', body: { moduleId: 'm9', note: '' } });
    expect(because(rejected, before(), 'module', 9)).toEqual(['it was rejected and stayed in', 'it was dropped']);
    const assumed = at(before());
    const plan = { ...assumed.state.plan, chosen: { assumedPlaces: [4] } } as unknown as typeof assumed.state.plan;
    const causes = explainComeback({ ...assumed, state: { ...assumed.state, plan } }, at(before()));
    expect(causes.find((c) => c.at === 4 && c.what === 'module')?.because).toEqual(['its capacity was never measured']);
    const equals = explainComeback(at(before()), at(before())).filter((c) => c.what === 'module');
    expect(equals.map((c) => c.at)).toEqual(Array.from({ length: 28 }, (_, i) => i + 1));
  });

  it('leaves out what is not worth a line, and what nothing can be said of', () => {
    for (const cause of explainComeback(at(before()), at(scanned(before(), 3)))) expect(cause.share).toBeGreaterThanOrEqual(0.01);
    expect(explainComeback(at(before()), at(scanned(before(), 3))).filter((c) => c.what === 'module')).toHaveLength(2);
    const none = { ...A, moduleCount: 0, blocks: [] };
    expect(explainComeback({ ...at(before()), profile: none }, at(before()))).toEqual([]);
  });
});
