import { everyAct } from '../../../test/every-act.ts';
import { profile, Recorder } from '../../../test/job-fixture.ts';
import type { Fact } from '../../pack/fact.ts';
import { DEFAULT_POLICY } from '../../shop/act.ts';
import type { Act, JobEvent } from '../frame/acts.ts';
import { extend } from '../frame/fold.ts';
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

  it('goes on from what was kept before, to what the whole makes, whatever the acts have a say in', () => {
    const done = job();
    for (const f of [
      { kind: 'plug', isIn: false },
      { kind: 'pack', isOnBench: true },
      { kind: 'case', isOpen: true },
      { kind: 'covers', areOff: true },
    ] as const)
      done.fact('open', f);
    const setting = done.add({ type: 'torque.set', body: { partId: 'bar-nut', toolId: 'T-01', reads: 'click', setNewtonMetre: 5.4, toolLabel: '' } }); // prettier-ignore
    const nut = (seat: number): Act => ({ type: 'fastener.torqued', body: { settingId: setting, partId: 'bar-nut', seat, pass: 1, newtonMetre: null } }); // prettier-ignore
    const cover = (from: 'inPlace' | 'onPart', to: 'inPlace' | 'onPart'): Act => ({ type: 'part.moved', body: { stage: 'open', partId: 'post-cover', count: 1, from: { kind: from }, to: { kind: to }, condition: 'good' } }); // prettier-ignore
    const steps: (() => void)[] = [
      () => done.add(nut(1)),
      () => done.add(nut(2)),
      () => done.add(cover('inPlace', 'onPart')),
      () => done.add(nut(3)),
      () => done.fact('open', { kind: 'harness', isUnplugged: true }),
      () => done.fact('open', { kind: 'charger', volt: 300 }),
      () => done.add(cover('onPart', 'inPlace')),
      () => done.waitMinutes(10),
      () => done.fact('open', { kind: 'charger', volt: null }),
      () => done.fact('rebuild', { kind: 'covers', areOff: false, over: [1, 3] }),
      () => done.add(nut(4)),
    ];
    const viewer = new JobViewer();
    const waiting = [fact({ kind: 'covers', areOff: true }), nut(9), fact({ kind: 'contactors', are: 'shut' })].map(waits);
    for (const [i, step] of steps.entries()) {
      step();
      const kept = done.state();
      for (const some of [[], waiting.slice(0, 1 + (i % 3)), waiting]) {
        const [went, whole] = [
          viewer.view(kept, some, profile, DEFAULT_POLICY, Infinity),
          viewJob(kept, some, profile, DEFAULT_POLICY, Infinity),
        ];
        for (const part of ['exposure', 'trace', 'disagreements', 'ledger', 'records', 'rebuild', 'highestVolt'] as const)
          expect(went[part]).toEqual(whole[part]);
      }
    }
  });

  it.each([
    ['with no time known', Infinity],
    ['while a proof may stand', Date.parse('2026-05-04T09:00:00Z')],
  ])('goes on over every kind of act there is, %s', (_what, time) => {
    const { job: all, acts: kinds } = everyAct();
    const viewer = new JobViewer();
    let kept = all.state();
    for (const act of Object.values(kinds)) {
      all.add(act);
      kept = extend(kept, profile, all.events);
      const [went, whole] = [viewer.view(kept, [], profile, DEFAULT_POLICY, time), viewJob(kept, [], profile, DEFAULT_POLICY, time)];
      for (const part of ['exposure', 'trace', 'disagreements', 'ledger', 'records', 'rebuild'] as const)
        expect([act.type, went[part]]).toEqual([act.type, whole[part]]);
    }
  });

  it('computes what can be touched once for acts that have no say in it', () => {
    const done = job();
    const check = (isGood: boolean): Act => ({ type: 'rebuild.checked', body: { check: 'gapsOpen', isGood, note: '' } });
    done.add(check(false));
    const viewer = new JobViewer();
    const before = done.state();
    const { exposure, trace, ledger } = viewer.view(before, [], profile, DEFAULT_POLICY, Infinity);
    done.add(check(true));
    const after = viewer.view(extend(before, profile, done.events), [], profile, DEFAULT_POLICY, Infinity);
    expect(after.state.rebuild.checks).not.toEqual(before.rebuild.checks);
    expect(after.exposure).toBe(exposure);
    expect(after.trace).toBe(trace);
    expect(after.ledger).toBe(ledger);
    done.fact('rebuild', { kind: 'case', isOpen: true });
    const opened = viewer.view(extend(after.state, profile, done.events), [], profile, DEFAULT_POLICY, Infinity);
    expect(opened.exposure).not.toBe(exposure);
    expect(opened.trace.done.at(-1)).toMatchObject({ cause: { kind: 'case' } });
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
