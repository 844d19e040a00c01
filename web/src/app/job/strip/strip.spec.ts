import { TestBed } from '@angular/core/testing';
import { balanceLedger, listPlaces, type Movement, type PartBalance } from '@estuarine/core';
import { testProfile } from '../../../test/profile.ts';
import { fitWithin } from '../finding/shrink.ts';
import { PartCard, type LeaveOff, type Move } from './part-card.ts';
import { PartAdd } from './part-add.ts';
import { TrayMap } from './tray-map.ts';
import { VehiclePlan } from './vehicle-plan.ts';

const profile = testProfile();
const IN = { kind: 'inPlace' } as const;
const movement = (partId: string, count: number, change: Partial<Movement> = {}): Movement => ({
  ...{ partId, count, from: IN, to: { kind: 'tray', cell: 'B3' }, condition: 'good', number: 1 },
  ...change,
});
const viewOf = (partId: string, ...movements: Movement[]): PartBalance => {
  const view = balanceLedger(profile.parts, movements).parts.find((b) => b.part.id === partId);
  if (!view) throw new Error(partId);
  return view;
};
const button = (element: HTMLElement, name: RegExp): HTMLButtonElement => {
  const found = [...element.querySelectorAll('button')].find((b) => name.test(b.getAttribute('aria-label') ?? b.textContent));
  if (!found) throw new Error(`no button ${name}`);
  return found;
};

async function card(view: PartBalance, inputs: Record<string, unknown> = {}) {
  const fixture = TestBed.createComponent(PartCard);
  fixture.componentRef.setInput('view', view);
  fixture.componentRef.setInput('cell', 'C2');
  for (const [key, value] of Object.entries(inputs)) fixture.componentRef.setInput(key, value);
  const moves: Move[] = [];
  const left: LeaveOff[] = [];
  fixture.componentInstance.moved.subscribe((m) => moves.push(m));
  fixture.componentInstance.leftOff.subscribe((l) => left.push(l));
  await fixture.whenStable();
  return { fixture, element: fixture.nativeElement as HTMLElement, moves, left };
}

const set = async (
  fixture: { whenStable: () => Promise<unknown> },
  box: HTMLInputElement | HTMLSelectElement | null,
  value: string,
): Promise<void> => {
  if (!box) throw new Error('no field');
  box.value = value;
  box.dispatchEvent(new Event(box instanceof HTMLSelectElement ? 'change' : 'input'));
  await fixture.whenStable();
};

describe('a group of parts', () => {
  it('waits for the pack where it holds the pack, and goes back with its torque once that is in', async () => {
    const off = viewOf('pack-bolt', movement('pack-bolt', 6));
    const waiting = await card(off, { isPackInCar: false });
    expect(waiting.element.textContent).toContain('once the pack is in the car');
    expect(waiting.element.querySelector('.quick')).toBeNull();
    const ready = await card(off, { isPackInCar: true });
    expect(button(ready.element, /^Put back/).textContent).toContain('N·m');
    // what holds no pack waits for nothing
    const other = await card(viewOf('seat-bolt', movement('seat-bolt', 4)), { isPackInCar: false });
    expect(button(other.element, /^Put back 4 seat bolt/)).toBeTruthy();
  });

  it('comes off with one press: bolts to the cell, clips to a bag, a duct stays with its part', async () => {
    for (const [id, to] of [
      ['pack-bolt', { kind: 'tray', cell: 'C2' }],
      ['trim-clip', { kind: 'bag', label: 'lining clip' }],
      ['seat-duct', { kind: 'onPart' }],
    ] as const) {
      const { element, moves } = await card(viewOf(id));
      button(element, /^Take off/).click();
      expect(moves).toMatchObject([{ partId: id, count: viewOf(id).part.count, from: IN, to, condition: 'good' }]);
    }
  });

  it('takes a count, a condition and a spot; nothing without a whole number', async () => {
    const { fixture, element, moves } = await card(viewOf('pack-bolt'), { isOpen: true });
    const [count, condition] = [element.querySelector('input'), element.querySelector('select')];
    await set(fixture, count, '2x');
    expect(button(element.querySelector<HTMLElement>('.more') ?? element, /Take off/).disabled).toBe(true);
    await set(fixture, count, '2');
    if (condition) condition.selectedIndex = 1;
    condition?.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    button(element, /Take off 2, to tray C2/).click();
    expect(moves).toMatchObject([{ count: 2, condition: 'corroded', to: { kind: 'tray', cell: 'C2' } }]);
    button(element, /missing on arrival/).click();
    expect(moves[1]).toMatchObject({ count: 2, to: { kind: 'absent' } });
  });

  it('goes back from where it lies, and new ones go in for what is to order', async () => {
    const view = viewOf('pack-bolt', movement('pack-bolt', 5), movement('pack-bolt', 1, { to: { kind: 'absent' } }));
    const { element, moves } = await card(view, { isOpen: true });
    expect(element.textContent).toContain('1 to order');
    button(element, /^Put back 5/).click();
    button(element, /Put in new/).click();
    expect(moves).toMatchObject([
      { count: 5, from: { kind: 'tray', cell: 'B3' }, to: IN },
      { count: 1, from: { kind: 'new' }, to: IN },
    ]);
  });

  it('offers no broken piece and none of an earlier hand to go back by one press, and never more than is owed', async () => {
    const broken = await card(viewOf('cable-bolt', movement('cable-bolt', 2, { condition: 'broken' })));
    expect([...broken.element.querySelectorAll('button')].some((b) => (b.getAttribute('aria-label') ?? '').startsWith('Put back'))).toBe(
      false,
    );
    const mixed = [movement('cable-bolt', 1, { condition: 'stripped' }), movement('cable-bolt', 1)];
    const { element, moves } = await card(viewOf('cable-bolt', ...mixed));
    button(element, /^Put back 1/).click();
    expect(moves).toMatchObject([{ count: 1, condition: 'good', to: IN }]);
  });

  it('is left off only with a reason, what follows, and the right to sign', async () => {
    const view = viewOf('trim-clip', movement('trim-clip', 3));
    expect((await card(view, { isOpen: true })).element.textContent).toContain('A technician or the lead signs');
    const { fixture, element, left } = await card(view, { isOpen: true, maySign: true });
    const [reason, then] = element.querySelectorAll<HTMLInputElement>('details input');
    expect(button(element, /Sign: left off/).disabled).toBe(true);
    await set(fixture, reason ?? null, 'None in the shop today.');
    await set(fixture, then ?? null, 'order, fit on Friday');
    button(element, /Sign: left off/).click();
    expect(left).toEqual([{ partId: 'trim-clip', count: 3, reason: 'None in the shop today.', followUp: 'order, fit on Friday' }]);
  });

  it('says it when more came off than the profile counts', async () => {
    const { element } = await card(viewOf('pack-bolt', movement('pack-bolt', 6), movement('pack-bolt', 6)));
    expect(element.querySelector('[role=status]')?.textContent).toContain('6 more came off');
  });
});

