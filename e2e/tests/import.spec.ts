import path from 'node:path';
import { expect, test } from '@playwright/test';
import { expectAllKept, openJob, signIn } from './bench-desk.ts';

const sample = (name: string): string => path.resolve(import.meta.dirname, '../../docs/samples', name);

test('a file with faults is refused whole, with row and column of each', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `IF-${Date.now()}`);
  await page.goto(`${job}/test`);
  await page.getByRole('button', { name: 'Import a file' }).click();
  await page.getByLabel(/Table file/).setInputFiles(sample('sweep-with-faults.csv'));
  const notice = page.getByRole('alert').filter({ hasText: 'Nothing can be imported' });
  await expect(notice).toContainText('Row 8, column 2');
  await expect(notice).toContainText('Row 14');
  await expect(notice).toContainText('Row 22, column 2');
  await expect(page.getByRole('button', { name: 'Import', exact: true })).toBeDisabled();
  await page.getByRole('button', { name: 'Close', exact: true }).last().click();
  await expect(page.getByLabel('Verdicts so far')).toContainText('0 keep');
});

for (const [name, reject, sentence] of [
  ['sweep-plain.csv', '2 reject', /At rest it lost 350 mV/],
  ['sweep-semicolon-decimal-comma.csv', '1 reject', /one cell is dead/],
  ['sweep-tabs-millivolt.tsv', '0 reject', null],
] as const) {
  test(`${name} is imported as it was meant`, async ({ page }) => {
    await signIn(page);
    const job = await openJob(page, `IM-${Date.now()}`);
    await page.goto(`${job}/test`);
    await page.getByRole('button', { name: 'Import a file' }).click();
    await page.getByLabel(/Table file/).setInputFiles(sample(name));
    await expect(page.getByText(/values can be imported/)).toBeVisible();
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(page.getByLabel('Verdicts so far')).toContainText(reject);
    if (sentence) await expect(page.getByText(sentence).first()).toBeVisible();
    await expectAllKept(page);
  });
}
