import { expect, test, type Browser, type Page } from '@playwright/test';
import { expectAllKept, openJob, signIn } from './bench-desk.ts';
import { ClockServer, goDown, read, step } from './clock-desk.ts';

const server = new ClockServer();
test.beforeAll(() => server.start());
test.afterAll(() => server.stop());

/** Moves the server's clock, and waits until a beat of the stream has told the page. */
async function advance(page: Page, minutes: number): Promise<void> {
  const shown = async (): Promise<number> => {
    const text = await page.getByText(/ (s|min|h) after the last cut/).innerText();
    const [, hour = '0', minute = '0', second = '0'] = /(?:(\d+) h )?(?:(\d+) min )?(?:(\d+) s )?after the last cut/.exec(text) ?? [];
    return Number(hour) * 60 + Number(minute) + Number(second) / 60;
  };
  const before = await shown();
  await server.advance(minutes);
  await expect.poll(shown).toBeGreaterThan(before + 0.9 * minutes);
}

const reach = (page: Page) => page.getByRole('button', { name: /Why this number/ });

async function begin(browser: Browser, profile: string, label: string, person = 'om'): Promise<{ page: Page; job: string }> {
  const context = await browser.newContext({ baseURL: server.url });
  const page = await context.newPage();
  await signIn(page, person, server.url);
  const job = await openJob(page, `${label}-${Date.now()}`, { profile });
  await page.goto(`${job}/isolate`);
  return { page, job };
}

