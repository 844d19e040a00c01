/** The screens of the shop itself: gear, people, profiles, the reckoner. */
import { readFile, writeFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { signIn } from './bench-desk.ts';

test('a tested pair of gloves counts again, with the rule that says so, and stands in the calendar feed', async ({ page }) => {
  await signIn(page);
  await page.goto('/gear');
  const row = page.getByRole('listitem').filter({ hasText: 'G-03' });
  await expect(row).toContainText('electrical test ran out');
  await row.getByRole('button', { name: /G-03/ }).click();
  await expect(row).toContainText('29 CFR 1910.137, Table I-5');
  await row.getByLabel('By whom').fill('test house on the quay');
  await row.getByRole('button', { name: 'Tested and passed' }).click();
  await expect(row).toContainText(/\d+ days, until/);
  const feed = await page.request.get((await page.getByRole('link', { name: /\.ics$/ }).getAttribute('href')) ?? '');
  const text = await feed.text();
  expect(text).toContain('BEGIN:VCALENDAR');
  expect(text.replace(/\r\n /g, '')).toContain('SUMMARY:Insulating gloves G-03: due');
});

test('gear is added by its form, and a value that does not fit is told at its field', async ({ page }) => {
  await signIn(page);
  await page.goto('/gear');
  await page.getByRole('button', { name: 'Add gear' }).click();
  await page.getByLabel('kind').selectOption('meter');
  await page.getByLabel('Gear id').fill('M 9');
  await page.getByRole('textbox', { name: 'label', exact: true }).fill('M-9');
  await page.getByLabel('Category, V').fill('1000');
  await page.getByLabel('Resolution, V').fill('0,1');
  await page.getByLabel('Calibrated on').fill('2026-10-01');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('alert')).toContainText('letters, digits, point, dash');
  await page.getByLabel('Gear id').fill(`M-${Date.now()}`);
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'M-9' }).first()).toContainText('CAT II 1000 V');
});

test('a form that was open while a colleague changed the same piece is told of it, and kept when it is said again', async ({ page }) => {
  const gearId = `G-${Date.now()}`;
  const gear = { kind: 'gloves', gearId, label: gearId, gloveClass: '0', size: '10', testedOn: '2026-10-01', issuedOn: null };
  const act = async (of: object): Promise<void> => {
    const data = { commandId: `c-${Math.random()}`, by: 'om', deviceAt: new Date().toISOString(), act: of };
    const kept = await page.request.post('/api/shop/acts', { data, headers: { origin: new URL(page.url()).origin } });
    expect(kept.ok(), await kept.text()).toBe(true);
  };
  await signIn(page);
  await page.goto('/gear');
  await act({ type: 'gear.saved', body: { gear } });
  await page.reload();
  const row = page.getByRole('listitem').filter({ hasText: gearId });
  await row.getByRole('button', { name: new RegExp(gearId) }).click();
  await row.getByRole('button', { name: 'Change what is known' }).click();
  await page.getByLabel('Note').fill('box by the door');
  await act({ type: 'gear.retired', body: { gearId, reason: 'cut at the cuff' } });
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('alert')).toContainText('taken out of use: cut at the cuff (OM');
  await expect(page.getByLabel('Note')).toHaveValue('box by the door');
  await expect(row).toContainText('cut at the cuff');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(row).not.toContainText('cut at the cuff');
});

test('the lead adds an apprentice and records a training', async ({ page }) => {
  await signIn(page, 'ts');
  await page.goto('/people');
  const id = `n${String(Date.now()).slice(-6)}`;
  const form = page.locator('form').filter({ hasText: 'Somebody new' });
  await form.getByLabel('Short name').fill(id);
  await form.getByLabel('Name', { exact: true }).fill('Nessa Quill');
  await form.getByLabel(/First passphrase/).fill('samphire and sea lavender');
  await form.getByRole('button', { name: 'Add them' }).click();
  const row = page.getByRole('listitem').filter({ hasText: id.toUpperCase() });
  await expect(row).toContainText('Does not sign hazards.');
  await row.getByRole('button', { name: 'Change' }).click();
  await row.getByLabel('Role').selectOption('technician');
  await expect(row).toContainText('technician');
  await row.getByLabel('Training').fill('High-voltage course');
  await row.getByLabel('Given by').fill('the island school');
  await row.getByLabel('Counts until').fill('2031-01-01');
  await row.getByRole('button', { name: 'Put on record' }).click();
  await expect(row).toContainText('Signs hazards, until 2031-01-01');
});

test('a profile is changed with its drawing, checked as it is typed, published as a version, and goes out and in as a file', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/profiles/avocet-12');
  await expect(page.getByText('archetype F')).toBeVisible();
  await page.getByRole('button', { name: 'Change it' }).click();
  await page.getByLabel('Module count').fill('13');
  await expect(page.getByRole('status').filter({ hasText: 'The blocks hold 12 modules, the string has 13.' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Publish this version' })).toBeDisabled();
  await page.getByLabel('Module count').fill('12');
  await page.getByLabel('name', { exact: true }).first().fill('Avocet 12, later build');
  await expect(page.getByRole('status').filter({ hasText: 'Every part fits every other.' })).toBeVisible();
  await page.getByRole('button', { name: 'Publish this version' }).click();
  await expect(page.getByText(/Kept as version 5/)).toBeVisible();

  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as file' }).click();
  const path = await (await saved).path();
  const profile = JSON.parse(await readFile(path, 'utf8')) as { version: number; massKilogram: number };
  expect(profile.version).toBe(5);
  const changed = `${path}.json`;
  await writeFile(changed, JSON.stringify({ ...profile, massKilogram: 43 }));
  await page.goto('/profiles');
  await page.getByLabel('Bring in a file').setInputFiles(changed);
  await expect(page.getByText('version 6, being changed')).toBeVisible();
  await page.getByRole('button', { name: 'Publish this version' }).click();
  await expect(page.getByText(/Kept as version 6/)).toBeVisible();

  await page.goto('/profiles');
  await writeFile(changed, JSON.stringify({ ...profile, blocks: [1] }));
  await page.getByLabel('Bring in a file').setInputFiles(changed);
  await expect(page.getByRole('alert')).toContainText('blocks: The blocks hold 1 modules');
});

test('the reckoner answers as it is typed into, draws its curve, and says at the field what does not fit', async ({ page }) => {
  await signIn(page);
  await page.goto('/reckoner');
  await page.getByRole('link', { name: 'Capacitor wait' }).click();
  await expect(page.getByLabel('Answer')).toContainText('384 s, or 6:24');
  await expect(page.locator('app-plot .main-svg').first()).toBeVisible();
  await page.getByLabel('Limit, V').fill('30');
  await expect(page.getByLabel('Answer')).toContainText('592 s, or 9:52');
  await page.getByLabel('Limit, V').fill('0');
  await expect(page.getByLabel('Answer').getByRole('alert')).toContainText('limit, V');
  await page.getByRole('link', { name: 'Fewest cuts' }).click();
  await page.getByRole('button', { name: 'Compute' }).click();
  await expect(page.getByLabel('Answer')).toContainText('possible');
  await page.getByRole('button', { name: 'As JSON' }).click();
  await page.getByLabel('The question as JSON').fill('{"moduleVolts": [7, 7');
  await expect(page.getByRole('alert')).toContainText('not JSON yet');
});
