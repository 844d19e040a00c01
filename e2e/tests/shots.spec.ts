import fs from 'node:fs';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { signIn } from './bench-desk.ts';

const SHOTS = path.resolve(import.meta.dirname, '../../docs/screenshots');
const SAMPLES = path.resolve(import.meta.dirname, '../../docs/samples');

for (const [name, address, width, isNight] of [
  ['yard', '/yard', 1280, false],
  ['intake', '/job/demo-sandpiper/intake', 1280, false],
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
  ['report', '/job/demo-oystercatcher/handOver?part=report', 1280, false],
  ['figures', '/figures', 1280, false],
  ['reckoner', '/reckoner/isolate.discharge', 1280, false],
] as const) {
  test(name, async ({ page }) => {
    await page.setViewportSize({ width, height: width === 1280 ? 800 : 1100 });
    await signIn(page);
    if (isNight) await page.addInitScript(() => localStorage.setItem('estuarine-night', 'yes'));
    await page.goto(address);
    await expect(page.locator('main :is(h1, h2)').first()).toBeVisible();
    await page.waitForTimeout(1500);
    await page.screenshot({ path: path.join(SHOTS, `${name}.png`) });
  });
}

test('a sealed record, and the page that checks it', async ({ page }) => {
  await signIn(page);
  await page.goto('/yard');
  const origin = new URL(page.url()).origin;
  const job = `${origin}/api/jobs/demo-oystercatcher`;
  const { head } = (await (await page.request.post(`${job}/records`, { data: {}, headers: { origin } })).json()) as { head: number };
  const record = await page.request.get(`${job}/records/${head}/record.zip`);
  const check = await page.request.get(`${origin}/api/seal/check.html`);
  expect([record.ok(), check.ok()]).toEqual([true, true]);
  fs.writeFileSync(path.join(SAMPLES, 'record.zip'), await record.body());
  fs.writeFileSync(path.join(SAMPLES, 'check-a-record.html'), await check.body());
});
