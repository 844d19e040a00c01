/** The cooling from findings to the next look: a fouled path, a fan that fails, a filter job. */
import { expect, test, type Page } from '@playwright/test';
import { expectAllKept, signIn } from './bench-desk.ts';

const shut = (page: Page, percent: number) =>
  page
    .getByRole('group', { name: /^How much of it is shut/ })
    .getByRole('button', { name: `${percent} %`, exact: true })
    .click();
const part = (page: Page, name: string) => page.getByRole('group', { name: 'Parts of the air path' }).getByRole('button', { name });
const next = (page: Page) => page.locator('.panel .next');

test('A: a fouled wheel answers the damage, is cleaned, does not turn, is replaced, and the next look is set', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-dunnock/cool');
  await expect(page.getByText('It answers the damage.')).toBeVisible();
  await expect(page.getByText(/of the air through; the hottest module ran \d+ K hotter/)).toBeVisible();
  await expect(page.locator('app-plot .main-svg').first()).toBeVisible();

  await expect(next(page)).toContainText('clean the pack fan');
  await page.getByRole('button', { name: /^dry: swabs and brushes/ }).click();
  await page.getByLabel('Or by number, % shut').fill('250');
  await page.getByLabel('Or by number, % shut').press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'From 0 to 99 percent' })).toBeVisible();
  await page.getByLabel('Or by number, % shut').fill('5');
  await page.getByLabel('Or by number, % shut').press('Enter');
  await expect(next(page)).toContainText('pack fan on 12 V');
  await page.getByRole('button', { name: 'It does not spin' }).click();
  await expect(next(page)).toContainText('another pack fan: it does not turn on 12 V');
  await page.getByRole('button', { name: 'It spins' }).click();
  await expect(page.getByText('free: it runs free.')).toBeVisible();

  await page.getByRole('button', { name: 'Cause answered' }).click();
  await page.getByLabel(/^Months since it was clean/).fill('30');
  await page.getByRole('button', { name: 'pets' }).click();
  const look = page.getByRole('button', { name: /^Look again in/ });
  await expect(page.getByText(/It shuts by .* % a month.*pets make it shorter/)).toBeVisible();
  await look.click();
  await expect(page.getByText(/^Set by OM: in [\d.]+ months/)).toBeVisible();
  await expect(next(page)).toContainText('The cooling is answered.');
  await expectAllKept(page);
  await page.reload();
  await expect(part(page, 'pack fan')).toContainText('5 % shut');
  await expect(page.getByText(/^Set by OM: in/)).toBeVisible();
});

test('G: a filter service in a few presses: two filters found, renewed and seen again', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-godwit/cool');
  for (const share of [60, 40, 0, 0, 0, 0]) {
    const before = await next(page).innerText();
    await shut(page, share);
    await expect(next(page)).not.toHaveText(before);
  }
  for (const filter of ['left pleated filter', 'right pleated filter']) {
    await expect(next(page)).toContainText(`clean the ${filter}`);
    await page.getByRole('button', { name: /^a new one/ }).click();
    await expect(next(page)).toContainText(`look at the ${filter} again`);
    await shut(page, 0);
  }
  await expect(next(page)).toContainText('pack fan on 12 V');
  // no module was measured: nothing is claimed of their damage
  await expect(page.getByText('Too few modules were measured to hold it against the damage.')).toBeVisible();
  await page.getByRole('button', { name: 'It spins' }).click();
  await page.getByRole('button', { name: 'Cause answered' }).click();
  await page.getByRole('button', { name: /^Look again in 3 months/ }).click();
  await expect(next(page)).toContainText('The cooling is answered.');

  // the vehicle leaves, and the yard knows when it is due
  await page.goto('/job/demo-godwit/handOver');
  await page.getByLabel(/Note on how it ends/).fill('Two new filters.');
  await page.getByRole('button', { name: 'Close as finished' }).click();
  await expectAllKept(page);
  await page.goto('/yard');
  await page.getByLabel('Show').selectOption('closed');
  await expect(page.getByRole('listitem').filter({ hasText: 'Godwit co-op car' })).toContainText('air path again');
});
