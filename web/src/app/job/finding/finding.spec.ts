import { TestBed } from '@angular/core/testing';
import { sayPin, type Act } from '@estuarine/core';
import { testProfile } from '../../../test/profile.ts';
import { FindingForm } from './finding-form.ts';

const profile = testProfile();

async function form(stage: string, pin: unknown = null) {
  const fixture = TestBed.createComponent(FindingForm);
  fixture.componentRef.setInput('profile', profile);
  fixture.componentRef.setInput('stage', stage);
  fixture.componentRef.setInput('pin', pin);
  const noted: Extract<Act, { type: 'finding.noted' }>['body'][] = [];
  fixture.componentInstance.noted.subscribe((body) => noted.push(body));
  await fixture.whenStable();
  return { fixture, element: fixture.nativeElement as HTMLElement, noted };
}

describe('a finding', () => {
  it('is noted where the list says: zones first while stripping, layers first once open', async () => {
    const strip = await form('strip');
    strip.element.querySelector('form')?.dispatchEvent(new Event('submit'));
    expect(strip.noted).toMatchObject([{ stage: 'strip', kind: 'corrosion', follow: 'clean', pin: { on: 'zone', zone: 'rear-seat' } }]);
    const open = await form('open');
    open.element.querySelector('form')?.dispatchEvent(new Event('submit'));
    expect(open.noted).toMatchObject([{ stage: 'open', pin: { on: 'layer', layer: 'case-lid' } }]);
  });

  it('keeps the pin that was set, what is seen, how bad it is and what follows', async () => {
    const { fixture, element, noted } = await form('open', { on: 'module', place: 14 });
    expect(element.textContent).toContain('module 14');
    const [kind, severity, follow] = element.querySelectorAll('select');
    for (const [box, index] of [
      [kind, 3],
      [severity, 2],
      [follow, 4],
    ] as const) {
      if (box) box.selectedIndex = index;
      box?.dispatchEvent(new Event('change'));
    }
    element.querySelector<HTMLInputElement>('input[type=checkbox]')?.click();
    const note = element.querySelector<HTMLInputElement>('input.plain');
    if (note) note.value = ' Sides stand out. ';
    note?.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    element.querySelector('form')?.dispatchEvent(new Event('submit'));
    await fixture.whenStable();
    expect(noted).toEqual([
      {
        ...{ stage: 'open', kind: 'bulge', severity: 'severe', follow: 'order', isOnArrival: true },
        ...{ pin: { on: 'module', place: 14 }, note: 'Sides stand out.' },
      },
    ]);
    expect(note?.value).toBe('');
  });

  it('is said by its place in the words of the profile', () => {
    expect(sayPin({ on: 'zone', zone: 'boot' }, profile)).toBe('boot floor and linings');
    expect(sayPin({ on: 'layer', layer: 'vent-bars' }, profile)).toBe('vent side frame');
    expect(sayPin({ on: 'link', link: 7 }, profile)).toBe('link 7');
    expect(sayPin({ on: 'photo', photoId: 'p', x: 0, y: 0 }, profile)).toBe('on a photograph');
  });
});
