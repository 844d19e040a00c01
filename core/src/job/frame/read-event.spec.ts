import { readFileSync } from 'node:fs';
import { ACT_TRAITS, ACT_TYPES, actSchema } from './acts.ts';
import { findSurplus, readEvent, upgradeBody, versionOf, type StoredEvent } from './read-event.ts';

interface Fixture {
  readonly type: string;
  readonly version: number;
  readonly stream: string;
  readonly body: unknown;
  readonly today: unknown;
}
/** Bodies as each version was written, and as they are read today. Frozen: a line is added with every version and never changed. */
const FIXTURES = JSON.parse(readFileSync(new URL('../../../test/fixtures/old-bodies.json', import.meta.url), 'utf8')) as Fixture[];

const header = { number: 2, commandId: 'c', by: 'om', at: '2026-05-04T08:00:00.000Z', deviceAt: '2026-05-04T08:00:00.000Z' };

describe('an older body', () => {
  it.each(FIXTURES.map((f) => [`${f.type} ${f.version}`, f] as const))('%s is read as today’s, and fits its schema', (_name, fixture) => {
    const { type, version, stream, body, today } = fixture;
    const before = JSON.stringify(body);
    const read = upgradeBody({ type, version, body }, stream);
    expect(read).toEqual({ kind: 'answer', value: today });
    expect(actSchema.safeParse({ type, body: today }).success).toBe(true);
    // what is stored is never touched
    expect(JSON.stringify(body)).toBe(before);
  });

  it('has a fixture for every version of every type that has more than one', () => {
    const wanted = ACT_TYPES.flatMap((type) => Array.from({ length: ACT_TRAITS[type].version - 1 }, (_, i) => `${type} ${i + 1}`));
    expect([...new Set(FIXTURES.map((f) => `${f.type} ${f.version}`))].sort()).toEqual(wanted.sort());
  });
});

describe('what this application does not know', () => {
  const stored = (change: Partial<StoredEvent>): StoredEvent => ({
    ...header,
    type: 'sweep.ended',
    version: 1,
    body: { sweepId: 's' },
    ...change,
  });
  it.each<[string, Partial<StoredEvent>]>([
    ['an unknown type', { type: 'bar.fitted' }],
    ['a type called constructor', { type: 'constructor' }],
    ['a later version', { version: 2 }],
    ['no version', { version: 0 }],
    ['half a version', { version: 1.5 }],
  ])('%s is never read silently', (_what, change) => {
    expect(readEvent(stored(change), 'j')).toMatchObject({ kind: 'refused', code: 'tooOld', message: expect.stringContaining('too old') });
  });

  it('while today’s is read as it is', () => {
    const today = stored({ version: versionOf({ type: 'sweep.ended' }) });
    expect(readEvent(today, 'j')).toEqual({ kind: 'answer', value: { ...header, type: 'sweep.ended', body: { sweepId: 's' } } });
  });
});

describe('keys that a version does not know and a later one does', () => {
  it.each<[string, { type: string; version: number; body: unknown }, (string | number)[] | null]>([
    ['at the top', { type: 'job.opened', version: 1, body: { kind: 'exchange' } }, ['kind']],
    [
      'in the second of a list',
      { type: 'readings.imported', version: 1, body: { sweeps: [{}, { recovered: 'all' }] } },
      ['sweeps', 1, 'recovered'],
    ],
    ['one level down', { type: 'fact.stated', version: 1, body: { fact: { kind: 'plug', isLatched: true } } }, ['fact', 'isLatched']],
    ['of a later step than the first', { type: 'fact.stated', version: 2, body: { fact: { isLatched: true }, counts: 'all' } }, ['counts']],
    [
      'none, though a thing of that name is inherited',
      { type: 'job.opened', version: 1, body: Object.create({ kind: 'exchange' }) as unknown },
      null,
    ],
    ['none in a version that knows it', { type: 'job.opened', version: 2, body: { kind: 'exchange' } }, null],
    ['none in what is no list', { type: 'readings.imported', version: 1, body: { sweeps: 7 } }, null],
    ['none in a list of nothing', { type: 'readings.imported', version: 1, body: { sweeps: [null, {}] } }, null],
    ['none of a type that nobody knows', { type: 'constructor', version: 1, body: { kind: 1 } }, null],
  ])('%s', (_where, stored, place) => {
    expect(findSurplus(stored)).toEqual(place);
  });
});
