import { inputBinding, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { findTorqueGroup, fold, type Act } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { Api } from '../../transport/api.ts';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { TorquePanel } from './torque-panel.ts';

const profile = testProfile();
const EMPTY = fold(profile, []);
/** A terminal: it gets a second pass. */
const part = profile.parts.find((p) => p.torque && (p.count ?? 0) > 3 && findTorqueGroup(p, EMPTY, profile).wantedPasses === 2);
const spec = part?.torque?.newtonMetre ?? 0;
const SET: Act = {
  type: 'torque.set',
  body: { partId: part?.id ?? '', toolId: 'T-01', reads: 'figure', setNewtonMetre: spec, toolLabel: 'T-01' },
};
const TOOL = { instrumentId: 'i1', kind: 'torqueTool', gearId: 'T-01', name: 'Wrench', isSimulated: true };

function groupOf(...acts: Act[]) {
  if (!part) throw new Error('no part with a torque');
  const all = [SET, ...acts];
  const state = fold(
    profile,
    eventsOf(profile, all, (i) => new Date(Date.UTC(2026, 4, 4, 8, i)).toISOString(), 3),
  );
  return findTorqueGroup(part, state, profile);
}

async function redrawn(): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, 0));
  TestBed.tick();
}

/** A panel whose tool by wire answers when it is told to. */
async function show(gear?: Promise<unknown>) {
  const taken: Extract<Act, { type: 'fastener.torqued' }>['body'][] = [];
  const answers: ((newtonMetre: number) => void)[] = [];
  const jobId = signal('j1');
  const store = { answer: (): Promise<string | null> => Promise.resolve('c') };
  const group = signal(groupOf());
  const log = {
    ...{ profile: signal(profile), state: signal(null), jobId },
    act: (act: Act) => {
      if (act.type === 'fastener.torqued') taken.push(act.body);
      return store.answer();
    },
  };
  const post = (): Promise<unknown> =>
    new Promise((resolve) => answers.push((newtonMetre) => resolve({ kind: 'answer', value: { newtonMetre, angleDegree: null } })));
  const ask = (path: string) =>
    path === '/api/instruments'
      ? Promise.resolve({ kind: 'fresh', value: { instruments: [TOOL] } })
      : (gear ?? Promise.resolve({ kind: 'none' }));
  TestBed.configureTestingModule({
    providers: [
      { provide: JobLog, useValue: log },
      { provide: KnownAnswers, useValue: { ask } },
      { provide: Api, useValue: { post } },
    ],
  });
  const fixture = TestBed.createComponent(TorquePanel, { bindings: [inputBinding('group', group), inputBinding('isOn', () => true)] });
  // nothing is stable while the register is on its way
  await (gear ? redrawn() : fixture.whenStable());
  const page = fixture.nativeElement as HTMLElement;
  const buttons = () => [...page.querySelectorAll('button')];
  const press = async (is: (button: HTMLButtonElement) => boolean): Promise<void> => {
    const found = buttons().find(is);
    if (!found) throw new Error(buttons().map((b) => b.textContent.trim()).join(' | ')); // prettier-ignore
    found.click();
    await fixture.whenStable();
  };
  const answer = async (newtonMetre = spec): Promise<void> => {
    answers.shift()?.(newtonMetre);
    await new Promise((resolve) => setTimeout(resolve, 0));
    await fixture.whenStable();
  };
  const byWire = (): Promise<void> => press((b) => b.textContent.includes('torque tool'));
  const pick = (seat: number): Promise<void> => press((b) => b.textContent.trim() === String(seat));
  return { page, taken, answer, byWire, pick, group, jobId, store, settle: () => fixture.whenStable() };
}

it('books a click by wire on the seat that was asked for, whichever is looked at when it comes', async () => {
  const { taken, answer, byWire, pick } = await show();
  await byWire();
  await pick(3);
  await answer();
  expect(taken).toMatchObject([{ seat: 1, pass: 1, newtonMetre: expect.closeTo(spec, 1) as number }]);
  // the seat that was picked meanwhile is still the one that is worked on
  await byWire();
  await answer();
  expect(taken.map((t) => t.seat)).toEqual([1, 3]);
});

