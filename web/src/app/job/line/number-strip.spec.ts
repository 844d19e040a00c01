import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { findJobExposure, startState, type Stage } from '@estuarine/core';
import { testProfile } from '../../../test/profile.ts';
import { JobLog } from '../../transport/job-log.ts';
import { StageWords } from '../../ui/stage-words.ts';
import { GoOn } from './go-on.ts';
import { NumberStrip } from './number-strip.ts';

const profile = testProfile();
const STAGES: { stage: Stage; isDone: boolean }[] = [
  { stage: 'intake', isDone: true },
  { stage: 'isolate', isDone: false },
];

async function strip(inputs: Record<string, unknown> = {}) {
  const fixture = TestBed.createComponent(NumberStrip);
  const exposure = findJobExposure(startState(profile), profile, 0);
  for (const [name, value] of Object.entries({ exposure, stages: STAGES, shown: 'isolate', ...inputs }))
    fixture.componentRef.setInput(name, value);
  await fixture.whenStable();
  return { fixture, element: fixture.nativeElement as HTMLElement };
}

describe('what stays of the head while a stage is scrolled', () => {
  it('is the number and what is next', async () => {
    const { element } = await strip({ next: 'wait for the capacitors' });
    expect(element.textContent).toContain('0.0 V');
    expect(element.textContent).toContain('no two bare posts');
    expect(element.textContent).toContain('wait for the capacitors');
  });

  it('never shows a number as certain that is not', async () => {
    const { element } = await strip({ stale: { since: '09:13', why: 'not connected', highestVolt: 268.8 } });
    expect(element.querySelector('s')?.textContent).toBe('0.0');
    expect(element.textContent).toContain('as of 09:13, up to 269 V');
    expect(element.querySelector('.why.is-live')).not.toBeNull();
    const cut = await strip({ cutOff: 'TS since 09:00' });
    expect(cut.element.textContent).toContain('may be higher');
  });

  it('puts an alarm in the place of what is next', async () => {
    const { element } = await strip({ next: 'sign it', alarm: 'Steady: hands off' });
    expect(element.textContent).toContain('Steady: hands off');
    expect(element.textContent).not.toContain('sign it');
  });

  it('leads to another stage, by the words of the shop', async () => {
    TestBed.inject(StageWords).set({ ...TestBed.inject(StageWords).names(), intake: 'Desk' });
    const { fixture, element } = await strip();
    const went: string[] = [];
    fixture.componentInstance.go.subscribe((s) => went.push(s));
    const select = element.querySelector('select');
    if (!select) throw new Error('no way out');
    expect([...select.options].map((o) => o.text.trim())).toEqual(['✓ Desk', 'Isolate']);
    select.value = 'intake';
    select.dispatchEvent(new Event('change'));
    expect(went).toEqual(['intake']);
  });
});

describe('the end of a stage', () => {
  async function end(shown: Stage) {
    TestBed.configureTestingModule({
      providers: [provideRouter([]), { provide: JobLog, useValue: { jobId: signal('j'), stages: signal(STAGES) } }],
    });
    const fixture = TestBed.createComponent(GoOn);
    fixture.componentRef.setInput('shown', shown);
    await fixture.whenStable();
    return fixture.nativeElement as HTMLElement;
  }

  it('leads to the one that follows, said the louder once this one is done', async () => {
    const element = await end('intake');
    expect(element.querySelector('a')?.getAttribute('href')).toBe('/job/j/isolate');
    expect(element.querySelector('a')?.classList).toContain('ant-btn-primary');
  });

  it('leads nowhere from the last', async () => {
    expect((await end('isolate')).querySelector('a')).toBeNull();
    TestBed.resetTestingModule();
    expect((await end('handOver')).querySelector('a')).toBeNull();
  });
});
