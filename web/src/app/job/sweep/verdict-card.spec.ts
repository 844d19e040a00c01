import { TestBed } from '@angular/core/testing';
import type { ModuleRecord } from '@estuarine/core';
import { VerdictCard } from './verdict-card.ts';

const LATELY = { saidAt: 0, keptAt: 0, device: null };
const record: ModuleRecord = {
  place: 17,
  moduleId: 'm17',
  verdict: 'reject',
  figures: { restDropMillivolt: 312 },
  restingVolt: 7.5,
  milliohm: null,
  restDropPerHour: 22.3,
  reasons: [
    {
      ...{
        figure: 'restDropMillivolt',
        rule: 'crowd',
        verdict: 'reject',
        value: 312,
        median: 21,
        scale: 4.5,
        modifiedZ: 64.7,
        limit: 3.5,
        unit: 'mV',
      },
      sentence: 'At rest it lost 312 mV; the others 21 mV. Modified z 64.7, limit 3.5.',
    },
  ],
  notes: [],
  doubts: [{ kind: 'repeatedValue', places: [16, 17, 18], sentence: 'Modules 16 to 18 all read 7.5. Was one value kept more than once?' }],
  two: [
    {
      ...{ sweepId: 's', quantity: 'restVolt' },
      readings: [
        { commandId: 'a', value: 7.5, by: 'om', number: 4, place: 17, ...LATELY },
        { commandId: 'b', value: 7.8, by: 'ts', number: 5, place: 17, ...LATELY },
      ],
    },
  ],
};

describe('the verdict of a module', () => {
  it('says its sentence, its doubts and its numbers, and lets one of two readings be chosen', async () => {
    const fixture = TestBed.createComponent(VerdictCard);
    const chosen: unknown[] = [];
    fixture.componentInstance.choose.subscribe((c) => chosen.push(c));
    fixture.componentRef.setInput('record', record);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    expect(element.textContent).toContain('Module 17: reject.');
    expect(element.textContent).toContain('At rest it lost 312 mV');
    expect(element.textContent).toContain('Was one value kept more than once?');
    expect(element.querySelector('details')?.textContent).toContain('median 21.000');
    const buttons = [...element.querySelectorAll('button')];
    expect(buttons.map((b) => b.textContent.trim())).toEqual(['Count 7.5 V by OM', 'Count 7.8 V by TS']);
    buttons[1]?.click();
    expect(chosen).toEqual([{ sweepId: 's', quantity: 'restVolt', commandId: 'b' }]);
  });
});
