import { expect, test } from '@playwright/test';
import { expectAllKept, field, openJob, signIn, startSweep, type } from './bench-desk.ts';

test('from a new job to a matched stack, and all there after a reload', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `SL-${Date.now()}`);
  const reach = page.getByRole('button', { name: /Why this number/ });

  // down to the bench, stated by hand
  await page.goto(`${job}/isolate`);
  await expect(reach).toContainText('269 V behind covers');
  const step = (name: RegExp) => page.getByRole('listitem').filter({ has: page.getByRole('button', { name }) });
  await step(/key out and away/)
    .getByRole('button', { name: 'The key is away: lock box' })
    .click();
  await step(/12 V negative/)
    .getByRole('button', { name: /12 V negative/ })
    .click();
  await page.getByRole('button', { name: 'The 12 V is off and tucked away' }).click();
  await step(/Service plug out/)
    .getByRole('button', { name: /Service plug out/ })
    .click();
  await page.getByRole('button', { name: / is (out|off): (lock box|locked)/ }).click();
  await page
    .getByRole('group', { name: /HV connectors/ })
    .getByRole('button', { name: 'Off, bare' })
    .click();
  await expect(reach).toContainText('268.8');
  await page
    .getByRole('group', { name: /HV connectors/ })
    .getByRole('button', { name: 'Off and insulated' })
    .click();
  await expect(reach).toContainText('0.0');
  await page.goto(`${job}/strip`);
  await page.getByRole('button', { name: 'On the bench' }).click();
  await page.goto(`${job}/open?part=links`);
  await page.getByRole('group', { name: 'Case' }).getByRole('button', { name: 'Open' }).click();
  await page.getByRole('button', { name: 'It is done' }).click();
  await page.getByRole('group', { name: 'Terminal covers' }).getByRole('button', { name: 'Off' }).click();
  await expect(reach).toContainText('134.4');
  await page
    .getByRole('group', { name: /vent side/ })
    .getByRole('button', { name: 'Off' })
    .click();
  await page
    .getByRole('group', { name: /cable side/ })
    .getByRole('button', { name: 'Off' })
    .click();
  await expect(reach).toContainText('9.6');
  await reach.click();
  await expect(page.getByRole('dialog')).toContainText('0 of 28 modules measured, the rest at their maximum of 9.6 V.');
  await page.keyboard.press('Escape');

  // two voltage sweeps and a load sweep by the keypad; module 17 leaks, module 5 is weak
  await page.goto(`${job}/test`);
  await startSweep(page, 'Open circuit');
  await type(page, '7,845', '7.852');
  await page.keyboard.type('7505');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Did you mean 7.505 V?');
  await field(page).fill('');
  for (let place = 3; place <= 28; place++) await type(page, (7.84 + (place % 5) / 1000).toFixed(3));
  await expect(page.getByText('28 of 28 taken')).toBeVisible();
  await page.getByRole('button', { name: 'End the sweep' }).click();
  await startSweep(page, 'After rest');
  for (let place = 1; place <= 28; place++) await type(page, place === 17 ? '7.52' : (7.82 + (place % 5) / 1000).toFixed(3));
  await page.getByRole('button', { name: 'End the sweep' }).click();
  await page.getByLabel('Sweep', { exact: true }).getByRole('button', { name: 'Under load' }).click();
  await page.getByLabel('Load, A').fill('20');
  await page.getByRole('button', { name: 'Start the sweep' }).click();
  await field(page).focus();
  for (let place = 1; place <= 28; place++) await type(page, place === 5 ? '7.05' : (7.28 + (place % 5) / 1000).toFixed(3));
  await expect(page.getByText(/^It|^At rest it lost 32\d mV/).first()).toBeVisible();
  await expect(page.getByLabel('Verdicts so far')).toContainText('2 reject');
  await expectAllKept(page);

  // the match, from the shelf
  await page.goto(`${job}/match`);
  // nobody measured a capacity: only what comes whole from the shelf can be chosen
  await page.getByRole('button', { name: 'Compute the schools' }).click();
  await expect(page.getByText('there is nothing to match by').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Choose this' })).toHaveCount(2);
  await page.goto(`${job}/test`);
  await startSweep(page, 'Capacity');
  for (let place = 1; place <= 28; place++) await type(page, (5.6 + (place % 5) / 100).toFixed(2));
  await expectAllKept(page);
  await page.goto(`${job}/match`);
  await page.getByRole('button', { name: 'Compute the schools' }).click();
  await expect(page.getByRole('button', { name: 'Choose this' })).toHaveCount(4);
  await page.getByRole('button', { name: 'Spot repair, re-ordered' }).click();
  await expect(page.getByRole('img', { name: /2 come from the shelf/ })).toBeVisible();
  await page.getByRole('button', { name: 'Choose this' }).nth(2).click();
  await expect(page.getByRole('heading', { name: 'Spot repair, re-ordered is chosen' })).toBeVisible();
  await expectAllKept(page);

  await page.reload();
  await expect(page.getByRole('heading', { name: 'Spot repair, re-ordered is chosen' })).toBeVisible();
  await page.getByRole('link', { name: 'Stack sheet' }).click();
  await expect(page.getByRole('cell', { name: 'shelf' })).toHaveCount(2);
  await expect(page.getByText('from place 17')).toBeVisible();

  // out as files
  const files = await Promise.all(
    ['job.json', 'sweeps.csv', 'plan.csv'].map((name) => page.request.get(`/api/jobs/${job.split('/').pop()}/${name}`)),
  );
  expect(files.map((f) => f.status())).toEqual([200, 200, 200]);
  expect((await files[2]?.text())?.split('\r\n')).toHaveLength(29);
});

test('Backspace on an empty field goes back, a new value corrects, and undo takes it back', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `BK-${Date.now()}`);
  await page.goto(`${job}/test`);
  await startSweep(page, 'Open circuit');
  await type(page, '7.81', '7.82');
  await page.keyboard.press('Enter'); // on empty: nothing
  await expect(page.getByText('2 of 28 taken')).toBeVisible();
  await page.keyboard.press('Backspace');
  await expect(field(page)).toHaveValue('7.82');
  await type(page, '7.92');
  await expect(page.getByText('3 of 28 taken')).toBeHidden();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/Stands: 7.92 V/)).toBeVisible();
  await expectAllKept(page);
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/Stands: 7.82 V/)).toBeVisible();
  await field(page).fill('1.234,5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('groups its thousands');
});

test('limits are edited, make a new version, and a job takes it when somebody says so', async ({ page }) => {
  await signIn(page, 'ts');
  const job = await openJob(page, `LI-${Date.now()}`);
  await page.goto('/limits');
  await page.getByLabel('Reject from modified z').fill('4,5');
  await page.getByRole('button', { name: /Keep as version/ }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Kept.' })).toBeVisible();
  await page.goto(`${job}/test`);
  await page.getByRole('button', { name: 'judge this job by it' }).click();
  await expect(page.getByText(/reject at 4\.5/)).toBeVisible();
});
