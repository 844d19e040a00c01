import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { InstrumentRow } from '@estuarine/contract';
import {
  findIsolation,
  fold,
  gearPolicySchema,
  gearSchema,
  isolationPolicySchema,
  plugWords,
  suggestGear,
  type Act,
  type Fact,
  type JobEvent,
  type ProofEntry,
} from '@estuarine/core';
import { eventsOf } from '../../../test/job.ts';
import { testProfile } from '../../../test/profile.ts';
import { Api, type Reply } from '../../transport/api.ts';
import { ProofPanel } from './proof-panel.ts';
import { StepList, type StepAct } from './step-list.ts';

const profile = testProfile();
const policy = isolationPolicySchema.parse({});
const START = Date.parse('2026-05-04T08:00:00Z');
const MINUTE = 60_000;
const GEAR = [
  { kind: 'gloves', gearId: 'G-07', label: 'G-07', gloveClass: '0', size: '10', testedOn: '2026-03-01', issuedOn: '2026-03-05' },
  { kind: 'gloves', gearId: 'G-03', label: 'G-03', gloveClass: '0', size: '9', testedOn: '2025-03-01', issuedOn: '2025-03-05' },
  { kind: 'meter', gearId: 'M-02', label: 'M-02', category: 'III', categoryVolt: 1000, resolutionVolt: 0.1, calibratedOn: '2026-01-01' },
].map((g) => gearSchema.parse(g));
const suggest = (use: 'gloves' | 'meter' | 'knownSource') => suggestGear(GEAR, use, 269, gearPolicySchema.parse({}), '2026-05-04');

/** A job of these acts, one a second. */
function jobOf(...acts: Act[]): JobEvent[] {
  return eventsOf(profile, acts, (i) => new Date(START + i * 1000).toISOString());
}
const fact = (f: Fact): Act => ({ type: 'fact.stated', body: { stage: 'isolate', fact: f } });
const isolationOf = (events: readonly JobEvent[], now: number) => findIsolation(fold(profile, events), profile, policy, now);

async function show<T>(component: new () => T, inputs: object): Promise<{ fixture: ComponentFixture<T>; element: HTMLElement }> {
  const fixture = TestBed.createComponent(component);
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  await fixture.whenStable();
  return { fixture, element: fixture.nativeElement as HTMLElement };
}

function button(element: HTMLElement, name: string): HTMLButtonElement {
  const found = [...element.querySelectorAll('button')].find((b) => b.textContent?.trim().startsWith(name));
  if (!found) throw new Error(`no button "${name}"`);
  return found;
}