it('asks what a part found is and where it sits, and proposes none of an earlier hand', async () => {
  const fixture = TestBed.createComponent(PartAdd);
  fixture.componentRef.setInput('stage', 'strip');
  fixture.componentRef.setInput('place', 'boot');
  const added: unknown[] = [];
  fixture.componentInstance.added.subscribe((p) => added.push(p));
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  const submit = async (): Promise<void> => {
    element.querySelector('form')?.dispatchEvent(new Event('submit'));
    await fixture.whenStable();
  };
  await submit();
  expect(element.querySelector('[role=alert]')?.textContent).toContain('what it is and where');
  const [name, where, , count] = element.querySelectorAll<HTMLInputElement>('input.plain');
  await set(fixture, name ?? null, 'lock washer');
  await set(fixture, where ?? null, 'under the hook');
  await set(fixture, count ?? null, '0');
  await submit();
  expect(element.querySelector('[role=alert]')?.textContent).toContain('from 1 to 999');
  await set(fixture, count ?? null, '2');
  const foreign = element.querySelectorAll<HTMLInputElement>('input[type=checkbox]')[1];
  foreign?.click();
  await submit();
  expect(added).toMatchObject([{ name: 'lock washer', place: 'boot', count: 2, isForeign: true, isProposed: false }]);
});

it('the tray warns of look-alikes in one cell and names what lies elsewhere', async () => {
  const fixture = TestBed.createComponent(TrayMap);
  const movements = [movement('hv-cover-bolt', 3), movement('cable-bolt', 2), movement('seat-duct', 1, { to: { kind: 'onPart' } })];
  fixture.componentRef.setInput('balance', balanceLedger(profile.parts, movements));
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  expect(element.querySelector('.warning')?.textContent).toContain('B3 holds HV cover bolt M6 and HV cable bolt M6');
  expect(button(element, /^Cell B3/).getAttribute('aria-label')).toBe('Cell B3, 3 HV cover bolt M6, 2 HV cable bolt M6');
  expect(element.textContent).toContain('on its part');
});

it('the plan says of each zone what is in and off, and draws every group', async () => {
  const fixture = TestBed.createComponent(VehiclePlan);
  const places = listPlaces(profile.zones, balanceLedger(profile.parts, [movement('seat-bolt', 4)]));
  fixture.componentRef.setInput('places', places);
  fixture.componentRef.setInput('selected', 'bay');
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  expect(element.querySelector('svg')?.getAttribute('aria-label')).toContain('rear seat: 4 in, 4 off');
  const groups = places.reduce((n, p) => n + p.parts.length, 0);
  expect(element.querySelectorAll('.dot')).toHaveLength(groups);
  expect(element.querySelectorAll('.dot.is-off')).toHaveLength(1);
});

it('a photograph keeps its shape within the longest side and is never made larger', () => {
  expect(fitWithin(4000, 3000, 2048)).toEqual({ width: 2048, height: 1536 });
  expect(fitWithin(3000, 4000, 2048)).toEqual({ width: 1536, height: 2048 });
  expect(fitWithin(640, 480, 2048)).toEqual({ width: 640, height: 480 });
  expect(fitWithin(20000, 1, 2048)).toEqual({ width: 2048, height: 1 });
});
