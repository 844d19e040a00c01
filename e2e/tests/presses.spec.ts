/**
 * Counts what a hand does from an opened job to a chosen match, for packs of five kinds: readings are measurements and are left out. Each
 * pack is walked twice, by the short ways and by the long ones, and the figures are printed. Run by `npm run presses`.
 */
import { randomUUID } from 'node:crypto';
import type { Act } from '@estuarine/core';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { expectAllKept, packCard, signIn } from './bench-desk.ts';
import { ClockServer, read } from './clock-desk.ts';

const PACKS = [
  ['A', 'dunlin-28'],
  ['C', 'turnstone-30'],
  ['D', 'curlew-42'],
  ['E', 'greenshank-28'],
  ['H', 'spoonbill-16'],
] as const;
type Way = 'short' | 'long';

interface Counted {
  presses: number;
  keys: number;
}

const server = new ClockServer();
test.beforeAll(() => server.start());
test.afterAll(() => server.stop());

/** A hand that counts: presses, and keys typed. */
class Hand {
  readonly count: Counted = { presses: 0, keys: 0 };

  async press(what: Locator): Promise<void> {
    this.count.presses++;
    await what.click();
  }

  /** What may be gone by itself before the hand is there: then nothing was pressed. */
  async pressIfThere(what: Locator): Promise<boolean> {
    const wasThere = await what.click({ timeout: 2000 }).then(
      () => true,
      () => false,
    );
    if (wasThere) this.count.presses++;
    return wasThere;
  }

  async type(field: Locator, text: string): Promise<void> {
    this.count.presses++;
    this.count.keys += text.length;
    await field.fill(text);
  }

  async choose(field: Locator, value: string): Promise<void> {
    this.count.presses += 2;
    await field.selectOption(value);
  }
}

async function open(page: Page, hand: Hand, profile: string, label: string): Promise<string> {
  await page.goto(`${server.url}/yard/new`);
  await hand.press(packCard(page, profile));
  await hand.type(page.getByRole('textbox', { name: 'Vehicle' }), 'Knot test wagon');
  await hand.type(page.getByLabel(/Label of the pack/), label);
  await hand.press(page.getByRole('button', { name: 'Open the job' }));
  await expect(page.getByRole('heading', { name: /^Job \d+$/ })).toBeVisible();
  await hand.press(page.getByRole('button', { name: 'none of these' }));
  return new URL(page.url()).pathname.replace(/\/intake$/, '');
}

async function goOn(page: Page, hand: Hand, stage: string): Promise<void> {
  await hand.press(page.getByRole('navigation', { name: 'Stages of the job' }).getByText(stage, { exact: true }));
}

async function isolate(page: Page, hand: Hand, way: Way): Promise<void> {
  await goOn(page, hand, 'Isolate');
  for (;;) {
    const next = page.locator('app-step-list li.is-next');
    const title = await next.locator('.title').innerText();
    if (title.startsWith('Wait')) break;
    if (title.startsWith('Gloves')) {
      await hand.press(next.getByLabel('Air test passed just now'));
      await hand.press(next.getByRole('button', { name: /^Take G-/ }));
    } else {
      const place = next.getByLabel(/^Where the (key|plug) is kept/);
      if (way === 'long' && (await place.count()) > 0) {
        await hand.type(place, 'lock box');
        await hand.press(next.getByRole('button', { name: /, there$/ }));
      } else
        await hand.press(next.getByRole('button', { name: /^(The key is away|The 12 V is off|The .+ is (out|off): |It is done)/ }).first());
    }
    await expect(next.locator('.title')).not.toHaveText(title);
  }
  const connectors = page.getByRole('group', { name: /HV connectors/ });
  await hand.press(connectors.getByRole('button', { name: 'Off, bare' }));
  await expectAllKept(page);
  await server.advance(20);
  await expect(page.getByText(/min are over/).first()).toBeVisible();
  await hand.press(page.getByRole('button', { name: 'Begin with the known source' }));
  await read(page, '12.4', '0.3', '-0.3', '0.1', '0', '12.4');
  await hand.press(page.getByRole('button', { name: 'Sign: dead' }));
  await expect(page.getByText('Dead, proven and signed')).toBeVisible();
  await hand.press(connectors.getByRole('button', { name: 'Off and insulated' }));
}

