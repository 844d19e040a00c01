import path from 'node:path';
import { expect, test } from '@playwright/test';
import { signIn } from './bench-desk.ts';

const SHOTS = path.resolve(import.meta.dirname, '../../docs/screenshots');

for (const [name, address, width, isNight] of [
  ['door', '/yard', 1280, false],
  ['yard', '/yard', 1280, false],
  ['isolate', '/job/demo-curlew/isolate', 1280, false],
  ['strip', '/job/demo-avocet/strip', 1280, false],
  ['open', '/job/demo-turnstone/open', 1280, false],
  ['test', '/job/demo-knot/test', 1280, false],
  ['test-night', '/job/demo-turnstone/test', 1280, true],
  ['test-phone', '/job/demo-knot/test', 390, false],
  ['match', '/job/demo-sanderling/match', 1280, false],
  ['stack-sheet', '/job/demo-sanderling/sheet', 1280, false],
  ['rebuild', '/job/demo-redshank/rebuild', 1280, false],
  ['cool', '/job/demo-dunnock/cool', 1280, false],
  ['wake', '/job/demo-bittern/refit?part=wake', 1280, false],
  ['scan', '/job/demo-whinchat/refit?part=scan', 820, false],
  ['stock', '/stock', 1280, false],
  ['profile', '/profiles/greenshank-28', 1280, false],
  ['gear', '/gear', 1280, false],
  ['people', '/people', 1280, false],
  ['reckoner', '/reckoner/isolate.discharge', 1280, false],
] as const) {
  test(name, async ({ page }) => {
    await page.setViewportSize({ width, height: width === 1280 ? 800 : 1100 });
    if (name !== 'door') await signIn(page);
    if (isNight) await page.addInitScript(() => localStorage.setItem('estuarine-night', 'yes'));
    await page.goto(address);
    await expect(page.locator('main :is(h1, h2)').first()).toBeVisible();
    await page.waitForTimeout(1500);
    await page.screenshot({ path: path.join(SHOTS, `${name}.png`) });
  });
}
