/** What was seen: a record of words and pictures; common practice, no source. */
import { contextOf, profile, Recorder } from '../../../../test/job-fixture.ts';
import { decide } from '../../frame/decide.ts';
import type { Act } from '../../frame/acts.ts';
import type { Pin } from './acts.ts';
import { sayPin } from './finding-words.ts';

const noted = (pin: Pin): Act => ({
  type: 'finding.noted',
  body: { stage: 'open', kind: 'leak', severity: 'slight', follow: 'clean', isOnArrival: false, pin, note: '' },
});
const photo = (photoId: string): Act => ({
  type: 'photo.taken',
  body: {
    ...{ stage: 'open', photoId, sha256: '0'.repeat(64), byte: 1000, width: 800, height: 600, caption: '', place: null, pairOf: null },
  },
});
const ask = (job: Recorder, act: Act, over = {}) => decide(job.state(), act, contextOf(job, over));
const last = profile.moduleCount;

describe('where a finding sits', () => {
  const [zone, layer] = [profile.zones[1]!, profile.layers[1]!];
  it('is a place that there is, by its name', () => {
    const job = new Recorder().open();
    const there: [Pin, string][] = [
      [{ on: 'zone', zone: zone.id }, zone.name],
      [{ on: 'layer', layer: layer.id }, layer.name],
      [{ on: 'module', place: last }, `module ${last}`],
      [{ on: 'link', link: last - 1 }, `link ${last - 1}`],
      [{ on: 'photo', photoId: 'later', x: 0.5, y: 0.5 }, 'on a photograph'],
    ];
    for (const [pin, words] of there) {
      expect([pin.on, ask(job, noted(pin)).kind]).toEqual([pin.on, 'answer']);
      expect(sayPin(pin, profile)).toBe(words);
    }
  });
  it('is refused where there is no such place, and still said by what it was called', () => {
    const job = new Recorder().open();
    const nowhere: Pin[] = [
      { on: 'zone', zone: 'attic' },
      { on: 'layer', layer: 'crust' },
      { on: 'module', place: last + 1 },
      { on: 'link', link: last },
    ];
    for (const pin of nowhere) expect(ask(job, noted(pin))).toMatchObject({ kind: 'refused', code: 'unknownName', path: ['body', 'pin'] });
    expect(nowhere.slice(0, 2).map((pin) => sayPin(pin, profile))).toEqual(['attic', 'crust']);
    expect(ask(job, noted(nowhere[2]!))).toMatchObject({ message: `There is no place ${last + 1}.` });
  });
});

it('settles the finding that it names, and no other; taken back it is gone', () => {
  const job = new Recorder().open();
  const [first, second] = [job.add(noted({ on: 'module', place: 1 })), job.add(noted({ on: 'module', place: 2 }))];
  job.add({ type: 'finding.settled', body: { findingId: second, note: 'wiped off' } });
  job.add({ type: 'finding.settled', body: { findingId: 'nothing', note: 'x' } });
  expect(job.state().finding.findings.map((f) => f.settled?.note ?? null)).toEqual([null, 'wiped off']);
  job.add({ type: 'act.withdrawn', body: { commandId: first, reason: 'mistyped' } });
  expect(job.state().finding.findings.map((f) => f.findingId)).toEqual([second]);
});

it('takes a photograph once, and has it erased by the lead or whoever took it; who erased it first stands', () => {
  const job = new Recorder().open();
  job.add(photo('p1'));
  job.add(photo('p2'), 'ts');
  expect(ask(job, photo('p2'))).toMatchObject({ kind: 'refused', code: 'taken', path: ['body', 'photoId'] });
  expect(ask(job, photo('p3')).kind).toBe('answer');
  const erase = (photoId: string, reason = 'A face is on it.'): Act => ({ type: 'photo.erased', body: { photoId, reason } });
  expect(ask(job, erase('p9'))).toMatchObject({ code: 'gone', path: ['body', 'photoId'] });
  expect(ask(job, erase('p1')).kind).toBe('answer');
  expect(ask(job, erase('p2'))).toMatchObject({ code: 'notPermitted' });
  expect(ask(job, erase('p2'), { role: 'lead' }).kind).toBe('answer');
  job.add(erase('p2'));
  job.add(erase('p2', 'Once more.'));
  expect(job.state().finding.photos.map((p) => [p.photoId, p.erased?.reason ?? null])).toEqual([
    ['p1', null],
    ['p2', 'A face is on it.'],
  ]);
});