/** Every zone, or every layer, until nothing is counted in any more. */
async function takeOff(page: Page, hand: Hand, way: Way): Promise<void> {
  const groups = page.locator('app-part-card .quick:not(.is-back)');
  const whole = page.getByRole('button', { name: 'All of it off, as the profile says…' });
  const on = page.locator('[data-next-place]');
  const look = async (): Promise<string> =>
    [await page.locator('.parts h2').first().innerText(), ...(await groups.evaluateAll((all) => all.map((b) => b.ariaLabel)))].join();
  await expect(page.locator('.parts h2').first()).toBeVisible();
  await expect(groups.or(on).first()).toBeVisible();
  for (let turn = 0; turn < 200; turn++) {
    if (way === 'short' && (await whole.count()) > 0) {
      if (!(await hand.pressIfThere(whole))) continue;
      await hand.press(page.getByRole('button', { name: /pieces off, as the profile says$/ }));
      await expect(whole).toHaveCount(0);
      continue;
    }
    if ((await groups.count()) > 0) {
      const before = await look();
      await hand.pressIfThere(groups.first());
      await expect.poll(look).not.toBe(before);
      continue;
    }
    if ((await on.count()) === 0) return;
    const place = await page.locator('.parts h2').first().innerText();
    await hand.pressIfThere(on);
    await expect(page.locator('.parts h2').first()).not.toHaveText(place);
  }
}

async function openPack(page: Page, hand: Hand, way: Way): Promise<void> {
  await goOn(page, hand, 'Strip');
  await takeOff(page, hand, way);
  await hand.press(page.getByRole('button', { name: 'Lift out' }));
  const bench = page.getByRole('button', { name: 'The pack is on the bench' });
  if ((await bench.count()) > 0) await hand.press(bench);
  await goOn(page, hand, 'Open');
  await takeOff(page, hand, way);
  await expectAllKept(page);
}

/** What the meter would say; typed by nobody here, since both ways type the same. */
async function measure(page: Page, job: string): Promise<void> {
  const id = job.split('/').pop() ?? '';
  const path = `${server.url}/api/jobs/${id}`;
  const { state } = (await (await page.request.get(path)).json()) as { state: { pack: { places: { moduleId: string | null }[] } } };
  const { profile } = (await (await page.request.get(`${path}/job.json`)).json()) as {
    profile: { moduleType: { nominalVolt: number; nominalCapacityAh: number } };
  };
  const { nominalVolt, nominalCapacityAh } = profile.moduleType;
  const sweep = (
    kind: 'openCircuit' | 'rest' | 'capacity',
    quantity: 'openCircuitVolt' | 'restVolt' | 'capacityAh',
    of: (i: number) => number,
  ) => ({
    ...{ sweepId: `${id}-${kind}`, kind, restSince: kind === 'rest' ? `${id}-openCircuit` : null, restHour: kind === 'rest' ? 12 : null },
    ...{ loadAmpere: null, loadSecond: null, recovered: 'all' as const, resolution: null },
    readings: state.pack.places.map((_, i) => ({ place: i + 1, quantity, value: Number(of(i).toFixed(3)) })),
  });
  const wave = (i: number): number => 0.002 * Math.sin(3 * i);
  const act: Act = {
    type: 'readings.imported',
    body: {
      fileName: 'bench.csv',
      sweeps: [
        sweep('openCircuit', 'openCircuitVolt', (i) => 1.06 * nominalVolt + wave(i)),
        sweep('rest', 'restVolt', (i) => 1.06 * nominalVolt + wave(i) - (i === 4 ? 0.4 : 0.02)),
        sweep('capacity', 'capacityAh', (i) => nominalCapacityAh * (0.88 + wave(i))),
      ],
    },
  };
  const data = { commandId: randomUUID(), deviceAt: new Date().toISOString(), by: 'om', version: 1, act };
  const kept = await page.request.post(`${path}/acts`, { data, headers: { origin: server.url } });
  expect(kept.ok(), await kept.text()).toBe(true);
}

async function match(page: Page, hand: Hand): Promise<void> {
  await goOn(page, hand, 'Match');
  await hand.press(page.getByRole('button', { name: 'Compute the schools' }));
  const choose = page.getByRole('button', { name: 'Choose this' });
  await expect(choose.nth(1)).toBeVisible({ timeout: 120_000 });
  await hand.press(choose.first());
  await expect(page.getByRole('heading', { name: /is chosen|is on its way/ })).toBeVisible();
}

for (const [kind, profile] of PACKS)
  test(`a pack of kind ${kind}`, async ({ page }) => {
    await signIn(page, 'om', server.url);
    const counted: Record<Way, Counted> = { long: { presses: 0, keys: 0 }, short: { presses: 0, keys: 0 } };
    for (const way of ['long', 'short'] as const) {
      const hand = new Hand();
      const job = await open(page, hand, profile, `${kind}${way === 'long' ? 'L' : 'S'}${Date.now() % 100_000}`);
      await isolate(page, hand, way);
      await openPack(page, hand, way);
      await measure(page, job);
      await page.goto(`${server.url}${job}/test`);
      await match(page, hand);
      counted[way] = hand.count;
    }
    const say = ({ presses, keys }: Counted): string => `${presses} presses, ${keys} keys`;
    console.log(`${kind} ${profile}: ${say(counted.long)} group by group; ${say(counted.short)} by the short ways`);
    expect(counted.short.presses).toBeLessThan(counted.long.presses);
  });
