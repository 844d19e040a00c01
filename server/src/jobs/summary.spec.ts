import { DEFAULT_POLICY, type Act } from '@estuarine/core';
import { AT, profile, stateOf } from '../../test/job-state.ts';
import { summarise } from './summary.ts';

const rowOf = (...acts: Act[]) => summarise('j', stateOf(...acts), profile, DEFAULT_POLICY);
const fact = (of: Extract<Act, { type: 'fact.stated' }>['body']['fact']): Act => ({
  type: 'fact.stated',
  body: { stage: 'isolate', fact: of },
});
const begin: Act = {
  type: 'proof.started',
  body: {
    ...{ meterId: 'M-02', source: 'battery', sourceId: null, point: { at: 'inverterPosts', label: 'posts' } },
    ...{ known: { lowVolt: 9, highVolt: 16 }, limitVolt: 60, resolutionVolt: 0.1 },
  },
};
const minute = (count: number): string => new Date(Date.parse(AT) + count * 60_000).toISOString();

it('says what a job is, and that nothing is known of it at first', () => {
  const row = rowOf();
  expect(row).toMatchObject({
    ...{ jobId: 'j', number: 1, kind: 'wholeRepair', closed: null, closedAt: null, vehicleId: 'v', customerId: null, comebackOfId: null },
    ...{ profileId: profile.id, profileName: profile.name, stage: 'intake', moduleCount: 28, measuredCount: 0, rejectCount: 0 },
    ...{ proofEndsAt: null, waitEndsAt: null, rest: null, lookAt: null, stripAt: null, steadyVolt: null },
    ...{ asksCosign: false, hasSource: false, lastBy: 'om', openedAt: AT, lastAt: AT },
  });
  // all of it is shut away, with and without a proof
  expect([row.reachableVolt, row.lapsedVolt]).toEqual([0, 0]);
  expect(row.behindVolt).toBeGreaterThan(200);
});

it('waits for the capacitors from what began last, and no more on the bench', () => {
  const down = [fact({ kind: 'twelveVolt', isOff: true }), fact({ kind: 'plug', isIn: false })];
  const { waitEndsAt } = rowOf(...down);
  expect(Date.parse(waitEndsAt ?? '')).toBeGreaterThan(Date.parse(minute(2)));
  expect(rowOf(...down, { type: 'wait.lengthened', body: { minute: 30, reason: 'cold' } }).waitEndsAt).not.toBe(waitEndsAt);
  expect(rowOf(...down, fact({ kind: 'pack', isOnBench: true })).waitEndsAt).toBeNull();
});

it('asks for a co-sign while a proof was asked for and not signed, and says until when one stands', () => {
  const proofId = 'c5';
  const bare = fact({ kind: 'outletPosts', areBare: true });
  const down = [bare, fact({ kind: 'twelveVolt', isOff: true }), fact({ kind: 'plug', isIn: false }), begin];
  const read = (['knownBefore', 'plusMinus', 'minusPlus', 'plusChassis', 'minusChassis', 'knownAfter'] as const).map((entry): Act => ({
    type: 'proof.read',
    body: { proofId, entry, volt: entry.startsWith('known') ? 12.4 : 0, isFromMeter: false },
  }));
  const ask: Act = { type: 'cosign.asked', body: { proofId } };
  const sign: Act = { type: 'proof.signed', body: { proofId, until: minute(600), breakMinute: 60 } };
  expect(rowOf(...down, ...read).asksCosign).toBe(false);
  expect(rowOf(...down, ...read, ask).asksCosign).toBe(true);
  const signed = rowOf(...down, ...read, ask, sign);
  expect(signed.asksCosign).toBe(false);
  expect(Date.parse(signed.proofEndsAt ?? '')).toBeGreaterThan(Date.parse(signed.lastAt));
  // what it falls back to once the proof ends
  expect(signed.lapsedVolt).toBeGreaterThan(signed.reachableVolt);
  expect(signed.waitEndsAt).toBeNull();
});

it('knows a charger, and how a job was closed', () => {
  expect(rowOf(fact({ kind: 'charger', volt: 300 })).hasSource).toBe(true);
  const closed = rowOf({ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The customer declined.', unmet: [] } });
  expect(closed).toMatchObject({ closed: 'brokenOff', closedAt: minute(1), steadyVolt: null, rest: null });
});

it('rests from the moment at which a sweep says that it did, and counts what is to be rejected', () => {
  const sweep: Act = { type: 'sweep.started', body: { kind: 'openCircuit', restSince: AT, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: 0.001 } }; // prettier-ignore
  const reads = Array.from({ length: 28 }, (_, i): Act => ({
    type: 'reading.taken',
    body: { sweepId: 'c2', place: i + 1, moduleId: `m${i + 1}`, quantity: 'openCircuitVolt', value: i === 4 ? 5.9 : 7.8 + (i % 3) / 1000 },
  }));
  const row = rowOf(sweep, ...reads);
  expect(row.measuredCount).toBe(28);
  expect(row.highestVolt).toBeGreaterThan(7.8);
  expect(row.lastAt).toBe(minute(29));
});