describe('the steps', () => {
  async function steps(events: readonly JobEvent[], now: number, role: 'technician' | 'lead' = 'technician') {
    const { steps: list, nextId, wait } = isolationOf(events, now);
    const more = { plugKind: profile.plug.kind, plug: plugWords(profile), hasParking: false, gloves: suggest('gloves'), role };
    const shown = await show(StepList, { steps: list, nextId, wait, now, ...more });
    const taken: StepAct[] = [];
    shown.fixture.componentInstance.taken.subscribe((act) => taken.push(act));
    return { ...shown, taken };
  }

  it('open the next one by itself, and state where the key is kept', async () => {
    const { fixture, element, taken } = await steps(jobOf(), START);
    expect(element.querySelector('li.is-next .title')?.textContent).toContain('key out and away');
    const box = element.querySelector<HTMLInputElement>('input[aria-label="Where the key is kept"]');
    if (!box) throw new Error('no box');
    box.value = ' lock box 2 ';
    box.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    button(element, 'Away, there').click();
    expect(taken).toEqual([{ kind: 'fact', fact: { kind: 'key', isAway: true, custody: 'lock box 2' } }]);
  });

  it('let gloves be taken only in date and air-tested, and say why another pair cannot', async () => {
    const { fixture, element, taken } = await steps(jobOf(fact({ kind: 'key', isAway: true })), START + 5000);
    const refused = [...element.querySelectorAll('label')].find((l) => l.textContent?.includes('G-03'));
    expect(refused?.textContent).toContain('electrical test ran out');
    expect(refused?.querySelector('input')?.disabled).toBe(true);
    await fixture.whenStable();
    // the test is said by the press itself, and nothing else takes a pair
    expect(
      [...element.querySelectorAll('button')].filter((b) => b.textContent?.includes('G-07')).map((b) => b.textContent?.trim()),
    ).toEqual(['Air test passed just now: take G-07']);
    button(element, 'Air test passed just now: take G-07').click();
    expect(taken).toEqual([{ kind: 'act', act: { type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } } }]);
  });

  it('count the wait down by the time they are given, and offer no way to cut it', async () => {
    const events = jobOf(
      fact({ kind: 'key', isAway: true }),
      { type: 'gear.picked', body: { use: 'gloves', gearId: 'G-07', isAirTested: true } },
      fact({ kind: 'twelveVolt', isOff: true }),
      fact({ kind: 'plug', isIn: false }),
    );
    const { fixture, element } = await steps(events, START + 4000 + 3 * MINUTE);
    expect(element.querySelector('[role=timer]')?.textContent).toBe('7:00');
    fixture.componentRef.setInput('now', START + 4000 + 9 * MINUTE + 59_000);
    await fixture.whenStable();
    expect(element.querySelector('[role=timer]')?.textContent).toBe('0:01');
    expect([...element.querySelectorAll('button')].map((b) => b.textContent?.trim())).toContain('Lengthen the wait');
    expect(element.textContent).not.toMatch(/shorten|skip/i);
  });

  it('offer an override to the lead alone, and only where one can be made', async () => {
    expect((await steps(jobOf(), START)).element.textContent).not.toContain('Go on without it');
    const { fixture, element, taken } = await steps(jobOf(), START, 'lead');
    const reason = element.querySelector<HTMLInputElement>('input[aria-label^="Reason to go on without"]');
    expect(button(element, 'Override').disabled).toBe(true);
    if (!reason) throw new Error('no reason');
    reason.value = 'The key is broken off.';
    reason.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    button(element, 'Override').click();
    expect(taken).toEqual([{ kind: 'act', act: { type: 'step.overridden', body: { stepId: 'key', reason: 'The key is broken off.' } } }]);
  });
});

