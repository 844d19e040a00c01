/** A server whose clock the tests set, and the way to a vehicle that is proven dead, through the real screen. */
import { fork, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import { expect, type Page } from '@playwright/test';
import { expectAllKept } from './bench-desk.ts';

const ROOT = path.resolve(import.meta.dirname, '../..');
const MINUTE = 60_000;

/** A server process on the database of the tests whose clock can be moved on. */
export class ClockServer {
  url = '';
  #child: ChildProcess | null = null;

  async start(): Promise<void> {
    const env = {
      ...process.env,
      ESTUARINE_SECRET: 'a secret of the browser tests, long enough',
      ESTUARINE_WEB: path.join(ROOT, 'web/dist/browser'),
    };
    const child = fork(path.join(ROOT, 'e2e/clock-server.mjs'), { env, execArgv: [] });
    this.#child = child;
    this.url = await new Promise((resolve, reject) => {
      child.once('message', (m) => resolve((m as { url: string }).url));
      child.once('exit', () => reject(new Error('the server ended')));
    });
  }

  /** Moves the time on; a page hears of it by the stream's next beat. */
  async advance(minutes: number): Promise<void> {
    const moved = new Promise((resolve) => this.#child?.once('message', resolve));
    this.#child?.send({ advance: minutes * MINUTE });
    await moved;
  }

  stop(): void {
    this.#child?.disconnect();
  }
}

export const step = (page: Page, name: RegExp) => page.locator('app-step-list li').filter({ hasText: name });

/** Every step up to the wait, as the shop orders them: the next one is open by itself. */
export async function goDown(page: Page): Promise<void> {
  for (;;) {
    const next = page.locator('app-step-list li.is-next');
    const title = await next.locator('.title').innerText();
    if (title.startsWith('Wait')) return;
    if (title.startsWith('Gloves')) {
      await next.getByRole('button', { name: /^Air test passed just now: take G-/ }).click();
    } else
      await next
        .getByRole('button', { name: /^(The key is away|The 12 V is off|The .+ is (out|off): |It is done)/ })
        .first()
        .click();
    await expect(next.locator('.title')).not.toHaveText(title);
  }
}

export async function read(page: Page, ...volts: string[]): Promise<void> {
  const field = page.getByRole('textbox', { name: /, volt$/ });
  for (const volt of volts) {
    await field.fill(volt);
    await field.press('Enter');
    await expect(field).toHaveValue('');
  }
}

/** From a job that was just opened to a signed proof of dead. */
export async function proveDead(page: Page, server: ClockServer): Promise<void> {
  await goDown(page);
  const connectors = page.getByRole('group', { name: /HV connectors/ });
  await connectors.getByRole('button', { name: 'Off, bare' }).click();
  await expectAllKept(page);
  await server.advance(15);
  await expect(step(page, /Wait for the capacitors/)).toContainText('min are over');
  await page.getByRole('button', { name: 'Begin with the known source' }).click();
  await read(page, '12.4', '0.3', '-0.3', '0.1', '0', '12.4');
  await page.getByRole('button', { name: 'Sign: dead' }).click();
  await expect(page.getByText('Dead, proven and signed')).toBeVisible();
  await connectors.getByRole('button', { name: 'Off and insulated' }).click();
  await expectAllKept(page);
}
