import path from 'node:path';
import { expect, test } from '@playwright/test';
import { expectAllKept, openJob, signIn, startSweep, type } from './bench-desk.ts';

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

test('a file is asked when it was measured, and one that was measured before a charge lowers nothing', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `IW-${Date.now()}`);
  await page.goto(`${job}/test`);
  const bringIn = async (when: string): Promise<void> => {
    await page.getByRole('button', { name: 'Import a file' }).click();
    await page.getByLabel(/Table file/).setInputFiles(sample('sweep-plain.csv'));
    await expect(page.getByText(/values can be imported/)).toBeVisible();
    await page.getByLabel('When was it measured?').selectOption(when);
  };
  await bringIn('at a time');
  await page.getByLabel(/First reading taken/).fill('2099-01-01T08:00');
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'a day and a time that are over' })).toBeVisible();
  await page.getByLabel(/First reading taken/).fill('2026-01-05T08:00');
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expectAllKept(page);
  const measured = (): Promise<string | undefined> =>
    page.request
      .get(`/api/jobs/${job.split('/').at(-1)}/events`)
      .then(async (reply) => /"measured":"([^"]*)"/.exec(await reply.text())?.[1]);
  await expect.poll(measured).toBe('2026-01-05T08:00:00.000Z');
});

test('a sweep at a tenth of the one before is doubted aloud, and counts once it is confirmed by one press', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `IF-${Date.now()}`);
  await page.goto(`${job}/test`);
  await startSweep(page, 'Open circuit');
  await type(page, '9.5', '9.4');
  await page.getByRole('button', { name: 'End with gaps' }).click();
  await startSweep(page, 'Open circuit');
  // asked once whether it is so: no module of the kind usually reads so little
  await type(page, '0.95', '', '0.94', '');
  const asked = page.getByRole('group', { name: /2 modules fell, module 1 from 9.50 to 0.95 V, about a tenth/ });
  await expect(asked).toBeVisible();
  await asked.getByRole('button', { name: 'They read so' }).click();
  await expect(asked).toHaveCount(0);
  await expectAllKept(page);
});
