import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { fold, type Act, type JobState, type Role } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { JobClosing } from './job-closing.ts';

const profile = testProfile();

const at = (i: number): string => new Date(Date.UTC(2026, 4, 4, 8, 0, i)).toISOString();
const jobOf = (...acts: Act[]): JobState => fold(profile, eventsOf(profile, acts, at));

async function show(state: JobState, role: Role) {
  const acts: Act[] = [];
  const log = {
    state: signal(state),
    profile: signal(profile),
    kept: signal({ state }),
    act: (act: Act) => {
      acts.push(act);
      return Promise.resolve(null);
    },
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: JobLog, useValue: log },
      { provide: Session, useValue: { person: signal({ id: 'om', role }) } },
    ],
  });
  const fixture = TestBed.createComponent(JobClosing);
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  const button = (name: string): HTMLButtonElement | undefined =>
    [...element.querySelectorAll('button')].find((b) => b.textContent.trim() === name);
  const write = async (text: string): Promise<void> => {
    const input = element.querySelector('input');
    if (!input) throw new Error('no field');
    input.value = text;
    input.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };
  return { element, acts, button, write };
}

const plugOut: Act = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } };
const closed: Act = { type: 'job.closed', body: { outcome: 'finished', note: 'Fetched on Friday.' } };

describe('closing a job', () => {
  it('says what stands against it and lets nobody close it meanwhile', async () => {
    const { element, button, acts } = await show(jobOf(plugOut), 'technician');
    expect(element.textContent).toContain('The service plug is stated out.');
    expect(button('Close as finished')?.disabled).toBe(true);
    expect(button('Break the job off')).toBeUndefined();
    button('Close as finished')?.click();
    expect(acts).toEqual([]);
  });

  it('is broken off by the lead, with a reason that is one', async () => {
    const { button, acts, write } = await show(jobOf(plugOut), 'lead');
    await write('no');
    expect(button('Break the job off')?.disabled).toBe(true);
    await write('  The customer declined. ');
    button('Break the job off')?.click();
    expect(acts).toEqual([{ type: 'job.closed', body: { outcome: 'brokenOff', reason: 'The customer declined.', unmet: [] } }]);
  });

  it('is not offered to an apprentice', async () => {
    const { element, button } = await show(jobOf(), 'apprentice');
    expect(button('Close as finished')).toBeUndefined();
    expect(element.textContent).toContain('A technician or the lead closes a job.');
  });

  it('once closed tells by whom and how, and is opened again with a reason', async () => {
    const { element, button, acts, write } = await show(jobOf(closed), 'technician');
    expect(element.querySelector('h3')?.textContent).toMatch(/Finished .* by\s+OM/);
    expect(element.textContent).toContain('Fetched on Friday.');
    expect(button('Open the job again')?.disabled).toBe(true);
    await write('It came back.');
    button('Open the job again')?.click();
    expect(acts).toEqual([{ type: 'job.reopened', body: { reason: 'It came back.' } }]);
  });
});
