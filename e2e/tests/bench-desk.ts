/** What the browser tests do again and again, through the real screens. */
import AxeBuilder from '@axe-core/playwright';
import type { JobEvent } from '@estuarine/core';
import { expect, type Locator, type Page } from '@playwright/test';

/** Passphrases of the demonstration, as its sign-in page shows them. */
const PASSPHRASES: Record<string, string> = { om: 'low water at noon', ts: 'spring tide on friday', jf: 'mud on both boots' };

/** Signs in on the page's browser without its screen. */
export async function signIn(page: Page, personId = 'om', base = ''): Promise<void> {
  const origin = base || new URL(page.url() === 'about:blank' ? (process.env.ESTUARINE_URL ?? '') : page.url()).origin;
  const data = { personId, passphrase: PASSPHRASES[personId] };
  const signed = await page.request.post(`${origin}/api/session`, { data, headers: { origin } });
  expect(signed.ok(), `sign-in of ${personId}: ${signed.status()} ${await signed.text()}`).toBe(true);
}

/** The card of a shipped profile, where a job is opened. */
export function packCard(page: Page, profile: string): Locator {
  return page.locator(`[data-pack="${profile}"]`);
}

/** Opens a job on the shipped profile and gives its address. */
export async function openJob(page: Page, label: string, { isAway = false, profile = 'dunlin-28' } = {}): Promise<string> {
  if (!isAway) await page.goto('/yard/new');
  await packCard(page, profile).click();
  await page.getByRole('textbox', { name: 'Vehicle' }).fill(`Knot test wagon ${label}`);
  await page.getByRole('textbox', { name: 'Plate' }).fill('TI 900');
  await page.getByLabel(/Label of the pack/).fill(label);
  await page.getByRole('button', { name: 'Open the job' }).click();
  await expect(page.getByRole('heading', { name: /^Job \d+$/ })).toBeVisible();
  return new URL(page.url()).pathname.replace(/\/intake$/, '');
}

export async function startSweep(page: Page, kind: 'Open circuit' | 'After rest' | 'Under load' | 'Capacity'): Promise<void> {
  await page.getByLabel('Sweep', { exact: true }).getByRole('button', { name: kind }).click();
  // by the clock of the test it rested for seconds
  if (kind === 'After rest') await page.getByLabel('Rested, h').fill('12');
  await page.getByRole('button', { name: 'Start the sweep' }).click();
  await field(page).focus();
}

let turn = 0;
/** What an act says of the device that a test speaks for, and when: long enough ago that what a page says next was certainly later. */
export function saidAtBench(secondsAgo = 10): { deviceAt: string; device: { id: string; isClockSure: boolean; turn: number } } {
  return {
    deviceAt: new Date(Date.now() - 1000 * secondsAgo).toISOString(),
    device: { id: `bench-${process.pid}`, isClockSure: true, turn: turn++ },
  };
}

/** The field where readings are typed. */
export function field(page: Page) {
  return page.getByRole('textbox', { name: /^Module \d+, / });
}

export async function type(page: Page, ...values: string[]): Promise<void> {
  for (const value of values) {
    await page.keyboard.type(value);
    await page.keyboard.press('Enter');
  }
}

/** All acts of this browser have been kept by the server. */
export async function expectAllKept(page: Page): Promise<void> {
  await expect(page.getByRole('status').filter({ hasText: 'All kept' })).toBeVisible();
}

/** The log of a job, as the server has it. */
export async function eventsOf(page: Page, base: string, job: string): Promise<JobEvent[]> {
  const answer = await page.request.get(`${base}/api/jobs/${job.split('/').pop()}/events?limit=1000`);
  return ((await answer.json()) as { events: JobEvent[] }).events;
}

/** Puts touches of the plug among the acts that wait on the device, as it stores them: by hand hundreds would take the test an hour. */
export async function letWait(page: Page, job: string, count: number): Promise<void> {
  const jobId = job.split('/').pop();
  const acts = Array.from({ length: count }, (_, i) => ({
    ...{ commandId: crypto.randomUUID(), ...saidAtBench(), by: 'om', version: 3 },
    act: { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: i % 2 === 1 } } },
  }));
  await page.evaluate(
    (waiting) =>
      new Promise<void>((resolve, reject) => {
        const open = indexedDB.open('estuarine');
        open.onerror = () => reject(new Error('no device store'));
        open.onsuccess = () => {
          const transaction = open.result.transaction('waiting', 'readwrite');
          for (const one of waiting) transaction.objectStore('waiting').add(one);
          transaction.oncomplete = () => resolve();
          transaction.onabort = () => reject(new Error('the device store did not take them'));
        };
      }),
    acts.map((sent) => ({ jobId, refused: null, sent })),
  );
}

/** What stands seriously in the way of people who use a screen otherwise; by some rules only where they are named. */
export async function seriousOf(page: Page, rules?: string[]): Promise<string[]> {
  // there is no frame in a screen: it needs no second page to put answers together; and nobody reads a list of what passes
  const builder = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ['violations'] });
  const { violations } = await (rules ? builder.withRules(rules) : builder).analyze();
  const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
  return serious.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`);
}

/** A picture as a camera gives it: larger than is kept. */
export async function camera(page: Page): Promise<Buffer> {
  const base64 = await page.evaluate(() => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [2600, 1300];
    const context = canvas.getContext('2d');
    if (context) context.fillRect(200, 200, 900, 500);
    return canvas.toDataURL('image/jpeg', 0.95).split(',')[1] ?? '';
  });
  return Buffer.from(base64, 'base64');
}
