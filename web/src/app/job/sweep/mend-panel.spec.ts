import { TestBed } from '@angular/core/testing';
import type { Act, ProposedMend } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { MendPanel } from './mend-panel.ts';

const wayOf = (sweepId: string, kind: ProposedMend['kind'], anew: number[]): ProposedMend => ({
  kind,
  sentence: 'From module 2 on the readings fit the next module better than their own.',
  rows: [
    { place: 2, before: 7.81, after: null },
    { place: 3, before: null, after: 7.81 },
  ],
  act: { type: 'readings.moved', body: { sweepId, quantity: 'restVolt', moves: [{ commandId: 'c', from: 2, to: 3 }], anew } },
});

it('shows before and after, lets the other row be the one at fault, mends in one press and leads to what is read anew', () => {
  const acts: Act[] = [];
  const read: number[] = [];
  TestBed.configureTestingModule({ providers: [{ provide: JobLog, useValue: { act: (act: Act) => Promise.resolve(acts.push(act)) } }] });
  const fixture = TestBed.createComponent(MendPanel);
  fixture.componentRef.setInput('ways', [wayOf('r', 'rest', [2]), wayOf('o', 'openCircuit', [3])]);
  fixture.componentInstance.toRead.subscribe((place) => read.push(place));
  fixture.detectChanges();
  const page = fixture.nativeElement as HTMLElement;
  const press = (text: string): void => {
    [...page.querySelectorAll('button')].find((b) => b.textContent?.includes(text))?.click();
    fixture.detectChanges();
  };
  const cells = [...page.querySelectorAll('td')].map((c) => c.textContent?.trim());
  expect(cells).toEqual(['7.810', 'not read', 'read anew', '7.810']);
  press('Move the row, read module 2 anew');
  expect([acts.map((a) => (a.body as { sweepId: string }).sweepId), read]).toEqual([['r'], [2]]);
  press('Open circuit');
  press('Move the row, read module 3 anew');
  expect([acts.map((a) => (a.body as { sweepId: string }).sweepId), read]).toEqual([
    ['r', 'o'],
    [2, 3],
  ]);
});
