import { open, shot, base, browser } from './look.mjs';
for (const w of [1024, 390]) {
  const page = await open('ts', w);
  await page.goto(base + '/job/demo-curlew/isolate'); await page.waitForTimeout(1500);
  await shot(page, 'iso-' + w);
  await page.goto(base + '/job/demo-avocet/strip'); await page.waitForTimeout(1500);
  await shot(page, 'strip-' + w);
  await page.close();
}
await browser.close();
