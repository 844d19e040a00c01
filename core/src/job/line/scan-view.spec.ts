import { Recorder, shippedProfile } from '../../../test/job-fixture.ts';
import { blockPlaces } from '../../pack/profile.ts';
import type { Act } from '../frame/acts.ts';
import { viewScan } from './scan-view.ts';

const E = shippedProfile('greenshank-28');
const moduleVolt = (place: number): number => 7.9 + 0.01 * (place % 4);
const sums = (): number[] =>
  blockPlaces(E.blocks).map(({ from, to }) => {
    let volt = 0;
    for (let place = from; place <= to; place++) volt += moduleVolt(place);
    return volt;
  });
function scan(blockVolts: (number | null)[], ampere: number | null = 0, packVolt: number | null = null): Act {
  return {
    type: 'car.scanned',
    body: {
      ...{ moment: 'afterRepair', reader: 'reader', readerVersion: '1', isSimulated: false, codes: [], readiness: null },
      ...{ blockVolts, packVolt, celsius: [], ampere, chargePercent: 60 },
    },
  };
}
/** Every module read at rest on the bench. */
function measured(): Recorder {
  const job = new Recorder(E).open();
  const sweepId = job.add({
    type: 'sweep.started',
    body: {
      kind: 'openCircuit',
      restSince: null,
      restHour: null,
      loadAmpere: null,
      loadSecond: null,
      recovered: 'none',
      resolution: 0.001,
    },
  });
  for (let place = 1; place <= 28; place++)
    job.add({
      type: 'reading.taken',
      body: { sweepId, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value: moduleVolt(place) },
    });
  return job;
}
const view = (job: Recorder) => viewScan(job.state(), E);

describe('a scan told right', () => {
  it('is none before the first, and has no blocks where one is missing', () => {
    expect(view(new Recorder(E).open())).toBeNull();
    const job = new Recorder(E).open();
    job.add(scan([null, ...sums().slice(1)]));
    expect(view(job)).toMatchObject({ blocks: null, sums: null, wiring: [], bars: null });
  });
  it('judges each block by its own modules, and says what a reader of equal blocks would have said', () => {
    const job = new Recorder(E).open();
    job.add(scan(sums().map((v, i) => (i === 4 ? v - 1.3 : v))));
    const { blocks } = view(job) ?? {};
    expect(blocks?.items.filter((i) => i.deadCellSuspect).map((i) => i.id)).toEqual(['5']);
    expect(blocks?.naiveOutliers).toEqual(['3', '4', '5', '6']);
  });
  it('holds the sum against the bench: a factor of two is a wrong map, a charge since is none', () => {
    const job = measured();
    job.add(scan(sums().map((v, i) => v + 0.15 * (E.blocks[i] ?? 1))));
    expect(view(job)?.sums?.isMapWrong).toBe(false);
    expect(view(job)?.wiring[0]?.fault).toEqual({ kind: 'none' });
    job.add(scan(sums().map((v) => 2 * v)));
    expect(view(job)?.sums?.isMapWrong).toBe(true);
    job.add(scan(sums().map((v) => v / 2)));
    expect(view(job)?.sums?.isMapWrong).toBe(true);
    // a reader that is off by two in its own total
    const own = new Recorder(E).open();
    own.add(scan(sums(), 0, 442));
    expect(view(own)?.sums).toMatchObject({ readerVolt: 442, benchVolt: null, isMapWrong: true });
    own.add(scan(sums(), 0, 222));
    expect(view(own)?.sums?.isMapWrong).toBe(false);
  });
  it('names the swapped leads', () => {
    const job = measured();
    const volts = sums();
    const [a, b, c] = [volts[2] ?? 0, volts[3] ?? 0, volts[4] ?? 0];
    job.add(scan(volts.map((v, i) => (i === 2 ? a + b : i === 3 ? -b : i === 4 ? c + b : v))));
    expect(view(job)?.wiring[0]?.fault).toEqual({ kind: 'leadsSwapped', block: 4 });
  });
  it('tells bars by two scans at different currents, whichever came first', () => {
    const job = new Recorder(E).open();
    const under = (ampere: number): Act => scan(sums().map((v, i) => v - (ampere * ((E.blocks[i] ?? 1) * E.moduleType.typicalMilliohm + (i === 7 ? 30 : 2))) / 1000), ampere); // prettier-ignore
    job.add(under(60));
    expect(view(job)?.bars).toBeNull();
    job.add(under(55));
    expect(view(job)?.bars).toBeNull();
    job.add(under(0));
    const { bars } = view(job) ?? {};
    expect(bars).toMatchObject({ light: { ampere: 0 }, heavy: { ampere: 55 } });
    expect(bars?.rests.filter((r) => r.standsApart).map((r) => r.block)).toEqual([8]);
    expect(bars?.rests[7]?.restMilliohm).toBeCloseTo(30, 6);
  });
});
