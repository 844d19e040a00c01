/** Kinds of jobs from opening to closing, in the yard, and the names that are erased. */
import { expect, test, type Page } from '@playwright/test';
import { expectAllKept, openJob, packCard, signIn } from './bench-desk.ts';

test('a filter service names no modules, leads to no cut, is closed, found among the closed, and opened again', async ({ page }) => {
  await signIn(page, 'ts');
  await page.goto('/yard/new');
  const vehicle = `Filter van ${Date.now()}`;
  await page.getByRole('radio', { name: /^Filter service/ }).check();
  await expect(page.getByLabel(/Label of the pack/)).toHaveCount(0);
  await packCard(page, 'dunlin-28').click();
  await page.getByRole('textbox', { name: 'Vehicle' }).fill(vehicle);
  await page.getByRole('textbox', { name: 'Plate' }).fill('TI 777');
  await page.getByLabel('Customer', { exact: true }).fill('Brackish Bakery');
  await page.getByLabel('How to reach them').fill('by the lock keeper');
  await page.getByRole('button', { name: 'Open the job' }).click();
  await expect(page.getByRole('heading', { name: /^Job \d+$/ })).toBeVisible();
  await expect(page.getByText('Brackish Bakery, by the lock keeper')).toBeVisible();
  const names = [vehicle, 'TI 777', 'Brackish', 'lock keeper'];
  await expect.poll(() => storedWith(page, names)).toEqual(names);
  const stages = page.getByRole('navigation', { name: /stage/i }).first();
  await expect(stages.getByText('Cool')).toBeVisible();
  await expect(stages.getByText('Isolate')).toHaveCount(0);
  await expect(page.getByText(/^Next:/)).toHaveCount(0);

  // it is closed once its screen was looked at, and it is known when that is done again
  await page.getByRole('button', { name: 'Files, closing' }).click();
  await expect(page.getByText('The cooling is not answered: look at the grille beside the rear seat.')).toBeVisible();
  await stages.getByText('Cool').click();
  await page.getByRole('group', { name: /^How much of it is shut/ }).getByRole('button', { name: '20 %' }).click(); // prettier-ignore
  await page.getByRole('button', { name: /^a new one/ }).click();
  await expect(page.locator('.panel .next')).toContainText('again');
  await page.getByRole('group', { name: /^How much of it is shut/ }).getByRole('button', { name: '0 %', exact: true }).click(); // prettier-ignore
  await page.getByRole('button', { name: 'airflow sensor seated exactly: yes' }).click();
  await page.getByRole('button', { name: /^Look again in/ }).click();
  await expect(page.getByText('The cooling is answered.').first()).toBeVisible();
  await stages.getByText('Hand over').click();
  await page.getByLabel(/Note on how it ends/).fill('New cartridge in.');
  await page.getByRole('button', { name: 'Close as finished' }).click();
  await expect(page.getByRole('heading', { name: /^Finished .* by TS$/ })).toBeVisible();
  await expect(page.getByText('New cartridge in.')).toBeVisible();
  await expectAllKept(page);

  await page.goto('/yard');
  const row = page.getByRole('listitem').filter({ hasText: vehicle });
  await expect(page.getByRole('listitem').filter({ hasText: 'Job 1' }).first()).toBeVisible();
  await expect(row).toHaveCount(0);
  await page.getByLabel('Show').selectOption('closed');
  await page.getByLabel('Search').fill('brackish');
  await expect(row).toContainText('Finished');
  await page.getByRole('search').getByLabel('Kind').selectOption('exchange');
  await expect(page.getByText(/^None of the \d+ jobs is like that/)).toBeVisible();
  await page.getByRole('search').getByLabel('Kind').selectOption('filterService');
  await row.getByRole('link').click();

  await page.getByLabel(/Why it is opened again/).fill('It rattles on cobbles.');
  await page.getByRole('button', { name: 'Open the job again' }).click();
  await expect(page.getByRole('button', { name: 'Close as finished' })).toBeVisible();

  await page.goto(`${new URL(page.url()).pathname.replace(/\/[a-zA-Z]+$/, '')}/intake?part=files`);
  await page.getByText('Erase names for good').click();
  await page.getByLabel('Who asked for it, and why').fill('The customer, by letter.');
  await page.getByRole('button', { name: 'Erase the customer' }).click();
  await expect(page.getByText('Brackish Bakery')).toHaveCount(0);
  await page.getByRole('button', { name: 'Erase vehicle and plate' }).click();
  await expect(page.getByText('Nothing is written of them any more.')).toBeVisible();
  await page.goto('/yard');
  await page.getByLabel('Search').fill('brackish');
  await expect(page.getByText(/^None of the \d+ jobs is like that/)).toBeVisible();
  // nor on this device, which sent them and had shown them
  await expect.poll(() => storedWith(page, names)).toEqual([]);
  expect((await storedWith(page, ['filterService'])).length).toBeGreaterThan(0);
});

/** Which of these words the browser holds in any store of the device. */
async function storedWith(page: Page, words: string[]): Promise<string[]> {
  return page.evaluate(async (sought) => {
    const texts = [JSON.stringify(localStorage), JSON.stringify(sessionStorage)];
    for (const { name = '' } of await indexedDB.databases()) {
      const db = await new Promise<IDBDatabase>((done, fail) => {
        const open = indexedDB.open(name);
        open.onsuccess = () => done(open.result);
        open.onerror = () => fail(new Error(name));
      });
      for (const store of db.objectStoreNames) {
        const all = db.transaction(store).objectStore(store).getAll();
        await new Promise((done) => (all.onsuccess = done));
        texts.push(JSON.stringify(all.result));
      }
      db.close();
    }
    for (const name of await caches.keys())
      for (const request of await (await caches.open(name)).keys()) texts.push((await (await caches.match(request))?.text()) ?? '');
    return sought.filter((word) => texts.some((text) => text.includes(word)));
  }, words);
}

test('a column a thousandth of what it must be is asked about once and taken as meant', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `TH-${Date.now()}`);
  await page.goto(`${job}/test`);
  await page.getByRole('button', { name: 'Import a file' }).click();
  const rows = Array.from({ length: 28 }, (_, i) => `${i + 1};${((7800 + i) / 1e6).toFixed(6)}`);
  const buffer = Buffer.from(['module;voltage [V]', ...rows].join('\n'));
  await page.getByLabel(/Table file/).setInputFiles({ name: 'thousandth.csv', mimeType: 'text/csv', buffer });
  await expect(page.getByRole('button', { name: 'Import', exact: true })).toBeDisabled();
  await page.getByRole('button', { name: 'Take it 1000 times as large' }).click();
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByLabel('Verdicts so far')).toContainText('0 reject');
  await expectAllKept(page);
  const csv = await page.request.get(`/api/jobs/${job.split('/').pop()}/sweeps.csv`);
  expect(await csv.text()).toContain(',openCircuitVolt,7.8,');
});
