import { inputBinding, isSignal, signal, type Type } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { StockRow } from '@estuarine/contract';
import { findBarsReady, findHalves, findTorqueGroup, fold, type Act } from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { BarsPanel } from './bars-panel.ts';
import { HalvesPanel } from './halves-panel.ts';
import { suggestInstead, whyNotLay } from './instead.ts';
import { PastePanel } from './paste-panel.ts';
import { SurveyPanel } from './survey-panel.ts';
import { TorquePanel } from './torque-panel.ts';

const profile = testProfile();
const START = Date.UTC(2026, 4, 4, 8);

function stateOf(...acts: Act[]) {
  return fold(
    profile,
    eventsOf(profile, acts, (i) => new Date(START + i * 60_000).toISOString(), 3),
  );
}

/** A component with these inputs; one that is a signal may be given anew. */
async function show(component: Type<unknown>, inputs: Record<string, unknown>) {
  const taken: Act[] = [];
  const log = {
    profile: signal(profile),
    state: signal(null),
    act: (act: Act) => {
      taken.push(act);
      return Promise.resolve('c');
    },
  };
  const none = { ask: () => Promise.resolve({ kind: 'none', value: undefined }) };
  TestBed.configureTestingModule({
    providers: [
      { provide: JobLog, useValue: log },
      { provide: KnownAnswers, useValue: none },
    ],
  });
  const bindings = Object.entries(inputs).map(([name, value]) => inputBinding(name, isSignal(value) ? value : () => value));
  const fixture = TestBed.createComponent(component, { bindings });
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  const press = async (name: string) => {
    [...element.querySelectorAll('button')].find((b) => b.textContent.trim().startsWith(name))?.click();
    await fixture.whenStable();
  };
  const type = async (label: string, text: string) => {
    const field = [...element.querySelectorAll('label')].find((l) => l.textContent.includes(label))?.querySelector('input');
    if (!field) throw new Error(label);
    field.value = text;
    field.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };
  const pick = async (label: string, choice: string) => {
    const field = [...element.querySelectorAll('label')].find((l) => l.textContent.includes(label))?.querySelector('select');
    if (!field) throw new Error(label);
    field.selectedIndex = [...field.options].findIndex((o) => o.text === choice);
    field.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    return () => field.selectedOptions[0]?.text;
  };
  return { element, taken, press, type, pick, settle: () => fixture.whenStable() };
}

describe('what a person picked stays while acts of others come in', () => {
  it('how the torque tool reads', async () => {
    const part = profile.parts.find((p) => p.torque);
    if (!part) throw new Error('no part with a torque');
    const group = signal(findTorqueGroup(part, stateOf(), profile));
    const { pick, settle } = await show(TorquePanel, { group, isOn: true });
    const picked = await pick('The tool', 'shows a figure');
    group.set({ ...group() });
    await settle();
    expect(picked()).toBe('shows a figure');
  });

  it('in which pattern the paste lies', async () => {
    const paste = { areaSquareCentimetre: 90, thicknessMillimetre: 0.3, gramPerCubicCentimetre: 2.5, pattern: 'lines' };
    const coolant = signal({ paste });
    const need = { gram: 6.8, leastGram: 6, mostGram: 9, places: [1, 2], missing: [1, 2], wrong: [], fault: null };
    const { pick, settle } = await show(PastePanel, { coolant, need });
    const picked = await pick('Pattern', 'cross');
    coolant.set({ paste: { ...paste } });
    await settle();
    expect(picked()).toBe('cross');
  });
});

it('keeps bars as new in one press, and says of wet ones why they wait', async () => {
  const fresh = await show(BarsPanel, { sets: findBarsReady(stateOf(), profile) });
  await fresh.press('They are new');
  expect(fresh.taken).toEqual([
    { type: 'bars.readied', body: { frame: null, how: 'new', isInFrame: true, isDry: null, plating: null, haveNewNuts: true } },
  ]);
  TestBed.resetTestingModule();
  const wet = { frame: null, how: 'cleaned', isInFrame: false, isDry: false, plating: 'whole', haveNewNuts: false } as const;
  const shown = await show(BarsPanel, { sets: findBarsReady(stateOf({ type: 'bars.readied', body: wet }), profile) });
  expect(shown.element.textContent).toContain('cleaned, wet, plating whole, one by one, old nuts');
  expect(shown.element.textContent).toContain('Still wet');
});

