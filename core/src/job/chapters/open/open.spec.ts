/** The opened pack: how it lay, and what sat where; common practice, no source. */
import { contextOf, Recorder, shippedProfile } from '../../../../test/job-fixture.ts';
import { decide } from '../../frame/decide.ts';
import type { Act } from '../../frame/acts.ts';
import { isStageDone } from '../../frame/completeness.ts';
import { isOpened } from './view.ts';

const lying = (sensors: { sensorId: string; place: number }[] = []): Act => ({
  type: 'orientation.recorded',
  body: { positiveCorner: 'lastFar', firstAt: 'first', threaded: 'near', vents: 'far', sensors, note: '' },
});
const RELEASE: Act = { type: 'modules.released', body: {} };

it('records sensors that the pack has, and names the one that it has not', () => {
  const pack = shippedProfile('turnstone-30');
  const job = new Recorder(pack).open();
  const ids = pack.sensors.map((s) => s.id);
  const ask = (...sensorIds: string[]) =>
    decide(job.state(), lying(sensorIds.map((sensorId, i) => ({ sensorId, place: i + 1 }))), contextOf(job, { profile: pack }));
  expect(ids.length).toBeGreaterThan(1);
  expect(ask(...ids).kind).toBe('answer');
  expect(ask(ids[0]!, 'none')).toMatchObject({
    code: 'unknownName',
    path: ['body', 'sensors', 1],
    message: expect.stringContaining('"none"'),
  });
  expect(ask('none')).toMatchObject({ code: 'unknownName', path: ['body', 'sensors', 0] });
});

it('lets modules be moved once it is recorded how they lay; the first word stands', () => {
  const job = new Recorder().open();
  expect(decide(job.state(), RELEASE, contextOf(job))).toMatchObject({ kind: 'refused', code: 'notPermitted' });
  job.add(lying());
  expect(decide(job.state(), RELEASE, contextOf(job)).kind).toBe('answer');
  job.add(RELEASE);
  const first = job.state().open.released;
  job.add(RELEASE, 'ts');
  expect(first).toMatchObject({ by: 'om' });
  expect(job.state().open.released).toEqual(first);
});

it('writes down what sat at a place before and after, but for what a job opens with', () => {
  const job = new Recorder().open();
  expect(job.state().open.history).toEqual([]);
  job.fact('rebuild', { kind: 'module', place: 3, moduleId: 'x1', isTurned: true });
  job.fact('rebuild', { kind: 'module', place: 3, moduleId: null, isTurned: false });
  job.fact('rebuild', { kind: 'pack', isOnBench: true });
  job.fact('rebuild', { kind: 'module', place: 3, moduleId: 'x2', isTurned: false });
  expect(job.state().open.history).toMatchObject([
    { place: 3, was: 'm3', moduleId: 'x1', isTurned: true, by: 'om' },
    { place: 3, was: 'x1', moduleId: null },
    { place: 3, was: null, moduleId: 'x2' },
  ]);
});

it.each(['dunlin-28', 'greenshank-28'])('%s counts as opened with the harness out, every bar off and its lie recorded', (id) => {
  const pack = shippedProfile(id);
  const job = new Recorder(pack).open();
  const links = Array.from({ length: pack.moduleCount - 1 }, (_, i) => i + 1).filter((k) => k !== pack.plug.opensLink);
  const isOpen = (): boolean => isOpened(job.state(), pack);
  expect(isOpen()).toBe(false);
  job.fact('open', { kind: 'links', links: links.slice(1), areOpen: true });
  for (const frame of pack.frames) job.fact('open', { kind: 'frame', frame: frame.id, isOff: true });
  job.fact('open', { kind: 'harness', isUnplugged: true });
  job.add(lying());
  job.fact('open', { kind: 'links', links: [links[0]!], areOpen: false });
  expect(isOpen()).toBe(false);
  job.fact('open', { kind: 'links', links, areOpen: true });
  expect(isOpen()).toBe(true);
  job.fact('open', { kind: 'harness', isUnplugged: false });
  expect(isOpen()).toBe(false);
  const unrecorded = new Recorder(pack).open();
  unrecorded.fact('open', { kind: 'links', links, areOpen: true });
  unrecorded.fact('open', { kind: 'harness', isUnplugged: true });
  expect(isOpened(unrecorded.state(), pack)).toBe(false);
});

it('is not opened while the corner that was recorded contradicts the profile', () => {
  const pack = shippedProfile('dunlin-28');
  const job = new Recorder(pack).open();
  for (const frame of pack.frames) job.fact('open', { kind: 'frame', frame: frame.id, isOff: true });
  const links = Array.from({ length: pack.moduleCount - 1 }, (_, i) => i + 1).filter((k) => k !== pack.plug.opensLink);
  job.fact('open', { kind: 'links', links, areOpen: true });
  job.fact('open', { kind: 'harness', isUnplugged: true });
  const wrong = lying();
  const isDone = (): boolean => isStageDone('open', job.state(), pack);
  if (wrong.type === 'orientation.recorded') job.add({ ...wrong, body: { ...wrong.body, positiveCorner: 'firstNear' } });
  expect(isDone()).toBe(false);
  // on the way up neither
  job.fact('rebuild', { kind: 'frame', frame: pack.frames[0]?.id ?? '', isOff: false });
  expect(isDone()).toBe(false);
  job.add(lying());
  expect(isDone()).toBe(true);
});