test('A: dead is proven step by step, another browser on another server sees it, and a touch ends it everywhere', async ({ browser }) => {
  const { page, job } = await begin(browser, 'dunlin-28', 'PA');
  await expect(page.getByLabel('Proof of dead').getByText('M-01')).toBeVisible();
  await expect(page.locator('label').filter({ hasText: 'M-01' })).toContainText('a meter rated CAT III 1000 V or better');
  await goDown(page);
  await expect(step(page, /Wait for the capacitors/).getByRole('timer')).toHaveText(/^(10:00|9:5\d)$/);
  await expect(page.getByText('Count on 269 V at the inverter posts')).toBeVisible();

  // read before the wait is over: accepted as it is, and no proof
  await page.getByRole('button', { name: 'Begin with the known source' }).click();
  await read(page, '12,41', '0.3', '-0.3', '0.1', '0', '12.4');
  await expect(page.getByRole('status').filter({ hasText: 'Read before the wait' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Sign: dead' })).toBeDisabled();
  await page.reload();
  await expect(step(page, /Wait for the capacitors/).getByRole('timer')).toHaveText(/^9:/);

  await page
    .getByRole('group', { name: /HV connectors/ })
    .getByRole('button', { name: 'Off, bare' })
    .click();
  await expect(reach(page)).toContainText('268.8');
  await server.advance(10);
  await expect(step(page, /Wait for the capacitors/)).toContainText('10 min are over');
  for (const [entry, volt] of [
    ['known source before', '12.4'],
    ['plus to minus', '0.4'],
    ['leads swapped', '-0.4'],
    ['plus to chassis', '0.1'],
    ['minus to chassis', '0'],
    ['known source after', '12.4'],
  ] as const) {
    await page.getByRole('button', { name: entry }).click();
    await read(page, volt);
  }
  await expect(page.getByText('Dead, not signed yet.')).toBeVisible();
  await expectAllKept(page);
  await expect(reach(page)).toContainText('268.8'); // readings alone lower nothing
  await page.getByRole('button', { name: 'Sign: dead' }).click();
  await expect(page.getByText('Dead, proven and signed')).toBeVisible();
  await expect(reach(page)).toContainText('0.4');
  await expect(reach(page)).toContainText('269 V behind covers');

  const second = new ClockServer();
  await second.start();
  await second.advance(10);
  const two = await browser.newContext({ baseURL: second.url });
  const other = await two.newPage();
  await signIn(other, 'ts', second.url);
  await other.goto(`${job}/isolate`);
  await expect(other.getByText('Dead, proven and signed')).toBeVisible();
  await step(other, /12 V negative/)
    .getByRole('button', { name: /12 V negative/ })
    .click();
  await other.getByRole('button', { name: 'The 12 V is on again' }).click();
  await expect(other.getByRole('alert').filter({ hasText: 'The 12 V was touched' })).toBeVisible();
  await expect(page.getByRole('alert').filter({ hasText: 'The 12 V was touched' })).toBeVisible();
  await expect(reach(page)).toContainText('268.8');
  await page.context().close();
  await two.close();
  second.stop();
});

test('D: the simulated meter shows a capacitor that drains; an apprentice measures, the lead signs', async ({ browser }) => {
  const { page, job } = await begin(browser, 'curlew-42', 'PD', 'jf');
  await expect(page.getByText('12 V lending switch left alone')).toBeVisible();
  await goDown(page);
  await expect(step(page, /Round plug out/)).toContainText('second socket');
  const take = page.getByRole('button', { name: 'Take from the simulated meter' });
  await page.getByRole('button', { name: 'Begin with the known source' }).click();
  await take.click();
  await expect(page.getByText('Next: plus to minus.')).toBeVisible();
  for (let i = 0; i < 4; i++) {
    await page.getByRole('button', { name: 'plus to minus' }).click();
    // a clock that is moved while the meter is asked would give the reading another time than its own
    const told = page.waitForResponse((r) => r.url().endsWith('/measure'));
    await take.click();
    await told;
    await expect(take).toBeEnabled();
    await expectAllKept(page);
    await advance(page, 0.7);
  }
  await expect(page.getByText(/Draining, not dead\. \d readings fit one curve/)).toBeVisible();
  await expect(page.locator('app-plot .main-svg').first()).toBeVisible();
  await server.advance(20);
  await expect(step(page, /Wait for the capacitors/)).toContainText('5 min are over');
  for (const entry of [
    'known source before',
    'plus to minus',
    'leads swapped',
    'plus to chassis',
    'minus to chassis',
    'known source after',
  ]) {
    await page.getByRole('button', { name: entry }).click();
    await expect(page.getByRole('textbox', { name: `${entry}, volt` })).toBeFocused();
    await take.click();
    await expectAllKept(page);
    await expect(take).toBeEnabled();
  }
  await page.getByText('Insulation against the chassis').click();
  await page.getByRole('button', { name: 'Take both poles from the simulated insulation tester' }).click();
  await expect(page.getByText(/\d+ ohm per volt/)).toBeVisible();
  await expect(page.getByText('Dead, not signed yet.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Sign: dead' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Ask a qualified person to sign' }).click();
  await expect(page.getByRole('button', { name: 'Co-sign asked for' })).toBeDisabled();

  const lead = await browser.newContext({ baseURL: server.url });
  const desk = await lead.newPage();
  await signIn(desk, 'ts', server.url);
  await desk.goto('/yard');
  await expect(desk.getByText('asks for a co-sign').first()).toBeVisible();
  await desk.goto(`${job}/isolate`);
  await expect(desk.getByText('JF asks for a co-sign')).toBeVisible();
  await desk.getByRole('button', { name: 'Sign: dead' }).click();
  await expect(page.getByText('Dead, proven and signed')).toBeVisible();
  await Promise.all([page.context().close(), lead.close()]);
});

test('E: the plug opens nothing, the line stays where it was, and a stuck contactor is told from a capacitor', async ({ browser }) => {
  const context = await browser.newContext({ baseURL: server.url });
  const page = await context.newPage();
  await signIn(page, 'om', server.url);
  await page.goto('/job/demo-plover/isolate');
  await expect(reach(page)).toContainText('V behind covers');
  const before = await reach(page).innerText();
  await goDown(page);
  await expect(page.getByText(/The signal plug is out, and 269 V still stand between the ends of the string/)).toBeVisible();
  expect(await reach(page).innerText()).toContain(/\d+ V behind covers/.exec(before)?.[0] ?? 'nothing');
  await page.getByRole('button', { name: 'Begin with the known source' }).click();
  const take = page.getByRole('button', { name: 'Take from the simulated meter' });
  await take.click();
  await expect(page.getByText('Next: plus to minus.')).toBeVisible();
  for (let i = 0; i < 3; i++) {
    await page.getByRole('button', { name: 'plus to minus' }).click();
    await take.click();
    await expectAllKept(page);
    await advance(page, 2);
  }
  await expect(page.getByText(/Steady at \d+\.\d V over 3 readings: something feeds these posts/)).toBeVisible();
  await expect(page.getByText(/contactor stuck shut, a wrong measuring point, or the plug not out/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Sign: dead' })).toBeDisabled();
  await context.close();
});

test('a meter that fails its known source proves nothing, and nobody can override that', async ({ browser }) => {
  const { page } = await begin(browser, 'dunlin-28', 'PF', 'ts');
  await goDown(page);
  await server.advance(11);
  await expect(step(page, /Wait for the capacitors/)).toContainText('10 min are over');
  await page.getByRole('button', { name: 'Begin with the known source' }).click();
  await read(page, '12.4', '0.1', '0.1', '0', '0', '0.2');
  await expect(page.getByText(/Meter not proven\. The meter read 0\.2 V on the known source after/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Sign: dead' })).toBeDisabled();
  await step(page, /Prove dead/)
    .getByRole('button', { name: /Prove dead/ })
    .first()
    .click();
  await expect(page.getByText('Go on without it')).toHaveCount(0);
  // the grouped number is refused with its reason, and nothing is kept
  await page.getByRole('button', { name: 'known source after' }).click();
  await page.getByRole('textbox', { name: 'known source after, volt' }).fill('1.234,5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('groups its thousands');
  await page.context().close();
});

test('a lead goes on without gloves with a reason that stands in the record', async ({ browser }) => {
  const { page } = await begin(browser, 'dunlin-28', 'PO', 'ts');
  await page.getByRole('button', { name: 'The key is away: lock box' }).click();
  const gloves = step(page, /Gloves picked/);
  await expect(gloves.locator('label').filter({ hasText: 'G-03' })).toContainText('electrical test ran out');
  await expect(gloves.locator('label').filter({ hasText: 'G-03' }).getByRole('radio')).toBeDisabled();
  await gloves.getByText('Go on without it').click();
  await gloves.getByRole('textbox', { name: /Reason to go on without/ }).fill('Both pairs are at the test house.');
  await gloves.getByRole('button', { name: 'Override, signed by me' }).click();
  await expect(gloves).toContainText('Overridden: Both pairs are at the test house.');
  await page.context().close();
});
