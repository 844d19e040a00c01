/**
 * Long and hostile: the server is killed, the database restarted and the network spoiled again and again, while two people type in
 * three tabs and a third looks on. `npm run trials` runs it; the tests do not.
 */
import fs from 'node:fs';
import { expect, test, type Browser, type BrowserContext, type Page } from '@playwright/test';
import { eventsOf, expectAllKept, field, openJob, packCard, saidAtBench, signIn, startSweep } from './bench-desk.ts';
import { Proxy, type Weather } from './proxy.ts';

const COUNTS = (process.env.ESTUARINE_OUTAGES ?? '100,20,20').split(',').map(Number);
const BASE = process.env.ESTUARINE_URL ?? '';
/** Anything unstruck is at most so old. */
const CERTAIN_MILLISECOND = 10_000;
/** From the question of the page to its answer, on a busy machine. */
const LOOK_MILLISECOND = 500;
const STUCK_MILLISECOND = 40_000;
const STRING_VOLT = 268.8;

const pick = <T>(list: readonly T[]): T => list[Math.floor(Math.random() * list.length)] as T;
const between = (least: number, most: number): number => least + Math.random() * (most - least);
const sleep = (millisecond: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, millisecond));

interface Typed {
  readonly job: string;
  readonly by: string;
  readonly values: string[];
}

interface Place {
  readonly context: BrowserContext;
  readonly proxy: Proxy;
}

async function placeFor(browser: Browser, personId: string): Promise<Place> {
  const proxy = new Proxy();
  const server = await proxy.start();
  const context = await browser.newContext({ baseURL: BASE, proxy: { server, bypass: '<-loopback>' } });
  // nothing hangs for ever: what cannot be done in this time says where
  context.setDefaultTimeout(STUCK_MILLISECOND);
  const page = await context.newPage();
  await page.goto('/yard');
  await page.getByRole('button', { name: new RegExp(`^${personId.toUpperCase()} `) }).click();
  await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
  await page.goto('/yard/new');
  await expect(packCard(page, 'dunlin-28')).toBeAttached();
  await page.evaluate(() => navigator.serviceWorker.ready);
  await page.close();
  return { context, proxy };
}

/** Types packs full of readings, one job after another, until it is over. */
async function typeOn(page: Page, by: string, isOver: () => boolean, typed: Typed[]): Promise<void> {
  for (let turn = 0; !isOver(); turn++) {
    const job = await openJob(page, `${by}-${turn}-${Math.random().toString(36).slice(2, 8)}`);
    const mine: Typed = { job, by, values: [] };
    typed.push(mine);
    await page.goto(`${job}/test`);
    await startSweep(page, 'Open circuit');
    for (let place = 1; place <= 28 && !isOver(); place++) {
      const value = (7.6 + Math.random() * 0.4).toFixed(3);
      await expect(field(page)).toHaveAccessibleName(new RegExp(`^Module ${place}, `));
      await page.keyboard.type(value);
      await page.keyboard.press('Enter');
      mine.values.push(value);
      await expect(page.getByText(`${place} of 28 taken`)).toBeVisible();
      await sleep(between(50, 500));
    }
  }
}

/** Bares and insulates the connectors of a job by the server's own door; gives what stood when. */
async function bareAndInsulate(page: Page, job: string, isOver: () => boolean): Promise<{ at: number; isBare: boolean }[]> {
  const stood: { at: number; isBare: boolean }[] = [];
  const path = `${BASE}/api/jobs/${job.split('/').pop()}/acts`;
  for (let turn = 0; !isOver(); turn++) {
    const isBare = turn % 2 === 0;
    const fact = { kind: 'connectors', are: isBare ? 'open' : 'closed' };
    const act = { type: 'fact.stated', body: { stage: 'isolate', fact, counts: 'all' } };
    const data = { commandId: crypto.randomUUID(), ...saidAtBench(0), by: 'ts', version: 3, act };
    for (;;) {
      const asked = await page.request.post(path, { data, headers: { origin: BASE }, timeout: 5000 }).catch(() => null);
      if (asked?.ok()) break;
      await sleep(200);
    }
    stood.push({ at: Date.now(), isBare });
    await sleep(between(2000, 25_000));
  }
  return stood;
}

interface Seen {
  readonly at: number;
  readonly volt: number;
  readonly isStruck: boolean;
}

/** What a screen shows, again and again. */
async function lookOn(page: Page, isOver: () => boolean): Promise<Seen[]> {
  const seen: Seen[] = [];
  while (!isOver()) {
    const at = Date.now();
    const found = await page.evaluate(() => {
      const line = document.querySelector('app-exposure-line .why');
      const struck = line?.querySelector('s');
      const number = (struck ?? line?.querySelector('.volt'))?.textContent ?? '';
      return line
        ? { volt: Number.parseFloat(/[\d.]+/.exec(number)?.[0] ?? 'NaN'), isStruck: struck !== null && struck !== undefined }
        : null;
    });
    if (found) seen.push({ at, ...found });
    await sleep(250);
  }
  return seen;
}

