import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { applyFact, findJobExposure, startState, traceExposure, type Fact, type JobState } from '@estuarine/core';
import { testProfile } from '../../test/profile.ts';
import { ExposureLine } from './exposure-line.ts';

const profile = testProfile();

function stateAfter(...facts: Fact[]): JobState {
  const state = startState(profile);
  for (const fact of facts) state.pack = applyFact(state.pack, fact, profile);
  return state;
}

async function show(state: JobState, stale: { since: string; why: string; highestVolt: number } | null = null): Promise<HTMLElement> {
  TestBed.configureTestingModule({ providers: [provideRouter([])] });
  const fixture = TestBed.createComponent(ExposureLine);
  const inputs = {
    jobId: 'j',
    exposure: findJobExposure(state, profile),
    trace: traceExposure(state, profile),
    stages: profile.stages.map((stage) => ({ stage, isDone: stage === 'intake' })),
    present: state.stage,
    shown: 'test',
    stale,
  };
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  await fixture.whenStable();
  return fixture.nativeElement as HTMLElement;
}

describe('the exposure line', () => {
  it('never hides what stands behind the covers', async () => {
    const element = await show(stateAfter());
    expect(element.textContent).toContain('0.0 V');
    expect(element.textContent).toContain('no two bare posts');
    expect(element.textContent).toContain('269 V behind covers');
    expect(element.querySelector('.number')?.classList).not.toContain('is-live');
  });

  it('names the two posts and the current that a tool would meet, and turns live from 60 V', async () => {
    const element = await show(stateAfter({ kind: 'case', isOpen: true }, { kind: 'covers', areOff: true }));
    expect(element.textContent).toContain('268.8');
    expect(element.textContent).toContain('28+ to 1-');
    expect(element.textContent).toMatch(/\d+ A short/);
    expect(element.querySelector('.number')?.classList).toContain('is-live');
  });

  it('strikes the number through when nothing was heard, and says what is possible', async () => {
    const element = await show(stateAfter(), { since: '09:13', why: 'not connected', highestVolt: 268.8 });
    expect(element.querySelector('s')?.textContent).toBe('0.0');
    expect(element.textContent).toContain('as of 09:13, not connected. Up to 269 V is possible.');
    expect(element.querySelector('.number')?.classList).toContain('is-live');
  });

  it('leads to every stage, ticks those done and marks the one that is looked at', async () => {
    const element = await show(stateAfter());
    const links = [...element.querySelectorAll('nav a')];
    expect(links).toHaveLength(profile.stages.length);
    expect(links[0]?.textContent).toContain('done:');
    expect(element.querySelector('[aria-current=page]')?.textContent).toContain('Test');
    expect(links.map((a) => a.getAttribute('href'))).toContain('/job/j/match');
  });
});
