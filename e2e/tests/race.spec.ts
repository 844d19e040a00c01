import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { expectAllKept, openJob, signIn, startSweep, type } from './bench-desk.ts';

/** A tested job of these readings with its schools computed; both packs being alike, both want the same modules of the shelf. */
async function bringToMatch(page: Page, label: string): Promise<void> {
  const job = await openJob(page, label);
  await page.goto(`${job}/test`);
  await page.getByRole('button', { name: 'Import a file' }).click();
  await page.getByLabel(/Table file/).setInputFiles(path.resolve(import.meta.dirname, '../../docs/samples/sweep-plain.csv'));
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByLabel('Verdicts so far')).toContainText('2 reject');
  await startSweep(page, 'Capacity');
  for (let place = 1; place <= 28; place++) await type(page, (5.6 + (place % 5) / 100).toFixed(2));
  await expect(page.getByText('28 of 28 taken')).toBeVisible();
  await expectAllKept(page);
  await page.goto(`${job}/match`);
  await page.getByRole('button', { name: 'Compute the schools' }).click();
  await expect(page.getByRole('button', { name: 'Choose this' })).toHaveCount(4);
}

test('two jobs want the same module: the first has it, the second is told and goes on', async ({ browser }) => {
  const base = process.env.ESTUARINE_URL ?? '';
  const [one, two] = await Promise.all([browser.newContext({ baseURL: base }), browser.newContext({ baseURL: base })]);
  const [page, other] = [await one.newPage(), await two.newPage()];
  await signIn(page, 'om');
  await signIn(other, 'ts');
  await bringToMatch(page, `RA-${Date.now()}`);
  await bringToMatch(other, `RB-${Date.now()}`);

  await page.getByRole('button', { name: 'Choose this' }).nth(1).click();
  await expect(page.getByRole('heading', { name: 'Spot repair in place is chosen' })).toBeVisible();
  await other.getByRole('button', { name: 'Choose this' }).nth(1).click();
  const told = other.getByRole('alert').filter({ hasText: 'Not taken by the server' });
  await expect(told).toContainText(/was taken by job \d+ meanwhile/);
  await expect(other.getByRole('status').filter({ hasText: '1 not taken' })).toBeVisible();

  await other.getByRole('button', { name: 'Seen, go on' }).click();
  await expectAllKept(other);
  // what was computed over the shelf as it was is offered no more, but for the pack that needs none of it
  await expect(other.getByRole('button', { name: 'Choose this' })).toHaveCount(1);
  await other.getByRole('button', { name: 'Compute the schools' }).click();
  await expect(other.getByRole('button', { name: 'Choose this' })).toHaveCount(4);
  await other.getByRole('button', { name: 'Choose this' }).nth(1).click();
  await expect(other.getByRole('heading', { name: 'Spot repair in place is chosen' })).toBeVisible();
  await page.getByRole('button', { name: 'Withdraw the plan' }).click();
  await expect(page.getByRole('button', { name: 'Compute the schools' })).toBeVisible();
  await Promise.all([one.close(), two.close()]);
});
