import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { fold, type Act, type JobMemory } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { Api } from '../../transport/api.ts';
import { DeviceStore } from '../../transport/store.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { JobLog } from '../../transport/job-log.ts';
import { LiftPlan } from './lift-plan.ts';
import { Memory } from './memory.ts';
import { StageTimes } from './stage-times.ts';
import { TransferLedger } from './transfer-ledger.ts';

const profile = testProfile();
const START = Date.UTC(2026, 4, 4, 8);

/** A job whose acts follow each other by five minutes. */
function stateOf(...acts: Act[]) {
  return fold(
    profile,
    eventsOf(profile, acts, (i) => new Date(START + i * 300_000).toISOString(), 3),
  );
}

async function show<T>(component: new () => T, acts: Act[] = [], memories: JobMemory[] = []) {
  const taken: Act[] = [];
  const log = {
    jobId: signal('j'),
    profile: signal(profile),
    state: signal(stateOf(...acts)),
    act: (act: Act) => {
      taken.push(act);
      return Promise.resolve('c');
    },
  };
  const api = { get: () => Promise.resolve({ kind: 'answer', value: { memories }, etag: null }) };
  const store = { saveAnswer: () => Promise.resolve() };
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      { provide: JobLog, useValue: log },
      { provide: Api, useValue: api },
      { provide: DeviceStore, useValue: store },
    ],
  });
  await TestBed.inject(Memory).load(profile, 'j', 3);
  const fixture = TestBed.createComponent(component);
  await fixture.whenStable();
  return { fixture, element: fixture.nativeElement as HTMLElement, taken };
}

const NOTHING_MORE = {
  ...{ air: null, school: null, closedAt: null, modules: { in: 0, out: 0 }, warranty: null, core: null, explained: null },
} as const;

describe('an exchange', () => {
  it('names what is not moved yet, and draws each part on the pack where it is', async () => {
    const { element, taken } = await show(TransferLedger, [
      { type: 'transfer.stated', body: { transferId: 'relay-block', fate: 'moves', isDone: true } },
    ]);
    const waits = element.querySelector('.open')?.textContent ?? '';
    expect(waits).toContain('Not moved yet: 6.');
    expect(waits).not.toContain('relay block');
    const [old, fresh] = element.querySelectorAll('.pack');
    const part = (pack: Element | undefined, name: string) =>
      [...(pack?.querySelectorAll('.part') ?? [])].find((p) => p.textContent.includes(name));
    expect(part(old, 'relay block')?.classList).toContain('is-ghost');
    expect(part(fresh, 'relay block')?.textContent).toContain('moved');
    expect(part(fresh, 'pack fan')).toBeUndefined();
    element.querySelector<HTMLButtonElement>('.done')?.click();
    expect(taken).toEqual([{ type: 'transfer.stated', body: { transferId: 'control-unit', fate: 'moves', isDone: true } }]);
  });

  it('lets a part’s fate be changed, which takes back that it was done', async () => {
    const { element, taken } = await show(TransferLedger);
    const fate = element.querySelector('select');
    if (fate) fate.selectedIndex = 0;
    fate?.dispatchEvent(new Event('change'));
    expect(taken).toEqual([{ type: 'transfer.stated', body: { transferId: 'control-unit', fate: 'supplied', isDone: false } }]);
  });
});

describe('the lift plan', () => {
  it('shows the limit for one person with every multiplier, and never says that two may', async () => {
    const { element } = await show(LiftPlan);
    expect(element.textContent).toContain('39 kg');
    const rows = [...element.querySelectorAll('td.num')].map((td) => td.textContent.trim());
    expect(rows).toHaveLength(7);
    const product = rows.slice(1).reduce((p, text) => p * Number(text.replace('×', '')), 23);
    expect(Math.abs(product - Number(/at most ([\d.]+) kg/.exec(element.textContent)?.[1]))).toBeLessThan(0.1);
    expect(element.textContent).toContain('never that two may');
  });

  it('asks who holds the other side, and warns where the profile asks for a hoist', async () => {
    const { fixture, element, taken } = await show(LiftPlan);
    const submit = [...element.querySelectorAll('button')].find((b) => b.textContent.includes('Keep the lift plan'));
    expect(submit?.disabled).toBe(true);
    const who = element.querySelector<HTMLInputElement>('input.plain');
    if (who) who.value = 'Tamsin';
    who?.dispatchEvent(new Event('input'));
    element.querySelector<HTMLInputElement>('input[type=checkbox]')?.click();
    await fixture.whenStable();
    element.querySelector('form')?.dispatchEvent(new Event('submit'));
    expect(taken).toEqual([{ type: 'lift.planned', body: { by: 'twoPeople', with: 'Tamsin', isPathClear: true, note: '' } }]);
  });
});

it('holds the minutes of a stage against the quote and the shop’s other jobs, its own left out', async () => {
  const moved: Act = {
    type: 'part.moved',
    body: { stage: 'strip', partId: 'seat-bolt', count: 4, from: { kind: 'inPlace' }, to: { kind: 'stud' }, condition: 'good' },
  };
  const memory = (number: number, strip: number): JobMemory => ({
    number,
    minutes: { strip },
    broken: [],
    found: [],
    ...NOTHING_MORE,
  });
  const { element } = await show(StageTimes, [moved, moved], [memory(1, 84), memory(2, 96), memory(3, 1)]);
  const strip = [...element.querySelectorAll('tbody tr')].find((tr) => tr.textContent.includes('Strip'));
  const cells = [...(strip?.querySelectorAll('td') ?? [])].map((td) => td.textContent.trim());
  expect(cells).toEqual(['Strip', '60', '10', '90', '2', '50 % over']);
});

it('forgets what it remembered for another job, and hears no answer that was overtaken', async () => {
  const answers: ((value: unknown) => void)[] = [];
  const ask = () => new Promise((resolve) => answers.push((value) => resolve({ kind: 'fresh', value: { memories: [value] } })));
  TestBed.configureTestingModule({ providers: [{ provide: KnownAnswers, useValue: { ask } }] });
  const memory = TestBed.inject(Memory);
  const air = (foundShare: number) => ({
    ...{ number: 1, minutes: {}, broken: [], found: [], isSameVehicle: true },
    air: { at: '2026-01-01T00:00:00.000Z', foundShare, wasCleaned: true },
  });
  const first = memory.load(profile, 'one', 7);
  answers[0]?.(air(0.6));
  await first;
  expect(memory.memory()?.air.own[0]?.foundShare).toBe(0.6);
  const [slow, fast] = [memory.load(profile, 'two', 8), memory.load(profile, 'three', 9)];
  expect(memory.memory()).toBeNull();
  answers[2]?.(air(0.3));
  await fast;
  answers[1]?.(air(0.9));
  await slow;
  expect(memory.memory()?.air.own[0]?.foundShare).toBe(0.3);
});