it('goes on to the next seat of its own accord, and asks no tool twice at once', async () => {
  const { taken, answer, byWire } = await show();
  await byWire();
  await byWire().catch(() => undefined);
  await answer();
  await answer();
  expect(taken.map((t) => t.seat)).toEqual([1]);
  await byWire();
  await answer();
  expect(taken.map((t) => t.seat)).toEqual([1, 2]);
});

const through = (seat: number): Act => ({
  type: 'fastener.torqued',
  body: { settingId: groupOf().setting?.settingId ?? '', partId: part?.id ?? '', seat, pass: 1, newtonMetre: spec },
});

it('is led back to no seat that was pressed by a state that lags behind quick hands', async () => {
  const { taken, answer, byWire, group, store, settle } = await show();
  const kept: (() => void)[] = [];
  store.answer = () => new Promise((resolve) => kept.push(() => resolve('c')));
  for (let i = 0; i < 2; i++) {
    await byWire();
    await answer();
  }
  group.set(groupOf(through(1)));
  await settle();
  await byWire();
  await answer();
  expect(taken.map((t) => t.seat)).toEqual([1, 2, 3]);
  // one that is taken back later is the next again
  for (const end of kept) end();
  await settle();
  group.set(groupOf(through(1), through(2), through(3)));
  await settle();
  group.set(groupOf(through(1), through(3)));
  await settle();
  await byWire();
  await answer();
  expect(taken.map((t) => t.seat)).toEqual([1, 2, 3, 2]);
});

it('says what could not be stored, and stays at its seat', async () => {
  const { page, taken, answer, byWire, store } = await show();
  store.answer = () => Promise.resolve(null);
  await byWire();
  await answer();
  expect(page.textContent).toContain('could not be stored');
  store.answer = () => Promise.resolve('c');
  await byWire();
  await answer();
  expect(taken.map((t) => t.seat)).toEqual([1, 1]);
});

it('books nothing of a job that is not the open one any more', async () => {
  const { taken, answer, byWire, jobId } = await show();
  await byWire();
  jobId.set('j2');
  await answer();
  expect(taken).toEqual([]);
});

it('makes a second pass where the first is through, and takes no figure that is none', async () => {
  const { page, taken, group, settle } = await show();
  const { wantedPasses, seats } = group();
  const tighten = async (figure: string): Promise<void> => {
    const field = page.querySelector<HTMLInputElement>('form.key input');
    if (!field) throw new Error('no field');
    field.value = figure;
    field.dispatchEvent(new Event('input'));
    page.querySelector('form.key')?.dispatchEvent(new Event('submit'));
    await settle();
  };
  for (const none of ['0', '-3', 'tight']) await tighten(none);
  expect(taken).toEqual([]);
  await tighten(String(spec));
  group.set(groupOf(...seats.map(({ seat }) => through(seat))));
  await settle();
  await tighten(String(spec));
  expect(wantedPasses).toBe(2);
  expect(taken.map((t) => [t.seat, t.pass])).toEqual([
    [1, 1],
    [2, 2],
  ]);
});

it('takes no setting before the register of tools is there', async () => {
  let come = (): void => undefined;
  const { page } = await show(new Promise((resolve) => (come = () => resolve({ kind: 'none' }))));
  const set = (): HTMLButtonElement | undefined =>
    [...page.querySelectorAll('button')].find((b) => b.textContent.trim() === 'The tool is set');
  page.querySelector<HTMLButtonElement>('.set button')?.click();
  await redrawn();
  expect(page.textContent).toContain('The register is on its way');
  expect(set()?.disabled).toBe(true);
  come();
  await redrawn();
  expect(set()?.disabled).toBe(false);
});
