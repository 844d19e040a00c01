import { expect, test, type Locator, type Page } from '@playwright/test';
import { camera, eventsOf, expectAllKept, openJob, signIn } from './bench-desk.ts';
import { ClockServer, proveDead } from './clock-desk.ts';

const server = new ClockServer();
test.beforeAll(() => server.start());
test.afterAll(() => server.stop());

const reach = (page: Page) => page.getByRole('button', { name: /Why this number/ });
const owed = (page: Page) => page.locator('footer.count');
const card = (page: Page, name: string) => page.locator('app-part-card').filter({ hasText: name });

/** Every group, one press each, gone from the screen before the next; where a zone is done with the next one is there by itself. */
async function takeAllOff(page: Page): Promise<void> {
  const off = page.locator('app-part-card').filter({ has: page.getByRole('button', { name: /^Take off \d+/ }) });
  while ((await off.count()) > 0) {
    const id = (await off.first().getAttribute('id')) ?? '';
    const taking = page.locator(`#${id}`).getByRole('button', { name: /^Take off \d+/ });
    await taking.click();
    await expect(taking).toHaveCount(0);
  }
}

/** Drags one thing over another, and goes on once the other has taken it up: what the page lays out meanwhile moves both. */
async function dragOnto(page: Page, from: Locator, to: Locator): Promise<void> {
  await expect(async () => {
    await page.mouse.up();
    await from.hover({ position: { x: 10, y: 10 } });
    await page.mouse.down();
    for (const at of [5, 20]) {
      const box = await to.boundingBox();
      if (!box) throw new Error('nothing to drag onto');
      await page.mouse.move(box.x + at, box.y + at, { steps: 12 });
    }
    await expect(to.and(page.locator('.cdk-drop-list-dragging'))).toBeVisible({ timeout: 1000 });
  }).toPass();
}

for (const [profile, label, seatBolts] of [
  ['dunlin-28', 'SA', 4],
  ['turnstone-30', 'SC', 8],
] as const) {
  test(`${profile}: from the proof to numbered modules, with one part more, one missing, a photograph, and a reload in the middle`, async ({
    browser,
  }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `${label}-${Date.now()}`, { profile });
    await page.goto(`${job}/isolate`);
    await proveDead(page, server);

    await page.goto(`${job}/strip`);
    await expect(page.getByRole('heading', { name: 'rear seat' })).toBeVisible();
    // one of the seat bolts was missing on arrival
    const bolt = card(page, 'seat bolt M10');
    await bolt.getByRole('button', { name: /^seat bolt/ }).click();
    await bolt.getByRole('textbox', { name: 'Pieces' }).fill('1');
    await bolt.getByRole('button', { name: '1 missing on arrival' }).click();
    await expect(bolt).toContainText('1 to order');
    await expect(bolt).toContainText(`${seatBolts - 1} still in`);
    await bolt.getByRole('button', { name: /^seat bolt/ }).click();
    await takeAllOff(page);
    await expect(page.getByRole('button', { name: /rear seat.*clear/ })).toBeVisible();
    // one that the profile does not know
    await page.getByRole('button', { name: 'Add a part that the profile does not know' }).click();
    await page.getByRole('button', { name: 'Add the part' }).click();
    await expect(page.getByRole('alert')).toContainText('what it is and where');
    await page.getByLabel('What it is').fill('lock washer');
    await page.getByLabel('Where it sits').fill('under the inner bolt');
    await page.getByRole('button', { name: 'Add the part' }).click();
    const washer = page.getByRole('button', { name: 'Take off 1 lock washer' });
    await washer.click();
    await expect(washer).toHaveCount(0);
    await expectAllKept(page);
    const before = await owed(page).innerText();

    await page.reload();
    await expect(owed(page)).toHaveText(before.replaceAll('\n', ' '), { useInnerText: true });
    for (const zone of await page.locator('section.plan li button').all()) {
      await zone.click();
      // until it is drawn, the parts of the zone before it are still there
      await expect(zone).toHaveAttribute('aria-pressed', 'true');
      await takeAllOff(page);
    }

    await page.getByRole('button', { name: 'Photographs' }).click();
    await page.getByLabel('What it shows').fill('Bay before the lift');
    const buffer = await camera(page);
    await page.getByLabel('From files').setInputFiles([
      { name: 'bay.jpg', mimeType: 'image/jpeg', buffer },
      { name: 'notes.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('no picture') },
    ]);
    await expect(page.getByRole('alert')).toContainText('notes.jpg: This file cannot be shown as a picture');
    await expectAllKept(page);
    await page.getByRole('button', { name: 'Bay before the lift' }).click();
    const shown = page.getByRole('img', { name: 'Bay before the lift' });
    await expect(shown).toHaveJSProperty('naturalWidth', 2048);
    await shown.click({ position: { x: 40, y: 30 } });
    await page.getByRole('button', { name: 'Note the finding' }).click();
    await expect(page.locator('.pin')).toHaveText('1');

    await page.getByRole('button', { name: 'Lift out' }).click();
    await page.getByLabel('Who holds the other side').fill('Tamsin');
    await page.getByRole('button', { name: 'Keep the lift plan' }).click();
    await expect(page.getByText(/Planned by two people, with Tamsin/)).toBeVisible();
    await page.getByRole('button', { name: 'The pack is on the bench' }).click();

    await page.goto(`${job}/open`);
    const layers = page.locator('section.layers li button');
    await expect(layers.first()).toBeVisible();
    const count = await layers.count();
    const off = page.getByRole('button', { name: /^Take off \d+/ });
    for (let i = 0; i < count; i++) {
      // a count says the fact that it means: the layer is off with its last piece, and the next one is offered by itself
      for (;;) {
        await layers.nth(i).click();
        await expect(layers.nth(i)).toHaveAttribute('aria-pressed', 'true');
        if ((await off.count()) === 0) break;
        const label = (await off.first().getAttribute('aria-label')) ?? '';
        await off.first().click();
        await expect(page.getByRole('button', { name: label, exact: true })).toHaveCount(0);
      }
      await expect(layers.nth(i)).toContainText('off');
      await expect(page.locator('.say').getByRole('button')).toHaveCount(0);
    }
    await expect(page.getByText('No part of the string stands above 60 V')).toBeVisible();
    await expect(reach(page)).toContainText(profile === 'dunlin-28' ? '9.6' : '12.8');

    await page.getByRole('button', { name: 'how it lies', exact: true }).click();
    await page.getByRole('button', { name: 'Record how it lies' }).click();
    await expect(page.getByRole('alert')).toContainText('read off the pack first');
    await page.getByLabel('Most positive corner').selectOption({ index: 4 });
    await page.getByLabel('Module 1 sits at the').selectOption({ index: 1 });
    await page.getByLabel('Threaded posts').selectOption({ index: 1 });
    await page.getByLabel('Vents').selectOption({ index: 1 });
    await page.getByRole('button', { name: 'Record how it lies' }).click();
    await page.getByRole('button', { name: 'Let the modules be moved' }).click();
    await page.getByRole('link', { name: 'Print the module labels' }).click();
    await expect(page.locator('app-labels-page li')).toHaveCount(profile === 'dunlin-28' ? 28 : 30);
    await expect(page.locator('app-labels-page img').last()).toHaveJSProperty('complete', true);

    const balance = (await eventsOf(page, server.url, job)).filter((e) => e.type === 'part.moved');
    expect(balance.length).toBeGreaterThan(20);
    await context.close();
  });
}

