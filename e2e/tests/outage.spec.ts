import type { JobEvent } from '@estuarine/core';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import { eventsOf, expectAllKept, field, letWait, openJob, packCard, signIn, startSweep, type } from './bench-desk.ts';
import { OwnServer } from './own-server.ts';

test.describe('with a server that can be killed', () => {
  const server = new OwnServer();
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
    await expect(page.getByRole('button', { name: /Why this number/ })).toContainText('not connected. Up to 269 V is possible.');

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
    await expect(packCard(page, 'dunlin-28')).toBeAttached();
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
    await expect(page.getByText('waits on this device')).toBeHidden();
    const photo = (await eventsOf(page, server.url, job)).find((e) => e.type === 'photo.taken');
    if (photo?.type !== 'photo.taken') throw new Error('the act did not arrive');
    const kept = await page.request.get(`${server.url}/api/jobs/${job.split('/').pop()}/photos/${photo.body.photoId}`);
    expect(kept.headers()['content-type']).toBe('image/jpeg');
    expect((await kept.body()).subarray(0, 3).toString('hex')).toBe('ffd8ff');
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

  test('what one person stated goes by the session of the next, what one person permits waits for that person', async ({ browser }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `PE-${Date.now()}`);
    // gloves are chosen from a register that this device must have seen
    const register = page.waitForResponse((r) => r.url().endsWith('/api/gear') && r.ok());
    await page.goto(`${job}/isolate`);
    await page.evaluate(() => navigator.serviceWorker.ready);
    await (await register).finished();
    await expectAllKept(page);
    await server.kill();
    // a permit, and behind it what bares something
    await page.getByRole('button', { name: 'The key is away: lock box' }).first().click();
    await page.getByRole('button', { name: /^Air test passed just now: take G-/ }).click();
    await page
      .getByRole('group', { name: /HV connectors/ })
      .getByRole('button', { name: 'Off, bare' })
      .click();
    await expect(page.getByRole('status').filter({ hasText: '3 acts on this device, not kept yet' })).toBeVisible();
    await page.close();
    await server.start();
    const next = await context.newPage();
    await signIn(next, 'ts', server.url);
    await next.goto('/yard');
    await expect(next.getByRole('status').filter({ hasText: '1 act of OM waits for OM' })).toBeVisible();
    // the permit waits from the first; the facts go one after another
    const stated = async () =>
      (await eventsOf(next, server.url, job)).filter((e) => e.type === 'fact.stated').map((e) => [e.by, e.forwardedBy]);
    await expect.poll(stated).toEqual([
      ['om', 'ts'],
      ['om', 'ts'],
    ]);
    await signIn(next, 'om', server.url);
    await next.reload();
    await expectAllKept(next);
    expect((await eventsOf(next, server.url, job)).map((e) => e.type)).toContain('gear.picked');
    await context.close();
  });

  test('a second tab knows at once that what it saw wait was kept', async ({ browser }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `TA-${Date.now()}`);
    await page.goto(`${job}/test`);
    await startSweep(page, 'Open circuit');
    const second = await context.newPage();
    await second.goto(`${job}/test`);
    await expectAllKept(second);
    await server.kill();
    await page.bringToFront();
    await field(page).focus();
    await type(page, '7.81', '7.82', '7.83');
    const waits = { hasText: '3 acts on this device, not kept yet' };
    for (const tab of [page, second]) await expect(tab.getByRole('status').filter(waits)).toBeVisible();
    await server.start();
    await expectAllKept(page);
    await expect(second.getByRole('status').filter(waits)).toBeHidden({ timeout: 1000 });
    await expect(second.getByText('3 of 28 taken')).toBeVisible();
    await context.close();
  });

  test('hundreds of acts drain within five seconds', async ({ browser }) => {
    test.slow();
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `DR-${Date.now()}`);
    await page.goto(`${job}/isolate`);
    await page.evaluate(() => navigator.serviceWorker.ready);
    await expectAllKept(page);
    await server.kill();
    await letWait(page, job, 500);
    await page.reload();
    const waits = page.getByRole('status').filter({ hasText: '500 acts on this device, not kept yet' });
    await expect(waits).toBeVisible();
    await server.start();
    const count = async (): Promise<number> => (await eventsOf(page, server.url, job)).filter((e) => e.type === 'fact.stated').length;
    const patient = { intervals: [50] };
    await expect.poll(count, patient).toBeGreaterThan(0);
    const begun = Date.now();
    await expect.poll(count, patient).toBe(500);
    expect(Date.now() - begun).toBeLessThan(5000);
    await expectAllKept(page);
    await context.close();
  });

  test('a screen locks without the server, is opened by the passphrase of whoever was here, and a reload knows them', async ({
    browser,
  }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await page.goto('/yard');
    await page.getByLabel('Short name').fill('om');
    await page.getByLabel('Passphrase').fill('low water at noon');
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
    const job = await openJob(page, `LO-${Date.now()}`);
    await page.evaluate(() => navigator.serviceWorker.ready);
    await expectAllKept(page);
    await server.kill();
    await page.goto(`${job}/isolate`);
    await expect(page.getByRole('button', { name: /^OM / })).toBeVisible();
    await page.keyboard.press('l');
    const locked = page.getByRole('dialog', { name: 'Locked' });
    await expect(locked).toBeVisible();
    await page.reload();
    await expect(locked).toBeVisible();
    await locked.getByRole('radio', { name: /^OM/ }).check();
    for (const [word, reason] of [
      ['123456', 'The server cannot be reached: until it is, only Odile Marram comes back, by passphrase.'],
      ['spring tide on friday', 'That is not the passphrase last used on this device.'],
    ] as const) {
      await locked.getByLabel(/PIN, or passphrase/).fill(word);
      await locked.getByRole('button', { name: 'Unlock' }).click();
      await expect(locked.getByRole('alert')).toHaveText(reason);
    }
    await locked.getByLabel(/PIN, or passphrase/).fill('low water at noon');
    await locked.getByRole('button', { name: 'Unlock' }).click();
    await expect(locked).toBeHidden();
    await page.getByRole('button', { name: 'The key is away: lock box' }).first().click();
    await expect(page.getByRole('status').filter({ hasText: '1 act on this device, not kept yet' })).toBeVisible();
    await server.start();
    await expectAllKept(page);
    await context.close();
  });

  test('a job seen before is struck through while its fetch is refused, however live the stream is', async ({ browser }) => {
    const [one, two] = await Promise.all([browser.newContext({ baseURL: server.url }), browser.newContext({ baseURL: server.url })]);
    const [page, other] = [await one.newPage(), await two.newPage()];
    await signIn(page, 'om', server.url);
    await signIn(other, 'ts', server.url);
    const job = await openJob(page, `ST-${Date.now()}`);
    await page.goto(`${job}/isolate`);
    await expectAllKept(page);
    const line = page.getByRole('button', { name: /Why this number/ });
    await expect(line.locator('s')).toHaveCount(0);
    await page.goto('/yard');
    await other.goto(`${job}/isolate`);
    await other
      .getByRole('group', { name: /HV connectors/ })
      .getByRole('button', { name: 'Off, bare' })
      .click();
    await expectAllKept(other);
    const problem = { type: 'urn:estuarine:busy', title: 'Busy', status: 503, detail: 'Busy.', path: [] };
    await page.route(`**/api/jobs/${job.split('/').pop()}`, (route) => route.fulfill({ status: 503, json: problem }));
    await page.goto(`${job}/isolate`);
    // what this device saw last is 0.0 V
    await expect(line.locator('s')).toHaveText('0.0');
    await expect(line).toContainText(/as of .*Up to 269 V is possible\./);
    await page.waitForTimeout(4000);
    await expect(line.locator('s')).toHaveText('0.0');
    await page.unrouteAll();
    await expect(line.locator('s')).toHaveCount(0);
    await expect(line).toContainText('268.8');
    await Promise.all([one.close(), two.close()]);
  });

  test('what is bare goes past a refusal that nobody has seen, and reaches every other screen', async ({ browser }) => {
    const [one, two] = await Promise.all([browser.newContext({ baseURL: server.url }), browser.newContext({ baseURL: server.url })]);
    const [page, other] = [await one.newPage(), await two.newPage()];
    await signIn(page, 'om', server.url);
    await signIn(other, 'ts', server.url);
    const job = await openJob(page, `RE-${Date.now()}`);
    await page.goto(`${job}/isolate`);
    await expectAllKept(page);
    await other.goto(`${job}/isolate`);
    await expect(other.getByRole('button', { name: /Why this number/ })).toContainText('no two bare posts');
    // the server says no to a permit
    await page.route('**/batches', async (route) => {
      const { acts } = route.request().postDataJSON() as { acts: { act: { type: string } }[] };
      if (acts.every((a) => a.act.type !== 'gear.picked')) return route.fallback();
      const problem = { type: 'urn:estuarine:notDue', title: '', status: 409, detail: 'These gloves are out of date.', path: [] };
      return route.fulfill({ json: { outcomes: acts.map(() => ({ kind: 'refused', problem })) } });
    });
    await page.getByRole('button', { name: 'The key is away: lock box' }).first().click();
    await page.getByRole('button', { name: /^Air test passed just now: take G-/ }).click();
    await expect(page.getByText('These gloves are out of date.')).toBeVisible();
    await page
      .getByRole('group', { name: /HV connectors/ })
      .getByRole('button', { name: 'Off, bare' })
      .click();
    await expect(other.getByRole('button', { name: /Why this number/ })).toContainText('268.8');
    await Promise.all([one.close(), two.close()]);
  });

  test('a shop that was restored: what is gone is shown no more, and what was done since is offered again', async ({ browser }) => {
    const context = await browser.newContext({ baseURL: server.url });
    const page = await context.newPage();
    await signIn(page, 'om', server.url);
    const job = await openJob(page, `EP-${Date.now()}`);
    const jobId = job.split('/').pop() ?? '';
    await page.goto(`${job}/isolate`);
    await page.getByRole('button', { name: 'The key is away: lock box' }).first().click();
    await expectAllKept(page);
    const before = await eventsOf(page, server.url, job);
    await server.kill();
    const epoch = await forget(jobId, 1);
    await server.start();
    const after = (): Promise<JobEvent[]> => eventsOf(page, server.url, job);
    await expect.poll(async () => (await after()).length).toBe(before.length);
    expect((await after()).map((e) => e.commandId)).toEqual(before.map((e) => e.commandId));
    await expectAllKept(page);
    await expect(page.getByRole('button', { name: /Why this number/ }).locator('s')).toHaveCount(0);
    await context.close();
    // all is back: the other server of the tests, which was not started anew, goes on with the log that it knows
    await query('update shop set epoch = $1', [epoch]);
  });
});

/** The shop as a backup of an earlier hour would leave it: events of the job behind a number never were, and the log is another. */
async function forget(jobId: string, after: number): Promise<string> {
  const [{ epoch } = { epoch: '' }] = await query<{ epoch: string }>('select epoch::text from shop', []);
  await query(
    `delete from log_command where command_id in (select command_id from log_event where stream = $1 and number > $2)
     and command_id not in (select command_id from log_event where stream = $1 and number <= $2)`,
    [jobId, after],
  );
  await query('delete from log_event where stream = $1 and number > $2', [jobId, after]);
  await query('update stream set head = $2, hash = (select hash from log_event where stream = $1 and number = $2) where stream = $1', [
    jobId,
    after,
  ]);
  await query('update shop set epoch = gen_random_uuid()', []);
  return epoch;
}

async function query<T extends pg.QueryResultRow>(text: string, values: unknown[]): Promise<T[]> {
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL });
  await client.connect();
  try {
    return (await client.query<T>(text, values)).rows;
  } finally {
    await client.end();
  }
}