it('measures a half against its sum, and takes no figure that no pack has', async () => {
  const state = { ...stateOf(), volts: Array.from({ length: 28 }, () => 7.8) };
  const { element, taken, press, type } = await show(HalvesPanel, { halves: findHalves(state, profile) });
  expect(element.textContent).toContain('218.4 V');
  await type('Measured 1 to 28', '218400');
  await press('Keep');
  expect(taken).toEqual([]);
  expect(element.querySelector('[role=alert]')?.textContent).toContain('millivolt?');
  await type('Measured 1 to 28', '218.1');
  await press('Keep');
  expect(taken).toEqual([{ type: 'half.measured', body: { from: 1, to: 28, volt: 218.1 } }]);
});

it('walks the joints, goes back to one that was mistyped, and keeps them at once', async () => {
  const { element, taken, press, type } = await show(SurveyPanel, { links: [1, 3, 5, 7], survey: null });
  const joint = 'Over joint';
  for (const drop of ['1', '11']) {
    await type(joint, drop);
    await press('Next');
  }
  expect(element.textContent).toContain('Over joint 5 (5 to 6)');
  await press('‹ 3');
  expect(element.textContent).toContain('Over joint 3 (3 to 4)');
  for (const drop of ['1.1', '1', '9']) {
    await type(joint, drop);
    await press('Next');
  }
  expect(element.textContent).toContain('0.90 mΩ');
  await press('Keep 4 joints');
  expect(taken).toEqual([
    {
      type: 'joints.surveyed',
      body: {
        ...{ ampere: 10, resolutionMillivolt: 0.1 },
        joints: [
          { link: 1, millivolt: 1 },
          { link: 3, millivolt: 1.1 },
          { link: 5, millivolt: 1 },
          { link: 7, millivolt: 9 },
        ],
      },
    },
  ]);
});

const row = (over: Partial<StockRow>): StockRow => ({
  ...{ moduleId: 'S1', label: 'S1', typeId: profile.moduleType.id, capacityAh: 6, resistanceMilliohm: 27, restDropMillivolt: 5 },
  ...{ ocvVolt: 7.8, bin: 'B2', quarantine: null, reservedBy: null, inJob: null, place: null, ...over },
});

it.each<[string, Partial<StockRow>, RegExp | null]>([
  ['free', {}, null],
  ['reserved for this job', { reservedBy: 3 }, null],
  ['in this pack', { inJob: 3 }, null],
  ['in another pack', { inJob: 4 }, /belongs to the pack of job 4/],
  ['reserved for another', { reservedBy: 4 }, /reserved for job 4/],
  ['in quarantine', { quarantine: 'bulged' }, /in quarantine: bulged/],
  ['of another type', { typeId: 'other', inJob: 3 }, /of another type \(other\)/],
])('says of a module that is %s what speaks against laying it', (_what, over, message) => {
  const why = whyNotLay(row(over), 3, profile);
  if (message) expect(why).toMatch(message);
  else expect(why).toBeNull();
});

it('offers the nearest of the shelf for a module that was dropped, and none that is not free', () => {
  const rows = [
    row({ moduleId: 'S0', capacityAh: 5 }),
    row({ moduleId: 'S1', capacityAh: 5.9 }),
    row({ moduleId: 'S2', capacityAh: 6, reservedBy: 9 }),
    row({ moduleId: 'S3', capacityAh: 6.1, quarantine: 'x' }),
    row({ moduleId: 'X', capacityAh: 6 }),
  ];
  const state = stateOf();
  expect(suggestInstead('X', rows, state, profile, new Set(['X']))).toMatchObject({ moduleId: 'S1', bin: 'B2' });
  expect(suggestInstead('X', rows.slice(2), state, profile, new Set(['X']))).toBeNull();
  expect(whyNotLay(undefined, 3, profile)).toBeNull();
});
