import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { JobSummary } from '@estuarine/contract';
import { findYardWait } from '@estuarine/core';
import { sayWait } from './say-wait.ts';
import { YardCard, type YardVolts } from './yard-card.ts';

const NOW = Date.parse('2026-05-04T09:00:00Z');
const at = (minute: number): string => new Date(NOW + 60_000 * minute).toISOString();
const JOB: JobSummary = {
  ...{ jobId: 'j', fold: 1, number: 7, kind: 'wholeRepair', closed: null, closedAt: null, comebackOf: null, vehicleName: 'Knot van' },
  ...{ plate: 'TI 7', customerName: 'Sora', profileId: 'p', profileName: 'P', stage: 'isolate', reachableVolt: 0, lapsedVolt: 0 },
  ...{ proofEndsAt: null, waitEndsAt: null, rest: null, lookAt: null, stripAt: null, steadyVolt: null, asksCosign: false },
  ...{ behindVolt: 268.8, highestVolt: 268.8, measuredCount: 0, moduleCount: 28, rejectCount: 0, hasSource: false, toOrder: 0 },
  ...{ lastBy: 'om', openedAt: at(-60), lastAt: at(-1) },
};
const said = (change: Partial<JobSummary>, now = NOW): string => {
  const job = { ...JOB, ...change };
  return sayWait(job, findYardWait(job, now), now);
};

describe('what a job waits for', () => {
  it('counts down to the second, and says what is next once it is over', () => {
    expect(said({ waitEndsAt: at(2) })).toBe('capacitors, 2:00 to go');
    expect(said({ waitEndsAt: at(2) }, NOW + 55_000)).toBe('capacitors, 1:05 to go');
    expect(said({ waitEndsAt: at(2) }, NOW + 120_000)).toBe('wait is over: prove dead');
    expect(said({ rest: { since: at(-30), judgedFrom: at(30) } })).toMatch(/^rest, judged in 30 min/);
    expect(said({ rest: { since: at(-90), judgedFrom: at(-30) } })).toMatch(/^rested 1 h 30 min: read again$/);
  });

  it('says what hurts first, and nothing where nothing is waited for', () => {
    expect(said({ steadyVolt: 214.6, waitEndsAt: at(2) })).toBe('steady at 215 V: hands off');
    expect(said({ asksCosign: true })).toBe('asks for a co-sign');
    expect(said({ toOrder: 1 })).toBe('1 piece to be had new');
    expect(said({ closed: 'finished', lookAt: '2026-11-04T09:00:00Z' })).toBe('air path again 4 Nov 2026');
    expect(said({ closed: 'finished', lookAt: '2026-01-04T09:00:00Z' })).toBe('air path: due since 4 Jan 2026');
    expect(said({})).toBe('');
  });
});

describe('a job of the yard', () => {
  async function card(job: JobSummary, volts: Partial<YardVolts> = {}) {
    TestBed.configureTestingModule({ providers: [provideRouter([])] });
    const fixture = TestBed.createComponent(YardCard);
    const known: YardVolts = { reachVolt: 0, mostVolt: 268.8, isLive: false, asOf: '', doubts: '', ...volts };
    for (const [name, value] of Object.entries({ job, wait: findYardWait(job, NOW), volts: known, now: NOW, stageName: 'Isolate' }))
      fixture.componentRef.setInput(name, value);
    await fixture.whenStable();
    return fixture.nativeElement as HTMLElement;
  }

  it('leads to its stage and says what stands within reach and behind', async () => {
    const element = await card(JOB);
    expect(element.querySelector('a')?.getAttribute('href')).toBe('/job/j/isolate');
    expect(element.textContent).toContain('0.0 V');
    expect(element.textContent).toContain('269 V');
    expect(element.textContent).toContain('Whole repair, Sora');
    expect(element.querySelector('s')).toBeNull();
  });

  it('strikes a number through that is not certain any more, with the most that is possible', async () => {
    const element = await card(JOB, { asOf: '08:58', isLive: true });
    expect(element.querySelector('s')?.textContent).toContain('0.0 V');
    expect(element.textContent).toContain('as of 08:58, up to 269 V');
    expect(element.querySelector('.is-live')).not.toBeNull();
  });

  it('is marked where hands are called for at once', async () => {
    const element = await card({ ...JOB, asksCosign: true });
    expect(element.querySelector('a')?.classList).toContain('is-urgent');
  });
});
