import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { DEFAULT_POLICY, fold, type Act, type JobState } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { Api } from '../../transport/api.ts';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { Link } from '../../transport/link.ts';
import { Session } from '../../session/session.ts';
import { PhotoDesk } from '../../transport/photo-desk.ts';
import { ReportPanel } from './report-panel.ts';

const profile = testProfile();
const jobOf = (...acts: Act[]): JobState =>
  fold(
    profile,
    eventsOf(profile, acts, (i) => new Date(Date.UTC(2026, 4, 4, 8, 0, i)).toISOString()),
  );
const prepared = (toCustomer: string): Act => ({ type: 'report.prepared', body: { photoIds: [], toCustomer } });

async function show(...acts: Act[]) {
  const state = signal(jobOf(...acts));
  const asked: Act[] = [];
  const log = {
    ...{ state, kept: signal(null), profile: signal(profile), policy: signal(DEFAULT_POLICY), jobId: signal('j'), pendingCount: signal(0) },
    ...{ papers: signal({ vehicle: null, customer: null }), vehicle: signal({ name: 'van', plate: '' }), closed: signal(null) },
    act: (act: Act) => Promise.resolve(`${asked.push(act)}`),
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: JobLog, useValue: log },
      { provide: PhotoDesk, useValue: { addressOf: () => '', thumbnail: () => '' } },
      { provide: Api, useValue: {} },
      { provide: KnownAnswers, useValue: { ask: () => Promise.resolve({ kind: 'away', value: undefined }) } },
      { provide: Link, useValue: { serverNow: () => Date.UTC(2026, 4, 4) } },
      { provide: Session, useValue: { isDemo: () => false } },
    ],
  });
  const fixture = TestBed.createComponent(ReportPanel);
  await fixture.whenStable();
  const box = (fixture.nativeElement as HTMLElement).querySelector('textarea') as HTMLTextAreaElement;
  const write = async (text: string): Promise<void> => {
    box.value = text;
    box.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };
  const comeIn = async (next: JobState): Promise<void> => {
    state.set(next);
    await fixture.whenStable();
  };
  return { box, write, comeIn };
}

it('shows what the customer reads as it was kept last, also by another device', async () => {
  const { box, comeIn } = await show(prepared('Thank you.'));
  expect(box.value).toBe('Thank you.');
  await comeIn(jobOf(prepared('Thank you.'), prepared('Mind the grille.')));
  expect(box.value).toBe('Mind the grille.');
});

it('leaves what is being typed alone while other things come in', async () => {
  const { box, write, comeIn } = await show(prepared('Thank you.'));
  await write('Thank you for wai');
  await comeIn(jobOf(prepared('Thank you.'), { type: 'cause.answered', body: { cause: 'joint', isAnswered: true, how: '' } }));
  expect(box.value).toBe('Thank you for wai');
});