test('a bolt goes to the cell that it is dragged to, and back by one press; leaving one off asks for a name that counts', async ({
  page,
}) => {
  await signIn(page, 'jf');
  const job = await openJob(page, `SD-${Date.now()}`);
  await page.goto(`${job}/strip`);
  // what is dragged must not move by itself meanwhile
  await expect(card(page, 'seat bolt M10').locator('.counts')).toBeVisible();
  await expectAllKept(page);
  await dragOnto(page, card(page, 'seat bolt M10').locator('.counts'), page.getByRole('button', { name: 'Cell A1, empty' }));
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Cell A1, 4 seat bolt M10' })).toBeVisible();
  await page.getByRole('button', { name: 'Take back a count of the ledger' }).click();
  await expect(page.getByRole('button', { name: 'Cell A1, empty' })).toBeVisible();
  await page.getByRole('button', { name: 'Take off 2 seat back clip' }).click();
  await page.getByRole('button', { name: /^Ledger/ }).click();
  await card(page, 'seat back clip')
    .getByRole('button', { name: /^seat back clip/ })
    .click();
  await page.getByText('Leave 2 off knowingly').click();
  await expect(page.getByText('A technician or the lead signs for what is left off.')).toBeVisible();
  await signIn(page, 'om');
  await page.reload();
  await card(page, 'seat back clip')
    .getByRole('button', { name: /^seat back clip/ })
    .click();
  await page.getByText('Leave 2 off knowingly').click();
  await page.getByLabel(/Reason, which stands/).fill('Both broke; none in the shop.');
  await page.getByLabel(/What follows/).fill('order, fit on Friday');
  await page.getByRole('button', { name: 'Sign: left off' }).click();
  await expect(page.getByText(/left off, signed by OM: Both broke/)).toBeVisible();
  await expect(page.getByText('Nothing is owed')).toBeVisible();
});

test('a module is selected by a hand scanner on any screen, and no letter of its code lands anywhere', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-turnstone/test');
  await expect(page.getByRole('heading', { name: 'Job 2' })).toBeVisible();
  const scan = async (id: string): Promise<void> => {
    await page.evaluate((text) => {
      for (const key of [...Array.from(text), 'Enter'])
        (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    }, `#estuarine/module/${id}`);
  };
  await scan('02-17');
  await expect(page.locator('app-verdict-card')).toContainText('17');
  await scan('S042');
  await expect(page).toHaveURL(/\/stock$/);
  await expect(page.getByRole('searchbox')).toHaveValue('S042');
  await page.goto('/yard');
  await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
  await scan('01-06');
  await expect(page).toHaveURL(/demo-sanderling\/test/);
  await scan('nobody-knows');
  await expect(page.getByRole('alert')).toContainText('not known here');
});
