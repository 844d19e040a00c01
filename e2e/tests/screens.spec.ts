import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { signIn } from './bench-desk.ts';

const SCREENS = [
  ['yard', '/yard'],
  ['new job', '/yard/new'],
  ['intake', '/job/demo-turnstone/intake'],
  ['isolate', '/job/demo-curlew/isolate'],
  ['strip', '/job/demo-avocet/strip'],
  ['ledger', '/job/demo-avocet/strip?part=ledger'],
  ['lift plan', '/job/demo-avocet/strip?part=lift'],
  ['exchange', '/job/demo-turnstone/strip?part=exchange'],
  ['open', '/job/demo-turnstone/open'],
  ['links', '/job/demo-turnstone/open?part=links'],
  ['how it lies', '/job/demo-avocet/open?part=lying'],
  ['findings', '/job/demo-turnstone/open?part=findings'],
  ['photographs', '/job/demo-turnstone/open?part=photos'],
  ['module labels', '/job/demo-turnstone/labels'],
  ['test', '/job/demo-knot/test'],
  ['match', '/job/demo-sanderling/match'],
  ['stack sheet', '/job/demo-sanderling/sheet'],
  ['stock', '/stock'],
  ['limits', '/limits'],
  ['profiles', '/profiles'],
  ['a profile', '/profiles/turnstone-30'],
  ['gear', '/gear'],
  ['people', '/people'],
  ['reckoner', '/reckoner'],
  ['a calculation', '/reckoner/isolate.fitDecay'],
  ['a stage to come', '/job/demo-turnstone/cool'],
  ['an address that leads nowhere', '/nowhere'],
] as const;

for (const [name, path] of SCREENS) {
  test(`${name}: nothing serious for people who use it otherwise, by day and by night, no error, and it fits a tablet and a phone`, async ({
    page,
  }) => {
    const errors: string[] = [];
    page.on('console', (m) => m.type() === 'error' && errors.push(m.text()));
    page.on('pageerror', (e) => errors.push(e.message));
    // colours on their way from day to night are no colours of ours
    await page.emulateMedia({ reducedMotion: 'reduce' });
    await signIn(page);
    await page.goto(path);
    await expect(page.locator('main :is(h1, h2, strong)').first()).toBeVisible();
    for (const isNight of [false, true]) {
      if (isNight) {
        await page.locator('main').focus();
        await page.keyboard.press('n');
      }
      await expect(page.locator('html')).toHaveAttribute('data-theme', isNight ? 'night' : 'day');
      const { violations } = await new AxeBuilder({ page }).analyze();
      const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
      expect(serious.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)).toEqual([]);
    }
    for (const width of [820, 390]) {
      await page.setViewportSize({ width, height: 844 });
      const surplus = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
      expect(surplus).toBeLessThanOrEqual(0);
      const inside = await page.locator('main').evaluate((main) => main.scrollWidth - main.clientWidth);
      expect(inside).toBeLessThanOrEqual(0);
    }
    expect(errors).toEqual([]);
  });
}

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
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')).toEqual([]);
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
