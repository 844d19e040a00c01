import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { JobPapers, Papers } from '@estuarine/contract';
import { DEFAULT_POLICY, fold, type Act, type JobState } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { Link } from '../../transport/link.ts';
import { VehiclePanel } from './vehicle-panel.ts';

const profile = testProfile();
const at = (i: number): string => new Date(Date.UTC(2026, 4, 4, 8, 0, i)).toISOString();
const jobOf = (...acts: Act[]): JobState => fold(profile, eventsOf(profile, acts, at));
const PAPERS: JobPapers = {
  vehicle: { name: 'Knot van', plate: 'TI 9', odometerKilometre: 120_000, note: 'Hot on the hill.' },
  customer: { name: 'Sora', contact: 'the lock keeper' },
  corrected: { vehicle: false, customer: false },
};

async function show(given: JobState = jobOf(), papers: JobPapers = PAPERS, { isSlow = false } = {}) {
  const acts: Act[] = [];
  const corrected: Papers[] = [];
  const state = signal(given);
  const log = {
    ...{
      state,
      profile: signal(profile),
      jobId: signal('j'),
      papers: signal(papers),
      closed: signal(null),
      policy: signal(DEFAULT_POLICY),
    },
    vehicle: signal({ name: papers.vehicle?.name ?? 'vehicle erased', plate: papers.vehicle?.plate ?? 'not noted' }),
    act: (act: Act) => {
      acts.push(act);
      // a slow device has not stored the first by the time that the second is pressed
      if (isSlow) return new Promise<string>(() => undefined);
      state.set(jobOf(...acts));
      return Promise.resolve('c');
    },
    correctPapers: (next: Papers) => {
      corrected.push(next);
      return Promise.resolve('c');
    },
  };
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      { provide: JobLog, useValue: log },
      { provide: KnownAnswers, useValue: { ask: () => Promise.resolve({ kind: 'away', value: undefined }) } },
      { provide: Link, useValue: { serverNow: () => Date.UTC(2026, 4, 4) } },
    ],
  });
  const fixture = TestBed.createComponent(VehiclePanel);
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  const press = async (name: string): Promise<void> => {
    const found = [...element.querySelectorAll('button')].find((b) => b.textContent.trim() === name);
    if (!found) throw new Error(`no button ${name}`);
    found.click();
    await fixture.whenStable();
  };
  const write = async (label: string, text: string): Promise<void> => {
    const field = [...element.querySelectorAll('label')].find((l) => l.textContent.trim().startsWith(label));
    const box = field?.querySelector<HTMLInputElement | HTMLTextAreaElement>('input, textarea');
    if (!box) throw new Error(`no field ${label}`);
    box.value = text;
    box.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };
  const asks = (): string[] => [...element.querySelectorAll('.asks li')].map((li) => li.textContent.trim().replace(/\s+/g, ' '));
  return { element, acts, corrected, press, write, asks, state, fixture };
}

describe('intake', () => {
  it('notes a use with one press and takes it back with another; none of them is an answer too', async () => {
    const { acts, press, asks } = await show();
    expect(asks()[0]).toBe('○How it is used');
    await press('pets');
    await press('hills');
    await press('pets');
    expect(acts.map((a) => (a.type === 'use.noted' ? a.body.uses : null))).toEqual([['pets'], ['pets', 'hills'], ['hills']]);
    expect(asks()[0]).toBe('✓How it is used');
    await press('none of these');
    expect(acts.at(-1)).toMatchObject({ body: { uses: [], lookedUp: '', noScan: '' } });
  });

  it('builds on what was pressed a moment ago, however slow the device stores it', async () => {
    const before: Act = { type: 'use.noted', body: { uses: ['dust'], lookedUp: '', noScan: '' } };
    const { acts, press, state } = await show(jobOf(before), PAPERS, { isSlow: true });
    await press('pets');
    // what somebody else did comes in between
    state.set(jobOf(before, { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } }));
    await press('hills');
    expect(acts.at(-1)).toMatchObject({ body: { uses: ['dust', 'pets', 'hills'] } });
  });

  it('leaves what is being typed alone when something comes in, from here or elsewhere', async () => {
    const { element, press, write, state, fixture } = await show();
    await write('Not scanned', 'Came de');
    await press('hills');
    state.set(structuredClone(state()));
    await fixture.whenStable();
    const boxes = [...element.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>('app-text-field :is(input, textarea)')];
    expect(boxes.map((b) => b.value)).toContain('Came de');
  });

  it('keeps what was looked up beside the uses that stand', async () => {
    const { acts, press, write } = await show();
    await press('dusty roads');
    await write('Bulletins', 'Two, level 7.');
    await press('Keep what was looked up');
    expect(acts.at(-1)).toEqual({ type: 'use.noted', body: { uses: ['dust'], lookedUp: 'Two, level 7.', noScan: '' } });
  });

  it('is content with a reason where no scan was made', async () => {
    const { press, write, asks } = await show();
    expect(asks()[1]).toBe('○Scanned as it came, or why not');
    await write('Not scanned', 'Came dead.');
    await press('Keep the reason');
    expect(asks()[1]).toBe('✓Scanned as it came, or why not');
  });

  it('corrects the papers whole, a customer left empty is none', async () => {
    const { corrected, press, write } = await show();
    await press('Write or correct');
    await write('Plate', 'TI 10');
    await write('Odometer', '121000');
    await write('Customer', '');
    await press('Keep the correction');
    expect(corrected).toEqual([
      { vehicle: { name: 'Knot van', plate: 'TI 10', odometerKilometre: 121_000, note: 'Hot on the hill.' }, customer: null },
    ]);
  });

  it('keeps nothing that does not fit, and says at the field why', async () => {
    const { corrected, element, press, write } = await show();
    await press('Write or correct');
    for (const odometer of ['12.5', '-3', '99999999', 'far']) {
      await write('Odometer', odometer);
      await press('Keep the correction');
      expect([odometer, element.querySelector('[role=alert]')?.textContent]).toEqual([
        odometer,
        expect.stringContaining('Whole kilometres'),
      ]);
    }
    await write('Odometer', '');
    await write('Vehicle', ' ');
    await press('Keep the correction');
    expect(element.querySelector('[role=alert]')?.textContent).toContain('Say which vehicle');
    expect(corrected).toEqual([]);
  });

  it('offers no correction of what was erased', async () => {
    const { element } = await show(jobOf(), { ...PAPERS, vehicle: null, customer: null });
    expect(element.textContent).not.toContain('Write or correct');
    expect(element.textContent).toContain('cannot be corrected');
  });
});
