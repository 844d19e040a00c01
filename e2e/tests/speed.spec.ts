import { expect, test } from '@playwright/test';
import { field, openJob, signIn, startSweep, type } from './bench-desk.ts';

function report(name: string, value: string, budget: string): void {
  process.stdout.write(`${name.padEnd(62)} ${value.padStart(16)}   budget ${budget}\n`);
}

test('size and number of requests at first load', async ({ page }) => {
  // the yard lies behind the door
  await signIn(page);
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Network.enable');
  let bytes = 0;
  let count = 0;
  cdp.on('Network.loadingFinished', ({ encodedDataLength }) => {
    bytes += encodedDataLength;
    count++;
  });
  await page.addInitScript(() => Object.defineProperty(navigator, 'serviceWorker', { value: undefined }));
  await page.goto('/yard');
  await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
  await page.waitForTimeout(1000);
  report('first load of the yard, over the wire', `${(bytes / 1000).toFixed(0)} kB`, '450 kB');
  report('  requests', String(count), 'printed only');
});

test('a key press in the sweep, on a processor slowed four times', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `SP-${Date.now()}`);
  await page.goto(`${job}/test`);
  await startSweep(page, 'Open circuit');
  await type(page, ...Array.from({ length: 12 }, (_, i) => (7.8 + i / 1000).toFixed(3)));
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  await page.evaluate(() => {
    const times: number[] = [];
    Object.assign(window, { keyTimes: times });
    window.addEventListener(
      'keydown',
      () => {
        const begin = performance.now();
        requestAnimationFrame(() => {
          const channel = new MessageChannel();
          channel.port1.onmessage = () => times.push(performance.now() - begin);
          channel.port2.postMessage(null);
        });
      },
      { capture: true },
    );
  });
  await field(page).focus();
  for (const key of ['7', '.', '8', '1', '2', 'Enter', '7', '.', '8', '1', '3', 'Enter']) {
    await page.keyboard.press(key);
    await page.waitForTimeout(150);
  }
  const times = await page.evaluate(() => (window as unknown as { keyTimes: number[] }).keyTimes);
  const sorted = [...times].sort((a, b) => a - b);
  report('key to paint in the sweep, median', `${(sorted[Math.floor(sorted.length / 2)] ?? NaN).toFixed(0)} ms`, '50 ms');
  report('  slowest of 12, Enter included', `${(sorted.at(-1) ?? NaN).toFixed(0)} ms`, '50 ms');
});
