import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { gearSchema, profileSchema } from '@estuarine/core';
import * as z from 'zod';
import { testProfile } from '../../../test/profile.ts';
import type { JsonSchema } from './schema.ts';
import { SchemaField, type FieldFault } from './schema-field.ts';

type Fixture = ComponentFixture<SchemaField>;

async function show(
  schema: JsonSchema,
  value: unknown,
  faults: readonly FieldFault[] = [],
): Promise<{ fixture: Fixture; element: HTMLElement }> {
  const fixture = TestBed.createComponent(SchemaField);
  for (const [name, input] of Object.entries({ schema, value, faults })) fixture.componentRef.setInput(name, input);
  await fixture.whenStable();
  return { fixture, element: fixture.nativeElement as HTMLElement };
}

/** The control under a label, by the words of the label. */
function control(element: HTMLElement, label: string): HTMLInputElement {
  const found = [...element.querySelectorAll('label')].find((l) => l.querySelector('span')?.textContent?.trim() === label);
  const input = found?.querySelector<HTMLInputElement>('input, select, textarea');
  if (!input) throw new Error(`no field "${label}"`);
  return input;
}

async function type(fixture: Fixture, input: HTMLInputElement, text: string): Promise<void> {
  input.value = text;
  input.dispatchEvent(new Event(input.tagName === 'SELECT' ? 'change' : 'input'));
  await fixture.whenStable();
}

const number: JsonSchema = { type: 'number' };
const object: JsonSchema = {
  type: 'object',
  properties: { limitVolt: number, resistorOhm: number, moduleVolts: { type: 'array', items: number } },
  required: ['limitVolt', 'moduleVolts'],
};

describe('a form made of a schema', () => {
  it('shows each field with its unit and writes numbers as numbers, a comma like a point', async () => {
    const { fixture, element } = await show(object, { limitVolt: 30, moduleVolts: [7.8, 7.9] });
    await type(fixture, control(element, 'limit, V'), '28,5');
    expect(fixture.componentInstance.value()).toEqual({ limitVolt: 28.5, moduleVolts: [7.8, 7.9] });
    await type(fixture, control(element, 'module, V'), '7.81 7,82\n7.83');
    expect(fixture.componentInstance.value()).toMatchObject({ moduleVolts: [7.81, 7.82, 7.83] });
  });

  it('keeps the last value that was whole while something unreadable stands in the field, and says why', async () => {
    const { fixture, element } = await show(object, { limitVolt: 30, moduleVolts: [] });
    await type(fixture, control(element, 'limit, V'), '1.234,5');
    expect(fixture.componentInstance.value()).toMatchObject({ limitVolt: 30 });
    expect(element.querySelector('[role=alert]')?.textContent).toContain('groups its thousands');
    expect(control(element, 'limit, V').value).toBe('1.234,5');
  });

  it('leaves an optional field out until it is asked for, and takes it away again', async () => {
    const { fixture, element } = await show(object, { limitVolt: 30, moduleVolts: [] });
    const there = element.querySelector<HTMLInputElement>('.present input');
    expect(element.querySelector('.present')?.textContent).toContain('resistor: not given');
    there?.click();
    await fixture.whenStable();
    await type(fixture, control(element, 'resistor, Ω'), '50000');
    expect(fixture.componentInstance.value()).toMatchObject({ resistorOhm: 50_000 });
    element.querySelector<HTMLInputElement>('.present input')?.click();
    await fixture.whenStable();
    expect(fixture.componentInstance.value()).toEqual({ limitVolt: 30, moduleVolts: [] });
  });

  it('says a fault at the field it belongs to, however deep', async () => {
    const list: JsonSchema = { type: 'object', properties: { rows: { type: 'array', items: object } }, required: ['rows'] };
    const rows = [{ limitVolt: 1, moduleVolts: [] }, { limitVolt: 2, moduleVolts: [] }]; // prettier-ignore
    const { element } = await show(list, { rows }, [{ path: ['rows', 1, 'limitVolt'], message: 'too low' }]);
    const items = element.querySelectorAll('.item');
    expect(items[0]?.textContent).not.toContain('too low');
    expect(items[1]?.querySelector('[role=alert]')?.textContent).toBe('too low');
  });

  it('adds, moves and takes away rows of a list', async () => {
    const list: JsonSchema = { type: 'object', properties: { names: { type: 'array', items: { type: 'string' } } }, required: ['names'] };
    const { fixture, element } = await show(list, { names: ['a', 'b'] });
    const press = async (name: string | RegExp): Promise<void> => {
      const button = [...element.querySelectorAll('button')].find((b) =>
        `${b.getAttribute('aria-label') ?? ''}${b.textContent ?? ''}`.match(name),
      );
      button?.click();
      await fixture.whenStable();
    };
    await press('Move 2 up');
    expect(fixture.componentInstance.value()).toEqual({ names: ['b', 'a'] });
    await press('Add one');
    expect(fixture.componentInstance.value()).toEqual({ names: ['b', 'a', 'a'] });
    await press('Take 1 away');
    expect(fixture.componentInstance.value()).toEqual({ names: ['a', 'a'] });
  });

  it('changes the kind of a thing and takes along what both kinds have', async () => {
    const schema = z.toJSONSchema(gearSchema, { io: 'input' }) as JsonSchema;
    const { fixture, element } = await show(schema, {
      kind: 'mask',
      gearId: 'X-1',
      label: 'X-1',
      standard: 'FFP2',
      expiresOn: '2030-01-01',
    });
    await type(fixture, control(element, 'kind'), 'provingUnit');
    expect(fixture.componentInstance.value()).toMatchObject({ kind: 'provingUnit', gearId: 'X-1', label: 'X-1', outputVolt: null });
    expect(fixture.componentInstance.value()).not.toHaveProperty('expiresOn');
    await type(fixture, control(element, 'output, V'), '240');
    await type(fixture, control(element, 'checked on'), '2026-10-01');
    expect(gearSchema.safeParse(fixture.componentInstance.value()).success).toBe(true);
  });

  it('holds a whole profile and gives it back unchanged but for what was typed', async () => {
    const profile = testProfile();
    const { fixture, element } = await show(z.toJSONSchema(profileSchema, { io: 'input' }) as JsonSchema, profile);
    await type(fixture, control(element, 'module count'), '29');
    expect(fixture.componentInstance.value()).toEqual({ ...profile, moduleCount: 29 });
  });
});
