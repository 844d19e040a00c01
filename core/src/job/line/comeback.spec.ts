import fc from 'fast-check';
import { Recorder, shippedProfile } from '../../../test/job-fixture.ts';
import { blockPlaces } from '../../pack/profile.ts';
import { explainComeback, type ComebackCause } from './comeback.ts';

const A = shippedProfile('dunlin-28');
const SPANS = blockPlaces(A.blocks);
const at = (job: Recorder) => ({ state: job.state(), profile: job.pack });

function scanned(job: Recorder, lowBlock: number | null, celsius = 25): Recorder {
  const blockVolts = SPANS.map(({ from, to }, i) => (to - from + 1) * 7.8 + 0.01 * (i % 3) - (lowBlock === i + 1 ? 1.3 : 0));
  job.add({
    type: 'car.scanned',
    body: {
      ...{ moment: 'asFound', reader: 'r', readerVersion: '', isSimulated: false, codes: [], readiness: null, packVolt: null },
      ...{ blockVolts, celsius: [celsius], ampere: 0, chargePercent: 60 },
    },
  });
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
