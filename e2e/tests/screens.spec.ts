import { expect, test } from '@playwright/test';
import { expectAllKept, openJob, saidAtBench, seriousOf, signIn } from './bench-desk.ts';

test('the keys of a screen are listed by ?', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-turnstone/test');
  await expect(page.getByRole('heading', { name: /^Job \d+$/ })).toBeVisible();
  await page.locator('main').focus();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('take back your last reading');
});

test('an apprentice may measure but not choose a plan', async ({ page }) => {
  await signIn(page, 'jf');
  await page.goto('/job/demo-turnstone/match');
  await expect(page.getByText('A technician or the lead chooses the plan.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Choose this' })).toBeDisabled();
});

test('what was sent in another’s name, unproven, asks its author for an answer, and counts only then', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `PW-${Date.now() % 1e6}`);
  await expectAllKept(page);
  await signIn(page, 'jf');
  const said = (act: object) => ({ commandId: `w-${Date.now()}-${Math.random()}`, by: 'om', version: 3, ...saidAtBench(), act });
  const facts = [
    { kind: 'connectors', are: 'open' },
    { kind: 'plug', isIn: false },
  ];
  const acts = facts.map((fact) => said({ type: 'fact.stated', body: { stage: 'isolate', fact } }));
  const origin = new URL(page.url()).origin;
  const sent = await page.request.post(`/api${job.replace('/job/', '/jobs/')}/batches`, { data: { acts }, headers: { origin } });
  expect(((await sent.json()) as { outcomes: { kind: string }[] }).outcomes.map((o) => o.kind)).toEqual(['kept', 'kept']);
  await page.goto(`${job}/isolate`);
  const words = page.getByRole('group', { name: 'Passed on for OM' });
  await expect(words).toContainText('until OM answers');
  await expect(words.getByRole('button')).toHaveCount(0);
  // what may be so raises the number, and does nothing else
  await expect(page.locator('app-exposure-line .volt')).not.toHaveText(/^0\.0/);
  await signIn(page);
  await page.reload();
  await expect(words).toContainText('until you answer');
  await words.getByRole('button', { name: 'Not so', exact: true }).first().click();
  await expect(words.getByRole('listitem')).toHaveCount(1);
  await words.getByRole('button', { name: 'It is so' }).click();
  await expect(words).toHaveCount(0);
  await expectAllKept(page);
  expect(await seriousOf(page)).toEqual([]);
});

test('the stack sheet fits one page of A4', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-sanderling/sheet');
  await expect(page.getByRole('heading', { name: 'Stack sheet, job 1' })).toBeVisible();
  const pdf = await page.pdf({ format: 'A4', preferCSSPageSize: true });
  expect(pdf.toString('latin1').match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1);
});

test('the door: the accounts of the demonstration, one press each, and a wrong passphrase told in a sentence', async ({ page }) => {
  await page.goto('/yard');
  await expect(page.getByRole('heading', { name: 'Come in as' })).toBeVisible();
  expect(await seriousOf(page)).toEqual([]);
  await page.getByLabel('Short name').fill('om');
  await page.getByLabel('Passphrase').fill('not this one');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('name or passphrase is not right');
  await page.getByRole('button', { name: /Odile Marram/ }).click();
  await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
});

test('a locked screen hides all, and another person takes over by PIN', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-turnstone/test');
  await expect(page.getByRole('heading', { name: /^Job \d+$/ })).toBeVisible();
  await page.locator('main').focus();
  await page.keyboard.press('l');
  const locked = page.getByRole('dialog', { name: 'Locked' });
  await expect(locked).toBeVisible();
  await page.reload();
  await expect(locked).toBeVisible();
  await locked.getByRole('radio', { name: /Tamsin Skerry/ }).check();
  await locked.getByLabel(/PIN/).fill('000000');
  await locked.getByRole('button', { name: 'Unlock' }).click();
  await expect(locked.getByRole('alert')).toContainText('That PIN is not right');
  await locked.getByLabel(/PIN/).fill('246810');
  await locked.getByRole('button', { name: 'Unlock' }).click();
  await expect(locked).toBeHidden();
  await expect(page.getByRole('button', { name: /Tamsin Skerry, lead/ })).toBeVisible();
  await page.getByRole('button', { name: /Tamsin Skerry, lead/ }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Come in as' })).toBeVisible();
});