test('kills of the server, restarts of the database and cuts of the network, while two people type in three tabs', async ({ browser }) => {
  test.setTimeout(3_600_000);
  const [kills = 0, restarts = 0, cuts = 0] = COUNTS;
  const places = [await placeFor(browser, 'om'), await placeFor(browser, 'ts'), await placeFor(browser, 'jf')] as const;
  const [om, ts, jf] = places;
  const outages = [
    ...Array.from({ length: kills }, () => 'kill' as const),
    ...Array.from({ length: restarts }, () => 'restart' as const),
    ...Array.from({ length: cuts }, () => 'cut' as const),
  ].sort(() => Math.random() - 0.5);

  // what the third looks at, and who changes it
  const other = await (await browser.newContext({ baseURL: BASE })).newPage();
  await signIn(other, 'ts', BASE);
  const watched = await openJob(other, 'watched');
  await expectAllKept(other);
  const looking = await jf.context.newPage();
  await looking.goto(`${watched}/isolate`);

  let isOver = false;
  const over = (): boolean => isOver;
  const typed: Typed[] = [];
  const tabs = [await om.context.newPage(), await om.context.newPage(), await ts.context.newPage()];
  const typing = Promise.all([
    ...tabs.map((tab, i) => typeOn(tab, i < 2 ? 'om' : 'ts', over, typed)),
    bareAndInsulate(other, watched, over),
    lookOn(looking, over),
  ]);
  // a fault of theirs ends the outages
  typing.catch(async () => {
    isOver = true;
    for (const tab of tabs) process.stdout.write(`${tab.url()}\n${(await tab.locator('body').innerText().catch(String)).slice(0, 600)}\n`);
  });
  const died = { server: 0, database: 0 };
  for (const [i, outage] of outages.entries()) {
    if (isOver) break;
    await sleep(between(300, 3000));
    if (outage === 'cut') {
      const { proxy } = pick(places);
      proxy.turn(pick<Weather>(['cut', 'silent', 'answersLost']));
      await sleep(between(1000, 15_000));
      proxy.turn('fair');
    } else {
      const { serverPid, databasePid } = JSON.parse(fs.readFileSync(process.env.ESTUARINE_STATE ?? '', 'utf8')) as Record<string, number>;
      try {
        if (outage === 'kill') process.kill(serverPid ?? 0, 'SIGKILL');
        else process.kill(databasePid ?? 0, pick(['SIGINT', 'SIGQUIT'] as const));
        died[outage === 'kill' ? 'server' : 'database']++;
      } catch {
        // it was on its way up from the last
      }
      await expect.poll(() => isUp(), { timeout: 60_000 }).toBe(true);
    }
    if (i % 20 === 19) process.stdout.write(`${i + 1} of ${outages.length} outages, ${sum(typed)} readings typed\n`);
  }
  isOver = true;
  const results = await typing;
  for (const { proxy } of places) proxy.turn('fair');

  for (const tab of tabs) await expectAllKept(tab);
  const { origin } = new URL(BASE);
  let kept = 0;
  for (const { job, by, values } of typed) {
    const events = await eventsOf(other, origin, job);
    const readings = events.flatMap((e) => (e.type === 'reading.taken' ? [{ by: e.by, value: e.body.value.toFixed(3) }] : []));
    expect(readings).toEqual(values.map((value) => ({ by, value })));
    expect(new Set(events.map((e) => e.number)).size).toBe(events.length);
    kept += readings.length;
  }

  const stood = results[3] as { at: number; isBare: boolean }[];
  const seen = results[4] as Seen[];
  const below = seen.filter(({ at, volt, isStruck }) => {
    if (isStruck || volt >= STRING_VOLT - 0.05) return false;
    const then = stood.findLast((s) => s.at <= at);
    return then?.isBare === true && at - then.at > CERTAIN_MILLISECOND + LOOK_MILLISECOND;
  });
  const certain = seen.filter((s) => !s.isStruck).length;
  process.stdout.write(
    `${died.server} kills of the server, ${died.database} restarts of the database, ${cuts} cuts of the network\n` +
      `${sum(typed)} readings typed in ${typed.length} jobs, ${kept} kept once and in order, every queue empty\n` +
      `${seen.length} looks at a third screen, ${certain} of them at a number that was not struck through, ${below.length} of those below what had been bare for more than 10 s\n`,
  );
  expect(below).toEqual([]);
  expect(certain).toBeGreaterThan(seen.length / 10);
  for (const { context, proxy } of places) {
    await context.close();
    await proxy.stop();
  }
});

const sum = (typed: readonly Typed[]): number => typed.reduce((total, t) => total + t.values.length, 0);

async function isUp(): Promise<boolean> {
  return fetch(`${BASE}/api/health`).then(
    (answer) => answer.ok,
    () => false,
  );
}
