/**
 * Counts what a hand does from opening a job to a chosen match, for packs of five kinds: readings are measurements and are left out. The
 * figures are printed, and none may grow beyond its budget. Run by `npm run presses`.
 */
import { randomUUID } from 'node:crypto';
import type { Act } from '@estuarine/core';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { expectAllKept, packCard, saidAtBench, signIn } from './bench-desk.ts';
import { ClockServer, read } from './clock-desk.ts';

/** Kind, profile, and how many presses it may take. */
const PACKS = [
  ['A', 'dunlin-28', 30],
  ['C', 'turnstone-30', 38],
  ['D', 'curlew-42', 32],
  ['E', 'greenshank-28', 28],
  ['H', 'spoonbill-16', 30],
] as const;

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

  /** @param isFocused the field asks for it by itself: nobody presses it first */
  async type(field: Locator, text: string, isFocused = false): Promise<void> {
    if (isFocused) await expect(field).toBeFocused();
    else this.count.presses++;
    this.count.keys += text.length;
    await field.fill(text);
  }
}

async function open(page: Page, hand: Hand, profile: string): Promise<string> {
  await page.goto(`${server.url}/yard/new`);
  await hand.press(packCard(page, profile));
  await hand.type(page.getByRole('textbox', { name: 'Vehicle' }), 'Knot test wagon', true);
  // two jobs of one test may not share it
  await page.getByLabel(/Label of the pack/).fill(`P${Date.now() % 1_000_000}`);
  await hand.press(page.getByRole('button', { name: 'Open the job' }));
  await expect(page.getByRole('heading', { name: /^Job \d+$/ })).toBeVisible();
  await hand.press(page.getByRole('button', { name: 'none of these' }));
  return new URL(page.url()).pathname.replace(/\/intake$/, '');
}

async function goOn(page: Page, hand: Hand, stage: string): Promise<void> {
  await hand.press(page.getByRole('navigation', { name: 'Stages of the job' }).getByText(stage, { exact: true }));
}

async function isolate(page: Page, hand: Hand): Promise<void> {
  await goOn(page, hand, 'Isolate');
  for (;;) {
    const next = page.locator('app-step-list li.is-next');
    const title = await next.locator('.title').innerText();
    if (title.startsWith('Wait')) break;
    if (title.startsWith('Gloves')) {
      await hand.press(next.getByRole('button', { name: /^Air test passed just now: take G-/ }));
    } else {
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

/** Every zone, or every layer, until nothing is counted in any more; the screen goes on by itself where a place is done with. */
async function takeOff(page: Page, hand: Hand): Promise<void> {
  const groups = page.locator('app-part-card .quick:not(.is-back)');
  const whole = page.locator('app-part-list .whole');
  const on = page.locator('[data-next-place]');
  const look = async (): Promise<string> =>
    [await page.locator('.parts h2').first().innerText(), ...(await groups.evaluateAll((all) => all.map((b) => b.ariaLabel)))].join();
  await expect(page.locator('.parts h2').first()).toBeVisible();
  await expect(groups.or(on).first()).toBeVisible();
  for (let turn = 0; turn < 200; turn++) {
    const before = await look();
    const next = [whole, groups, on].map((l) => l.first());
    for (const button of next)
      if ((await button.count()) > 0) {
        if (await hand.pressIfThere(button)) await expect.poll(look).not.toBe(before);
        break;
      }
    const left = await Promise.all(next.map((l) => l.count()));
    if (left.every((n) => n === 0)) return;
  }
}

async function openPack(page: Page, hand: Hand): Promise<void> {
  await goOn(page, hand, 'Strip');
  await takeOff(page, hand);
  const bench = page.getByRole('button', { name: 'The pack is on the bench' });
  await hand.pressIfThere(bench);
  await goOn(page, hand, 'Open');
  await takeOff(page, hand);
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
      measured: 'unsaid',
      fileName: 'bench.csv',
      sweeps: [
        sweep('openCircuit', 'openCircuitVolt', (i) => 1.06 * nominalVolt + wave(i)),
        sweep('rest', 'restVolt', (i) => 1.06 * nominalVolt + wave(i) - (i === 4 ? 0.4 : 0.02)),
        sweep('capacity', 'capacityAh', (i) => nominalCapacityAh * (0.88 + wave(i))),
      ],
    },
  };
  const data = { commandId: randomUUID(), ...saidAtBench(), by: 'om', version: 3, act };
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

for (const [kind, profile, most] of PACKS)
  test(`a pack of kind ${kind}`, async ({ page }) => {
    await signIn(page, 'om', server.url);
    const hand = new Hand();
    const job = await open(page, hand, profile);
    await isolate(page, hand);
    await openPack(page, hand);
    await measure(page, job);
    await page.goto(`${server.url}${job}/test`);
    await match(page, hand);
    const { presses, keys } = hand.count;
    console.log(`${kind} ${profile}: ${presses} presses and ${keys} keys, readings left out`);
    expect(presses).toBeLessThanOrEqual(most);
  });
