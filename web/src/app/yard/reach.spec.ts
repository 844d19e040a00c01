import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { DEFAULT_POLICY, fold, type Act, type Fact, type JobEvent } from '@estuarine/core';
import { openAct } from '../../test/job.ts';
import { testProfile } from '../../test/profile.ts';
import { Outbox } from '../transport/outbox.ts';
import { DeviceStore } from '../transport/store.ts';
import { reachOf } from './reach.ts';
import { WaitingVolts } from './waiting-volts.ts';
import { pass, useVirtualTime } from '../../test/virtual-time.ts';

useVirtualTime();

const NOW = Date.parse('2026-05-04T09:00:00Z');
const JOB = { proofEndsAt: null, lapsedVolt: 200, reachableVolt: 1, behindVolt: 218 };

describe('what is within reach on a job of the yard', () => {
  it('counts a proof up to its end, and not a moment longer', () => {
    const proven = { ...JOB, proofEndsAt: '2026-05-04T09:00:00Z' };
    expect([reachOf(proven, undefined, NOW - 1), reachOf(proven, undefined, NOW), reachOf(proven, undefined, NOW + 1)]).toEqual([
      1, 1, 200,
    ]);
    expect(reachOf(JOB, undefined, NOW + 1)).toBe(1);
  });

  it('is raised by what waits here and never lowered, and is all that lies behind where this device knows nothing', () => {
    expect([reachOf(JOB, { volt: 120 }, NOW), reachOf(JOB, { volt: 0 }, NOW), reachOf(JOB, { volt: null }, NOW)]).toEqual([120, 1, 218]);
  });
});

it('counts no proof under what waits: it may have ended it', async () => {
  const profile = testProfile();
  const at = (i: number) => new Date(Date.UTC(2026, 4, 4, 8, i)).toISOString();
  const fact = (stated: Fact): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact: stated } });
  const acts: Act[] = [openAct(profile, 7), fact({ kind: 'connectors', are: 'open' })];
  const state = fold(
    profile,
    acts.map((act, i): JobEvent => ({ number: i + 1, commandId: `c${i}`, by: 'om', at: at(i), deviceAt: at(i), ...act })),
  );
  // a proof of dead stands over the bare posts
  const signed = { by: 'om', at: at(2), number: 3, until: null, breakMinute: 60, volt: 0.1, isOutletToo: true };
  const stamp = { number: 2, by: 'om', saidAt: 0, keptAt: 0, device: null };
  const start = { meterId: 'M', source: 'battery', sourceId: null, point: { at: 'carSide', label: 'posts' }, known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1 }; // prettier-ignore
  state.isolate.proofs.push({ ...start, by: 'om', at: at(2), number: 2, proofId: 'p', stamp, readings: [], asked: null, signed, lapsed: null } as never); // prettier-ignore
  const sent = { commandId: 'w', deviceAt: at(3), by: 'om', version: 1, act: { type: 'step.reopened', body: { stepId: 'key' } } };
  TestBed.configureTestingModule({
    providers: [
      { provide: Outbox, useValue: { waiting: signal([{ seq: 1, jobId: 'j', sent, refused: null }]) } },
      {
        provide: DeviceStore,
        useValue: { findJob: (jobId: string) => Promise.resolve(jobId === 'j' ? { state, profile, policy: DEFAULT_POLICY } : undefined) },
      },
    ],
  });
  const waiting = TestBed.inject(WaitingVolts);
  TestBed.tick();
  await pass(20);
  expect(waiting.volts().get('j')).toMatchObject({ count: 1 });
  expect(waiting.volts().get('j')?.volt).toBeCloseTo(268.8, 6);
});
