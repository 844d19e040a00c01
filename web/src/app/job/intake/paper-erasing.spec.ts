import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { JobPapers } from '@estuarine/contract';
import type { ShopAct } from '@estuarine/core';
import { JobLog } from '../../transport/job-log.ts';
import { ShopDesk } from '../../stock/shop-desk.ts';
import { PaperErasing } from './paper-erasing.ts';

const NOBODY: JobPapers = { vehicle: null, customer: null, corrected: { vehicle: false, customer: false } };

async function show(papers: JobPapers, intake: object) {
  const acts: ShopAct[] = [];
  TestBed.configureTestingModule({
    providers: [
      { provide: JobLog, useValue: { papers: signal(papers), kept: signal({ state: { intake } }) } },
      { provide: ShopDesk, useValue: { act: (act: ShopAct) => Promise.resolve((acts.push(act), null)) } },
    ],
  });
  const fixture = TestBed.createComponent(PaperErasing);
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  const buttons = (): HTMLButtonElement[] => [...element.querySelectorAll('button')];
  const erase = async (): Promise<void> => {
    const reason = element.querySelector('input');
    if (!reason) throw new Error('no field');
    reason.value = 'By letter.';
    reason.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    for (const button of buttons()) button.click();
    await fixture.whenStable();
  };
  return { acts, element, erase, names: () => buttons().map((b) => b.textContent.trim()) };
}

it('erases a customer who was corrected away, too', async () => {
  const { acts, erase, names } = await show(
    { ...NOBODY, corrected: { vehicle: false, customer: true } },
    { opened: { vehicle: { id: 'v2' }, customer: null }, before: { vehicles: ['v1'], customers: ['c1'] } },
  );
  expect(names()).toEqual(['Erase the customer']);
  await erase();
  expect(acts).toEqual([{ type: 'customer.erased', body: { customerId: 'c1', reason: 'By letter.' } }]);
});

it('says so where nothing is written any more', async () => {
  const { element, names } = await show(NOBODY, { opened: null, before: { vehicles: [], customers: [] } });
  expect(names()).toEqual([]);
  expect(element.textContent).toContain('Nothing is written of them any more.');
});