describe('the proof', () => {
  const VOLTS: Record<ProofEntry, number> = {
    knownBefore: 12.4,
    plusMinus: 0.2,
    minusPlus: 0.2,
    plusChassis: 0,
    minusChassis: 0,
    knownAfter: 12.4,
  };
  const started: Act = {
    type: 'proof.started',
    body: {
      ...{ meterId: 'M-02', source: 'battery', sourceId: null, point: { at: 'carSide', label: 'posts' } },
      ...{ known: { lowVolt: 9, highVolt: 16 }, limitVolt: 30, resolutionVolt: 0.1 },
    },
  };
  const instrument: InstrumentRow = {
    ...{
      instrumentId: 'sim',
      name: 'Bench meter (simulated)',
      kind: 'meter',
      host: '127.0.0.1',
      port: 5,
      gearId: 'M-02',
      isSimulated: true,
    },
  };
  const isDown = [fact({ kind: 'key', isAway: true }), fact({ kind: 'twelveVolt', isOff: true }), fact({ kind: 'plug', isIn: false })];
  const reads = (proofId: string): Act[] =>
    Object.entries(VOLTS).map(([entry, volt]) => ({
      type: 'proof.read',
      body: { proofId, entry: entry as ProofEntry, volt, isFromMeter: false },
    }));

  async function panel(
    events: readonly JobEvent[],
    now: number,
    measured: Reply<unknown> | Promise<Reply<unknown>> = { kind: 'unreachable' },
    role = 'technician',
  ) {
    const api = {
      get: () => Promise.resolve({ kind: 'answer', value: { instruments: [instrument] }, position: null }),
      post: () => Promise.resolve(measured),
    };
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
    const shown = await show(ProofPanel, {
      ...{ isolation: isolationOf(events, now), now, points: [{ at: 'carSide', label: 'posts' }], jobId: 'j', policy },
      ...{ meters: suggest('meter'), units: suggest('knownSource'), person: { id: 'om', name: 'OM', role } },
    });
    await shown.fixture.whenStable();
    const acts: Act[] = [];
    shown.fixture.componentInstance.act.subscribe((act) => acts.push(act));
    return { ...shown, acts };
  }

  it('begins with a meter in date and the battery as known source', async () => {
    const { element, acts } = await panel(jobOf(), START);
    button(element, 'Begin with the known source').click();
    expect(acts).toMatchObject([
      { type: 'proof.started', body: { meterId: 'M-02', source: 'battery', known: { lowVolt: 9, highVolt: 16 } } },
    ]);
  });

  it('stays at the point that was picked while acts of others come in', async () => {
    const { fixture, element } = await panel(jobOf(), START);
    const points = () => [
      { at: 'carSide', label: 'posts' },
      { at: 'moduleSide', label: 'module side' },
    ];
    fixture.componentRef.setInput('points', points());
    await fixture.whenStable();
    button(element, 'module side').click();
    fixture.componentRef.setInput('points', points());
    await fixture.whenStable();
    expect(button(element, 'module side').getAttribute('aria-pressed')).toBe('true');
  });

  it('keeps what is typed for the entry that is next, a comma like a point, and nothing on an empty Enter', async () => {
    const { fixture, element, acts } = await panel(jobOf(started), START + 2000);
    const box = element.querySelector<HTMLInputElement>('.entry input');
    const enter = async (text: string): Promise<void> => {
      if (box) box.value = text;
      box?.dispatchEvent(new Event('input'));
      element.querySelector('form')?.dispatchEvent(new Event('submit'));
      await fixture.whenStable();
    };
    await enter('');
    await enter('1.234,5');
    expect(element.querySelector('.fault')?.textContent).toContain('groups its thousands');
    await enter('12,4');
    expect(acts).toEqual([{ type: 'proof.read', body: { proofId: 'c2', entry: 'knownBefore', volt: 12.4, isFromMeter: false } }]);
  });

  it('puts values that are typed faster than they show to one entry after the other, and to none twice', async () => {
    const { fixture, element, acts } = await panel(jobOf(started), START + 2000);
    const box = element.querySelector<HTMLInputElement>('.entry input');
    const type = (text: string): void => {
      if (box) box.value = text;
      box?.dispatchEvent(new Event('input'));
      element.querySelector('form')?.dispatchEvent(new Event('submit'));
    };
    for (const text of ['12.4', '0.1', '0.3']) {
      type(text);
      // emptied before the screen is drawn again: the next is not written behind it
      expect(box?.value).toBe('');
    }
    const entries = (): unknown[] => acts.map((a) => (a.type === 'proof.read' ? a.body.entry : a.type));
    expect(entries()).toEqual(['knownBefore', 'plusMinus', 'minusPlus']);
    // the first of them shows: the fourth goes on behind the third
    fixture.componentRef.setInput('isolation', isolationOf(jobOf(started, ...reads('c2').slice(0, 1)), START + 5000));
    await fixture.whenStable();
    type('0');
    expect(entries().at(-1)).toBe('plusChassis');
    // a reading that was taken back is asked for again
    const left = reads('c2').filter((a) => a.type === 'proof.read' && a.body.entry !== 'minusPlus');
    fixture.componentRef.setInput('isolation', isolationOf(jobOf(started, ...left), START + 9000));
    await fixture.whenStable();
    type('0.2');
    expect(entries().at(-1)).toBe('minusPlus');
  });

  it('takes a reading from the meter, says that it is simulated, and tells when there is none', async () => {
    const answer = { kind: 'answer', value: { value: 12.6, unit: 'V', identity: 'x', isSimulated: true }, position: null } as const;
    const good = await panel(jobOf(started), START + 2000, answer);
    button(good.element, 'Take from the simulated meter').click();
    await good.fixture.whenStable();
    expect(good.acts).toMatchObject([{ type: 'proof.read', body: { volt: 12.6, isFromMeter: true } }]);
    TestBed.resetTestingModule();
    const bad = await panel(jobOf(started), START + 2000);
    button(bad.element, 'Take from the simulated meter').click();
    await bad.fixture.whenStable();
    expect(bad.element.querySelector('.fault')?.textContent).toContain('Type the reading');
    expect(bad.acts).toEqual([]);
  });

  it('records a reading for the entry it was asked for, whatever is chosen while the meter measures', async () => {
    let answer: (reply: Reply<unknown>) => void = () => undefined;
    const { fixture, element, acts } = await panel(jobOf(started), START + 2000, new Promise((resolve) => (answer = resolve)));
    button(element, 'Take from the simulated meter').click();
    await Promise.resolve();
    fixture.detectChanges();
    expect(button(element, 'Take from the simulated meter').disabled).toBe(true);
    button(element, 'plus to chassis').click();
    answer({ kind: 'answer', value: { value: 12.5, unit: 'V', identity: 'x', isSimulated: true }, position: null });
    await fixture.whenStable();
    expect(acts).toMatchObject([{ type: 'proof.read', body: { entry: 'knownBefore', volt: 12.5 } }]);
  });

  it('leaves the entry that was picked when time goes on or a reading of another arrives', async () => {
    const { fixture, element, acts } = await panel(jobOf(started), START + 2000);
    button(element, 'plus to chassis').click();
    fixture.componentRef.setInput('isolation', isolationOf(jobOf(started, ...reads('c2').slice(0, 1)), START + 5000));
    fixture.componentRef.setInput('meters', suggest('meter'));
    await fixture.whenStable();
    expect(button(element, 'plus to chassis').getAttribute('aria-pressed')).toBe('true');
    const box = element.querySelector<HTMLInputElement>('.entry input');
    if (box) box.value = '0.1';
    box?.dispatchEvent(new Event('input'));
    element.querySelector('form')?.dispatchEvent(new Event('submit'));
    await fixture.whenStable();
    expect(acts).toMatchObject([{ type: 'proof.read', body: { entry: 'plusChassis', volt: 0.1 } }]);
    expect(button(element, 'plus to minus').getAttribute('aria-pressed')).toBe('true');
  });

  it('lists what keeps it from being signed, and lets nobody sign meanwhile', async () => {
    const events = jobOf(...isDown, started, ...reads('c5'));
    const { element } = await panel(events, START + 20_000);
    expect(element.textContent).toContain('Read before the wait for the capacitors was over.');
    expect(button(element, 'Sign: dead').disabled).toBe(true);
  });

  it('is asked to be signed by an apprentice, who cannot sign', async () => {
    const events = jobOf(...isDown, started, ...reads('c5')).map((e) =>
      e.number <= 4
        ? e
        : {
            ...e,
            at: new Date(Date.parse(e.at) + 11 * MINUTE).toISOString(),
            deviceAt: new Date(Date.parse(e.at) + 11 * MINUTE).toISOString(),
          },
    );
    const { element, acts } = await panel(events, START + 12 * MINUTE, { kind: 'unreachable' }, 'apprentice');
    expect(element.textContent).toContain('Dead, not signed yet.');
    expect(element.querySelector('.blockers')?.textContent).toContain('Gloves picked');
    expect(element.textContent).not.toContain('Sign: dead');
    button(element, 'Ask a qualified person to sign').click();
    expect(acts).toEqual([{ type: 'cosign.asked', body: { proofId: 'c5' } }]);
  });
});
