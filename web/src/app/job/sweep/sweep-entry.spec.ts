import { inputBinding, signal, twoWayBinding } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { fold, keysOf, type Act } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { JobLog } from '../../transport/job-log.ts';
import { SweepEntry } from './sweep-entry.ts';

const profile = testProfile();
const BEGUN: Act = {
  type: 'sweep.started',
  body: { kind: 'openCircuit', restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all', resolution: 0.001 },
};

async function show() {
  const state = fold(
    profile,
    eventsOf(profile, [BEGUN], (i) => new Date(Date.UTC(2026, 4, 4, 8, i)).toISOString(), 3),
  );
  const [sweep] = state.sweep.sweeps;
  const taken: { place: number; value: number }[] = [];
  const log = {
    ...{ state: signal(state), profile: signal(profile), records: signal([]), jobId: signal('j') },
    act: (act: Act) => {
      if (act.type === 'reading.taken') taken.push({ place: act.body.place, value: act.body.value });
      return Promise.resolve('c');
    },
  };
  TestBed.configureTestingModule({ providers: [{ provide: JobLog, useValue: log }] });
  const place = signal(1);
  const fixture = TestBed.createComponent(SweepEntry, {
    bindings: [
      inputBinding('sweep', () => sweep),
      inputBinding('type', () => profile.moduleType),
      inputBinding('moduleIds', () => Array.from({ length: profile.moduleCount }, (_, i) => `m${i + 1}`)),
      inputBinding('keys', () => keysOf(state.sweep)),
      twoWayBinding('place', place),
    ],
  });
  await fixture.whenStable();
  const field = (fixture.nativeElement as HTMLElement).querySelector('input');
  if (!field) throw new Error('no field');
  const type = (text: string): void => {
    field.value = text;
    field.dispatchEvent(new Event('input'));
  };
  const press = async (key: string): Promise<void> => {
    field.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
    await fixture.whenStable();
  };
  return { field, place, taken, type, press };
}

it('leaves nothing of what was typed for one module in the field of the next', async () => {
  const { field, place, taken, type, press } = await show();
  type('7.8');
  await press('ArrowDown');
  expect([field.value, place()]).toEqual(['', 2]);
  await press('Enter');
  expect(taken).toEqual([]);
  type('7.75');
  await press('Enter');
  expect(taken).toEqual([{ place: 2, value: 7.75 }]);
  expect(field.value).toBe('');
});

it('stays at the first module where there is none before it', async () => {
  const { place, press } = await show();
  await press('ArrowUp');
  expect(place()).toBe(1);
});
