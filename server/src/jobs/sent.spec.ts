import type { SentAct } from '@estuarine/contract';
import { HttpProblem } from '../problem.ts';
import { readSent } from './sent.ts';

const header = { commandId: 'c', deviceAt: '2026-05-04T08:00:00.000Z', by: 'om', version: 1 };
const sent = (type: string, body: Record<string, unknown>, version = 1): SentAct => ({ ...header, version, act: { type, body } });
const plug = { stage: 'isolate', fact: { kind: 'plug', isIn: false } };

function problemOf(given: SentAct): HttpProblem {
  try {
    readSent(given, 'j');
  } catch (error) {
    if (error instanceof HttpProblem) return error;
  }
  throw new Error('it was taken');
}

it('brings up what an older release stored, and keeps what was sent for the hash', () => {
  const read = readSent(sent('proof.started', { meterId: 'M', source: 'battery', sourceId: null, point: 'posts', known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1 }), 'j'); // prettier-ignore
  expect(read.act).toMatchObject({ body: { point: { at: 'carSide', label: 'posts' } } });
  expect(read.given).toEqual([{ act: expect.objectContaining({ body: expect.objectContaining({ point: 'posts' }) }) }]);
});

it('knows an act again by the form in which earlier releases hashed it', () => {
  // they hashed what they had read, blanks trimmed and defaults filled in
  const read = readSent(sent('step.done', { stepId: 'key', note: ' seen ' }), 'j');
  expect(read.given).toEqual([
    { act: { type: 'step.done', body: { stepId: 'key', note: ' seen ' } } },
    { act: { type: 'step.done', body: { stepId: 'key', note: 'seen' } } },
  ]);
});

it.each<[string, SentAct, number, readonly (string | number)[]]>([
  ['an unknown type', sent('job.burnt', {}), 422, ['act', 'type']],
  ['a type called constructor', sent('constructor', {}), 422, ['act', 'type']],
  ['a shop act on a job', sent('module.released', { moduleId: 'a' }), 422, ['act', 'type']],
  ['a later version', sent('fact.stated', plug, 4), 503, ['version']],
  ['a number beyond bounds', sent('fact.stated', { stage: 'open', fact: { kind: 'links', links: [0], areOpen: true } }, 2), 422, ['act', 'body', 'fact', 'links', 0]], // prettier-ignore
  ['a body that is none', sent('proof.started', {}), 422, ['act', 'body', 'meterId']],
  ['an opening without its papers', sent('job.opened', { number: 1, kind: 'diagnosis', profileId: 'p', profileVersion: 1, policyVersion: 1, vehicle: { id: 'v', hash: '0'.repeat(64) }, customer: null, comebackOf: null, moduleIds: [] }, 2), 422, ['papers']], // prettier-ignore
  ['one module at two places', sent('job.opened', { number: 1, kind: 'wholeRepair', profileId: 'p', profileVersion: 1, policyVersion: 1, vehicle: { id: 'v', hash: '0'.repeat(64) }, customer: null, comebackOf: null, moduleIds: ['a', 'a'] }, 2), 422, ['act', 'body', 'moduleIds']], // prettier-ignore
  ['a version of a profile beyond the database’s integers', sent('policy.adopted', { policyVersion: 2_147_483_648 }), 422, ['act', 'body', 'policyVersion']], // prettier-ignore
  ['an opening of today that says no version', sent('job.opened', { number: 1, kind: 'exchange', profileId: 'p', profileVersion: 1, policyVersion: 1, vehicle: { id: 'v', hash: '0'.repeat(64) }, customer: null, comebackOf: null, moduleIds: ['a'] }), 422, ['act', 'body', 'kind']], // prettier-ignore
  [
    'a statement of version 2 that says what all its parts are',
    sent('fact.stated', { ...plug, counts: 'all' }, 2),
    422,
    ['act', 'body', 'counts'],
  ],
  ['a statement of version 1 with a latch', sent('fact.stated', { stage: 'isolate', fact: { kind: 'plug', isIn: true, isLatched: true } }, 1), 422, ['act', 'body', 'fact', 'isLatched']], // prettier-ignore
  ['a file of version 1 whose second sweep says what was recovered', sent('readings.imported', { fileName: 'f', sweeps: [{}, { recovered: 'some' }] }, 1), 422, ['act', 'body', 'sweeps', 1, 'recovered']], // prettier-ignore
  ['a file of version 2 that says when it was measured', sent('readings.imported', { fileName: 'f', measured: 'unsaid', sweeps: [] }, 2), 422, ['act', 'body', 'measured']], // prettier-ignore
  ['a key that no version knows', sent('policy.adopted', { policyVersion: 1, price: 3 }), 422, ['act', 'body', 'price']],
  ['a key that no version knows, in an old body', sent('proof.started', { meterId: 'M', source: 'battery', sourceId: null, point: 'posts', known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1, price: 3 }), 422, ['act', 'body', 'price']], // prettier-ignore
  ['an old opening without a vehicle', sent('job.opened', { number: 1, profileId: 'p', profileVersion: 1, policyVersion: 1, moduleIds: ['a'] }), 422, ['act', 'body', 'vehicle']], // prettier-ignore
])('refuses %s, and says where', (_what, given, status, path) => {
  expect(problemOf(given)).toMatchObject({ status, path });
});
