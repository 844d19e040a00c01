/** The cooling from findings to the next look: a fouled path, a fan that fails, a filter job. */
import { expect, test, type Page } from '@playwright/test';
import { camera, expectAllKept, signIn } from './bench-desk.ts';

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
  await expect(page.getByRole('link', { name: 'Cooling not answered' })).toHaveCount(0);
  // as it came, and afterwards its pair
  const picture = { name: 'wheel.jpg', mimeType: 'image/jpeg', buffer: await camera(page) };
  await page.getByLabel('Photograph: as it came').setInputFiles(picture);
  await expect(page.getByRole('img', { name: 'as it came, photographed' })).toBeVisible();
  // three thermometers, and a drive: both told at once, and neither of figures that say nothing
  await page.getByText('Warm air that comes back').click();
  const fill = async (...fields: [string, string][]) => {
    for (const [label, text] of fields) await page.getByLabel(label).fill(text);
    await page.getByLabel(fields.at(-1)?.[0] ?? '').press('Enter');
  };
  await fill(['Cabin, °C', '25'], ['At the intake, °C', '290'], ['At the outlet, °C', '39']);
  await expect(page.getByRole('alert').filter({ hasText: 'Degrees Celsius from -60 to 200.' })).toBeVisible();
  await fill(['At the intake, °C', '29,2']);
  await expect(page.getByText('30 % of it, the inlet 4.2 K warmer.')).toBeVisible();
  await page.getByText('Air proven by heat').click();
  await fill(['Current, A', '20'], ['The air warms by, K', '12']);
  await expect(page.getByText(/What was found explains it|What was found does not explain it/)).toBeVisible();
  await page.getByRole('button', { name: /^dry: swabs and brushes/ }).click();
  await expect(next(page)).toContainText('look at the pack fan again');
  await page.getByLabel('Photograph after: before and after').setInputFiles(picture);
  await expect(page.getByRole('img', { name: 'before and after, photographed' })).toHaveCount(2);
  await page.getByLabel('Or by number, % shut').fill('250');
  await page.getByLabel('Or by number, % shut').press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'From 0 to 99 percent' })).toBeVisible();
  await page.getByLabel('Or by number, % shut').fill('5');
  await page.getByLabel('Or by number, % shut').press('Enter');
  await expect(next(page)).toContainText('pack fan on 12 V');
  await page.getByRole('button', { name: 'It does not spin' }).click();
  await expect(next(page)).toContainText('another pack fan: it does not turn on 12 V');
  await page.getByRole('button', { name: 'It spins' }).click();
  await expect(page.getByText('free: it runs free.').first()).toBeVisible();
  // its curve from the simulated supply and airflow meter, kept
  await expect(next(page)).toContainText('look: foam seal whole');
  await part(page, 'pack fan').click();
  await page.getByText('Its curve, a plus').click();
  await page.getByRole('button', { name: /^Read it from 2 to 12 V, simulated/ }).click();
  await page.getByRole('button', { name: 'Keep 6 readings' }).click();
  await expect(page.getByText('Its curve, 6 readings kept')).toBeVisible();
  for (const seen of ['foam seal whole', 'ground strap on', 'airflow sensor seated'])
    await page.getByRole('button', { name: new RegExp(`^${seen}.*: yes$`) }).click();
  await expect(next(page)).toContainText('say whether the cooling answers the damage');

  await page.getByRole('button', { name: 'Cause answered' }).click();
  await page.getByLabel(/^Months since it was clean/).fill('30');
  // intake heard of them: nobody is asked twice
  await expect(page.getByRole('button', { name: 'pets' })).toHaveAttribute('aria-pressed', 'true');
  const look = page.getByRole('button', { name: /^Look again in/ });
  await expect(page.getByText(/It shuts by .* % a month.*pets make it shorter/)).toBeVisible();
  await look.click();
  await expect(page.getByText(/Set by OM: in [\d.]+ months/)).toBeVisible();
  await expect(next(page)).toContainText('The cooling is answered.');
  await expectAllKept(page);
  await page.reload();
  await expect(part(page, 'pack fan')).toContainText('5 % shut');
  await expect(page.getByText(/Set by OM: in/)).toBeVisible();
});

test('G: a filter service in a few presses: two filters found, renewed and seen again', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-godwit/cool');
  // its two filters are all that it asks for
  for (const share of [60, 40]) {
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
  for (const seen of ['filter tab the right way round', 'airflow sensor seated exactly']) {
    await expect(next(page)).toContainText(`look: ${seen}`);
    await page.getByRole('button', { name: `${seen}: yes` }).click();
  }
  // a service answers no damage, and nobody asks whether it does
  await expect(page.getByRole('button', { name: 'Cause answered' })).toHaveCount(0);
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

test('a crushed duct is felt, replaced, and said on every stage until the cooling is answered', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-redshank/cool');
  for (const share of [0, 60, 0, 0, 0]) {
    const before = await next(page).innerText();
    await shut(page, share);
    await expect(next(page)).not.toHaveText(before);
  }
  await expect(next(page)).toContainText('feel the seat duct');
  await page.getByRole('button', { name: 'plastic, crushed' }).click();
  await expect(next(page)).toContainText('another seat duct: it stays flat');
  await expect(page.getByText('Heat-set plastic stays flat')).toBeVisible();
  await page.goto('/job/demo-redshank/rebuild');
  await page.getByRole('link', { name: 'Cooling not answered' }).click();
  await page.getByRole('button', { name: 'plastic, whole' }).click();
  await expect(next(page)).toContainText('clean the seat duct');
  await page.getByRole('button', { name: /^a new one/ }).click();
  await expect(next(page)).toContainText('look at the seat duct again');
  await shut(page, 0);
  await expect(next(page)).toContainText('pack fan on 12 V');
});
