import { spawn, type ChildProcess } from 'node:child_process';
import net from 'node:net';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { eventsOf, expectAllKept, field, openJob, signIn, startSweep, type } from './bench-desk.ts';

const ROOT = path.resolve(import.meta.dirname, '../..');

/** A second server process on the same database, which this test may kill. */
class Server {
  port = 0;
  #child: ChildProcess | null = null;

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    this.port ||= await findFreePort();
    const env = {
      ...process.env,
      PORT: String(this.port),
      ESTUARINE_SECRET: 'a secret of the browser tests, long enough',
      ESTUARINE_TRIES_PER_MINUTE: '1000',
      ESTUARINE_WEB: path.join(ROOT, 'web/dist/browser'),
    };
    const child = spawn(process.execPath, [path.join(ROOT, 'server/dist/main.js')], { env, stdio: ['ignore', 'pipe', 'inherit'] });
    this.#child = child;
    await new Promise<void>((resolve, reject) => {
      child.stdout.on('data', (chunk: Buffer) => {
        if (chunk.toString().includes('listening')) resolve();
      });
      child.once('exit', () => reject(new Error('the server ended')));
    });
  }

  async kill(): Promise<void> {
    const child = this.#child;
    if (!child) return;
    this.#child = null;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await gone;
  }
}

function findFreePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = net.createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as net.AddressInfo;
      probe.close(() => resolve(port));
    });
  });
}

test.describe('with a server that can be killed', () => {
  const server = new Server();
  test.beforeAll(() => server.start());
  test.afterAll(() => server.kill());

  test('killed in the middle of a sweep: typing goes on, a reload too, and every reading arrives once, in order', async ({ browser }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `OU-${Date.now()}`);
    await page.goto(`${job}/test`);
    await page.evaluate(() => navigator.serviceWorker.ready);
    await startSweep(page, 'Open circuit');
    const values = Array.from({ length: 28 }, (_, i) => (7.8 + i / 1000).toFixed(3));
    await type(page, ...values.slice(0, 8));
    await expect(page.getByText('8 of 28 taken')).toBeVisible();
    await expectAllKept(page);

    await server.kill();
    await type(page, ...values.slice(8, 16));
    await expect(page.getByText('16 of 28 taken')).toBeVisible();
    await expect(page.getByRole('status').filter({ hasText: '8 acts on this device, not kept yet' })).toBeVisible();

    await page.reload();
    await expect(page.getByText('16 of 28 taken')).toBeVisible();
    await field(page).focus();
    await type(page, ...values.slice(16));
    await expect(page.getByText('28 of 28 taken')).toBeVisible();
    // after ten seconds of silence the number is struck through, and the most that is possible stands beside it
    await expect(page.getByRole('button', { name: /Why this number/ })).toContainText('not connected. Up to 269 V is possible.', {
      timeout: 20_000,
    });

    await server.start();
    await expectAllKept(page);
    const readings = (await eventsOf(page, server.url, job)).filter((e) => e.type === 'reading.taken');
    expect(readings.map((e) => (e.type === 'reading.taken' ? e.body.value.toFixed(3) : ''))).toEqual(values);
    await context.close();
  });

  test('a job opened while the server is away is worked on, and gets its number when the server is back', async ({ browser }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    await page.goto('/yard/new');
    await expect(page.getByLabel('Pack profile').locator('option[value="dunlin-28"]')).toBeAttached();
    await page.evaluate(() => navigator.serviceWorker.ready);
    await server.kill();
    await page.reload();
    const job = await openJob(page, `AW-${Date.now()}`, { isAway: true });
    await page.goto(`${job}/test`);
    await startSweep(page, 'Open circuit');
    await type(page, '7.81', '7.82');
    await expect(page.getByText('2 of 28 taken')).toBeVisible();
    await server.start();
    await expectAllKept(page);
    expect((await eventsOf(page, server.url, job)).map((e) => e.type)).toEqual([
      'job.opened',
      'sweep.started',
      'reading.taken',
      'reading.taken',
    ]);
    await context.close();
  });

  test('a photograph taken while the server is away waits on the device, through a reload, and arrives', async ({ browser }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `PH-${Date.now()}`);
    await page.goto(`${job}/strip?part=photos`);
    await expect(page.getByText('No photograph yet')).toBeVisible();
    await page.evaluate(() => navigator.serviceWorker.ready);
    await expectAllKept(page);
    await server.kill();
    const drawn = await page.evaluate(() => document.createElement('canvas').toDataURL('image/jpeg').split(',')[1] ?? '');
    await page.getByLabel('What it shows').fill('Left bay');
    await page.getByLabel('From files').setInputFiles({ name: 'a.jpg', mimeType: 'image/jpeg', buffer: Buffer.from(drawn, 'base64') });
    await expect(page.getByText('waits on this device')).toBeVisible();
    await page.reload();
    await expect(page.getByText('waits on this device')).toBeVisible();
    await server.start();
    await expectAllKept(page);
    await expect(page.getByText('waits on this device')).toBeHidden({ timeout: 20_000 });
    const photo = (await eventsOf(page, server.url, job)).find((e) => e.type === 'photo.taken');
    if (photo?.type !== 'photo.taken') throw new Error('the act did not arrive');
    const kept = await page.request.get(`${server.url}/api/jobs/${job.split('/').pop()}/photos/${photo.body.photoId}`);
    expect(kept.headers()['content-type']).toBe('image/jpeg');
    expect((await kept.body()).length).toBe(photo.body.byte);
    await context.close();
  });

  test('two browsers, one on each server process, see each other’s readings within a second', async ({ browser }) => {
    const one = await browser.newContext({ baseURL: server.url });
    const two = await browser.newContext({ baseURL: process.env.ESTUARINE_URL ?? '' });
    const [page, other] = [await one.newPage(), await two.newPage()];
    await signIn(page, 'om', server.url);
    await signIn(other, 'ts');
    const job = await openJob(page, `TW-${Date.now()}`);
    await page.goto(`${job}/test`);
    await startSweep(page, 'Open circuit');
    await type(page, '7.81');
    await expectAllKept(page);
    await other.goto(`${job}/test`);
    await expect(other.getByText('1 of 28 taken')).toBeVisible();
    // the first shows that both are connected, the second counts
    await type(page, '7.82');
    await expect(other.getByText('2 of 28 taken')).toBeVisible();
    await type(page, '7.83');
    await expect(other.getByText('3 of 28 taken')).toBeVisible({ timeout: 1000 });
    // and back: another person reads the same module differently; both stand until one is chosen
    await field(other).focus();
    await other.keyboard.press('ArrowUp');
    await type(other, '7.91');
    await expect(page.getByText(/Two readings differ/)).toBeVisible();
    await one.close();
    await two.close();
  });

  test('the acts of one person wait for that person', async ({ browser }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `PE-${Date.now()}`);
    await page.goto(`${job}/test`);
    await startSweep(page, 'Open circuit');
    await expectAllKept(page);
    await server.kill();
    await type(page, '7.81', '7.82');
    await server.start();
    await signIn(page, 'ts', server.url);
    await page.reload();
    // what OM's page sent before the other person signed in is kept; the rest waits
    await expect(page.getByRole('status').filter({ hasText: /2 acts of OM wait for OM|1 act of OM waits for OM|All kept/ })).toBeVisible();
    await signIn(page, 'om', server.url);
    await page.reload();
    await expectAllKept(page);
    const readings = (await eventsOf(page, server.url, job)).filter((e) => e.type === 'reading.taken');
    expect(readings.map((e) => e.by)).toEqual(['om', 'om']);
    await context.close();
  });
});
