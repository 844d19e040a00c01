import { expect, test, type Page } from '@playwright/test';
import { expectAllKept, field, letWait, openJob, saidAtBench, signIn, startSweep, type } from './bench-desk.ts';

function report(name: string, value: string, budget: string): void {
  process.stdout.write(`${name.padEnd(62)} ${value.padStart(16)}   budget ${budget}\n`);
}

const percentile = (all: readonly number[], share: number): number =>
  [...all].sort((a, b) => a - b)[Math.min(all.length - 1, Math.floor(share * all.length))] ?? NaN;

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

const KEYS = ['7', '.', '8', '1', '2', 'Enter', '7', '.', '8', '1', '3', 'Enter', '7', '.', '8', '1', '4', 'Enter'];

/** Milliseconds from each key to the paint behind it, on a processor slowed four times. */
async function timeKeys(page: Page, keys: readonly string[]): Promise<number[]> {
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
  for (const key of keys) {
    await page.keyboard.press(key);
    await page.waitForTimeout(150);
  }
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  return page.evaluate(() => (window as unknown as { keyTimes: number[] }).keyTimes);
}

test('a key press in the sweep, on a processor slowed four times', async ({ page }) => {
  await signIn(page);
  await page.setContent('<input autofocus />');
  await page.locator('input').focus();
  const plain = await timeKeys(page, KEYS);
  const job = await openJob(page, `SP-${Date.now()}`);
  for (const waiting of [0, 100]) {
    if (waiting > 0) {
      // they cannot leave: what is pressed is folded behind all of them
      await page.route('**/batches', (route) => route.abort());
      await letWait(page, job, waiting);
      await page.reload();
    } else {
      await page.goto(`${job}/test`);
      await startSweep(page, 'Open circuit');
      await type(page, ...Array.from({ length: 12 }, (_, i) => (7.8 + i / 1000).toFixed(3)));
    }
    await field(page).focus();
    const times = await timeKeys(page, KEYS);
    report(`key to paint with ${waiting} acts waiting, 90 of 100`, `${percentile(times, 0.9).toFixed(0)} ms`, '50 ms');
    report(
      '  median, slowest, Enter included',
      `${percentile(times, 0.5).toFixed(0)}, ${Math.max(...times).toFixed(0)} ms`,
      'printed only',
    );
    const over = percentile(times, 0.9) / percentile(plain, 0.9);
    report('  over a plain input', over.toFixed(2), 'printed only');
  }
});

test('a torque key, one a nut, on a processor slowed four times', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-redshank/rebuild');
  const tight = page.getByRole('button', { name: /^Number \d+: clicked$/ });
  await tight.focus();
  const times = await timeKeys(
    page,
    Array.from({ length: 20 }, () => 'Enter'),
  );
  await expectAllKept(page);
  report('torque key to picture, 90 of 100', `${percentile(times, 0.9).toFixed(0)} ms`, '50 ms');
  report('  median, slowest', `${percentile(times, 0.5).toFixed(0)}, ${Math.max(...times).toFixed(0)} ms`, 'printed only');
});

test('from the arrival of an event to its paint', async ({ page, browser }) => {
  await page.addInitScript(() => {
    const times: number[] = [];
    const Plain = window.EventSource;
    class Timed extends Plain {
      constructor(url: string) {
        super(url);
        this.addEventListener('kept', () => {
          const begin = performance.now();
          // the word is read in the next turns, the frame behind them shows it
          setTimeout(() =>
            requestAnimationFrame(() => {
              const channel = new MessageChannel();
              channel.port1.onmessage = () => times.push(performance.now() - begin);
              channel.port2.postMessage(null);
            }),
          );
        });
      }
    }
    Object.assign(window, { EventSource: Timed, paintTimes: times });
  });
  await signIn(page);
  const job = await openJob(page, `SQ-${Date.now()}`);
  await page.goto(`${job}/isolate`);
  await expectAllKept(page);
  const other = await (await browser.newContext()).newPage();
  const base = new URL(page.url()).origin;
  await signIn(other, 'ts', base);
  for (let i = 0; i < 100; i++) {
    const fact = { kind: 'plug', isIn: i % 2 === 1 };
    const data = {
      ...{ commandId: crypto.randomUUID(), ...saidAtBench(0), by: 'ts', version: 3 },
      act: { type: 'fact.stated', body: { stage: 'isolate', fact } },
    };
    const kept = await other.request.post(`${base}/api/jobs/${job.split('/').pop()}/acts`, { data, headers: { origin: base } });
    expect(kept.ok()).toBe(true);
    await other.waitForTimeout(40);
  }
  const times = await page.evaluate(() => (window as unknown as { paintTimes: number[] }).paintTimes);
  expect(times.length).toBeGreaterThanOrEqual(90);
  report('stream to paint, 99 of 100', `${percentile(times, 0.99).toFixed(0)} ms`, 'printed only');
});
