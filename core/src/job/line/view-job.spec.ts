import { profile, Recorder } from '../../../test/job-fixture.ts';
import type { Fact } from '../../pack/fact.ts';
import { DEFAULT_POLICY } from '../../shop/act.ts';
import type { Act, JobEvent } from '../frame/acts.ts';
import { JobViewer, viewJob } from './view-job.ts';

const STRING = 28 * profile.moduleType.maximumModuleVolt;
const job = (): Recorder => new Recorder().open();
let turn = 0;
const waits = (act: Act): JobEvent => {
  const at = '2026-05-04T09:00:00.000Z';
  return { number: 0, commandId: `w${++turn}`, by: 'om', at, deviceAt: at, ...act };
};
const fact = (f: Fact): Act => ({ type: 'fact.stated', body: { stage: 'open', fact: f } });

describe('the view of a job', () => {
  const opened = job().state();
  const acts = [
    fact({ kind: 'case', isOpen: true }),
    fact({ kind: 'covers', areOff: true }),
    fact({ kind: 'covers', areOff: false }),
    fact({ kind: 'plug', isIn: false }),
  ].map(waits);

  it('shows what waits as done, and lets it raise the line only', () => {
    const view = viewJob(opened, acts, profile, DEFAULT_POLICY, Infinity);
    expect(view.state.pack).toMatchObject({ isCaseOpen: true, bareJoints: [], isPlugIn: false });
    expect(view.exposure.reachable.volt).toBeCloseTo(STRING, 6);
    expect(view.highestVolt).toBeGreaterThanOrEqual(view.exposure.reachable.volt);
    expect(view.trace.planned).toEqual(viewJob(opened, [], profile, DEFAULT_POLICY, Infinity).trace.planned);
    expect(opened.pack.isCaseOpen).toBe(false);
  });

  it('goes on from the one before act by act, to what all of them make', () => {
    const viewer = new JobViewer();
    for (let count = 0; count <= acts.length; count++) {
      const some = acts.slice(0, count);
      const [went, whole] = [
        viewer.view(opened, some, profile, DEFAULT_POLICY, Infinity),
        viewJob(opened, some, profile, DEFAULT_POLICY, Infinity),
      ];
      expect(went.state).toEqual(whole.state);
      expect(went.exposure).toEqual(whole.exposure);
      expect(went.disagreements).toEqual(whole.disagreements);
      expect(went.ledger).toEqual(whole.ledger);
      expect(went.records).toEqual(whole.records);
    }
  });

  it.each([
    ['fewer acts wait', (view: JobViewer) => view.view(opened, acts.slice(1), profile, DEFAULT_POLICY, Infinity), acts.slice(1)],
    ['none waits any more', (view: JobViewer) => view.view(opened, [], profile, DEFAULT_POLICY, Infinity), []],
  ])('begins anew where %s', (_when, again, left) => {
    const viewer = new JobViewer();
    viewer.view(opened, acts, profile, DEFAULT_POLICY, Infinity);
    expect(again(viewer).exposure).toEqual(viewJob(opened, left, profile, DEFAULT_POLICY, Infinity).exposure);
  });

  it('begins anew on another kept state, and at another time', () => {
    const further = job();
    further.fact('open', { kind: 'case', isOpen: true });
    const kept = further.state();
    const viewer = new JobViewer();
    viewer.view(opened, acts, profile, DEFAULT_POLICY, Infinity);
    const whole = viewJob(kept, acts, profile, DEFAULT_POLICY, Infinity);
    expect(viewer.view(kept, acts, profile, DEFAULT_POLICY, Infinity).state).toEqual(whole.state);
    expect(viewer.view(opened, acts.slice(0, 1), profile, DEFAULT_POLICY, 0).state.pack.bareJoints).toEqual([]);
  });
});
