import { TestBed } from '@angular/core/testing';
import { ChoiceField, choicesOf } from './choice-field.ts';
import { ListPage } from './list-page.ts';
import { TextField } from './text-field.ts';

async function show<T>(component: new () => T, inputs: object) {
  const fixture = TestBed.createComponent(component);
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  await fixture.whenStable();
  return { fixture, element: fixture.nativeElement as HTMLElement };
}

describe('a labelled text', () => {
  it('is one line or more, named by its label, and hands on what is typed', async () => {
    const { fixture, element } = await show(TextField, { label: 'Plate', value: 'TI 1', most: 20 });
    const input = element.querySelector('input');
    if (!input) throw new Error('no line');
    expect(element.querySelector('label')?.htmlFor).toBe(input.id);
    expect([input.value, input.maxLength]).toEqual(['TI 1', 20]);
    input.value = 'TI 22';
    input.dispatchEvent(new Event('input'));
    expect(fixture.componentInstance.value()).toBe('TI 22');
    fixture.componentRef.setInput('rows', 3);
    await fixture.whenStable();
    const area = element.querySelector('textarea');
    expect(element.querySelector('input')).toBeNull();
    expect([area?.rows, area?.value, area?.id]).toEqual([3, 'TI 22', input.id]);
  });

  it('is empty again where it was typed into and emptied before the screen was drawn', async () => {
    const { fixture, element } = await show(TextField, { label: 'Torque', value: '' });
    const input = element.querySelector('input');
    if (!input) throw new Error('no line');
    input.value = '5.4';
    input.dispatchEvent(new Event('input'));
    fixture.componentInstance.value.set('');
    await fixture.whenStable();
    expect(input.value).toBe('');
  });

  it('says at the field what is wrong, and no two fields have one name', async () => {
    const { element } = await show(TextField, { label: 'Odometer', value: 'x', fault: 'A whole number.' });
    expect(element.querySelector('[role=alert]')?.textContent).toBe('A whole number.');
    const other = await show(TextField, { label: 'Odometer', value: '' });
    expect(other.element.querySelector('[role=alert]')).toBeNull();
    expect(other.element.querySelector('input')?.id).not.toBe(element.querySelector('input')?.id);
  });
});

describe('a labelled choice', () => {
  it('shows what is chosen and hands on another, in the order of its names', async () => {
    const choices = choicesOf({ open: 'open jobs', closed: 'closed jobs' });
    const { fixture, element } = await show(ChoiceField<'open' | 'closed'>, { label: 'Show', choices, value: 'closed' });
    const select = element.querySelector('select');
    if (!select) throw new Error('no choice');
    expect([...select.options].map((o) => o.textContent.trim())).toEqual(['open jobs', 'closed jobs']);
    expect(select.selectedIndex).toBe(1);
    select.selectedIndex = 0;
    select.dispatchEvent(new Event('change'));
    expect(fixture.componentInstance.value()).toBe('open');
  });
});

describe('a page of a list', () => {
  it.each([
    ['loading', 'Fetching the gear…', 'status', 0],
    ['fresh', '', null, 0],
    ['seen', 'It may have changed since.', 'status', 1],
    ['failed', 'This device has not seen the gear before.', 'alert', 1],
  ] as const)('that is %s says so, and can be asked for again where that helps', async (state, words, role, buttons) => {
    const { fixture, element } = await show(ListPage, { heading: 'Gear', what: 'the gear', state });
    let tries = 0;
    fixture.componentInstance.retry.subscribe(() => tries++);
    expect(element.querySelector('h1')?.textContent).toBe('Gear');
    expect(element.querySelector('[role]')?.getAttribute('role') ?? null).toBe(role);
    expect(element.textContent).toContain(words);
    const all = element.querySelectorAll('button');
    expect(all).toHaveLength(buttons);
    all[0]?.click();
    expect(tries).toBe(buttons);
  });
});
