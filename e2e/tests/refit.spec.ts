import { randomUUID } from 'node:crypto';
import { expect, test, type Page } from '@playwright/test';
import type { Act, Fact, Profile } from '@estuarine/core';
import { expectAllKept, openJob, packCard, saidAtBench, signIn } from './bench-desk.ts';

const next = (page: Page) => page.locator('app-refit-stage .next');
const room = (page: Page, name: string) => page.getByRole('navigation', { name: 'Parts of this stage' }).getByRole('button', { name });

/** Each group that is next, one press each, or new where it broke or was not there; the screen goes on to the next zone by itself. */
async function putTrimBack(page: Page): Promise<void> {
  for (;;) {
    const text = await next(page).innerText();
    const name = /× (.+) back, /.exec(text)?.[1];
    if (name === undefined) return;
    const card = page.locator('app-part-card').filter({ hasText: name });
    await expect(card).toBeVisible();
    const back = card.getByRole('button', { name: /^Put back \d+/ });
    if ((await back.count()) > 0) await back.first().click();
    else await putNewIn(page, name);
    await expect(next(page)).not.toHaveText(text, { useInnerText: true });
  }
}

/** What broke or was not there is had new. */
async function putNewIn(page: Page, part = ''): Promise<void> {
  const owed = page.locator('app-part-card').filter({ hasText: 'to order' }).filter({ hasText: part });
  for (let left = await owed.count(); left > 0; left--) {
    await owed.first().getByRole('button').first().click();
    await page.getByRole('button', { name: 'Put in new' }).click();
    await expect(owed).toHaveCount(left - 1);
  }
}

async function openZone(page: Page, name: RegExp): Promise<void> {
  const zone = page.getByRole('region', { name: /^Zones, in the order/ }).getByRole('button', { name });
  await zone.click();
  await expect(zone).toHaveAttribute('aria-pressed', 'true');
}

test('A: a flat 12 V, a plug that is not latched, codes that are cleared and driven away, trim, and the last wake', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-bittern/refit?part=wake');
  await expect(next(page)).toContainText('12 V battery at rest and under load');
  const tester = page.getByRole('button', { name: 'Take from the simulated 12 V tester' });
  await tester.click();
  await expect(next(page)).toContainText('charge the 12 V battery');
  await expect(page.getByText('a flat battery fails any load')).toBeVisible();
  await tester.click();
  await expect(next(page)).toContainText('service plug: lever slid home until it locks');

  await expect(page.getByText('It is in, and nobody said yet that it is latched.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'In and latched' })).toHaveAttribute('aria-pressed', 'false');

  // woken all the same: no ready light, and the car says why
  await page.getByRole('button', { name: 'not on', exact: true }).click();
  await page.getByRole('button', { name: 'Keep this wake' }).click();
  await expect(page.getByText('Look first: Plug latched, interlock plug in')).toBeVisible();
  await room(page, 'Scan').click();
  await page.getByRole('button', { name: 'Scan with the simulated reader' }).click();
  await expect(page.getByRole('row', { name: /P0A0D/ })).toContainText('high-voltage interlock open');

  await room(page, 'Wake').click();
  await page.getByRole('button', { name: 'In and latched' }).click();
  await page.getByRole('button', { name: 'strong', exact: true }).click();
  await expect(next(page)).toContainText('a strong spark: find what draws');
  await page.getByRole('button', { name: 'small', exact: true }).click();
  await page.getByRole('button', { name: 'On and tight' }).click();
  await page.getByRole('button', { name: 'Back, for the wake' }).click();
  await expect(next(page)).toContainText('wake it: ready light, lamps, engine, charge');
  for (const seen of ['on', 'out', 'by itself', 'nothing']) await page.getByRole('button', { name: seen, exact: true }).click();
  // nearly full: it takes nothing, and nothing is wrong
  await page.getByLabel('Charge it shows, %').fill('78');
  await page.getByRole('button', { name: 'Keep this wake' }).click();
  await expect(page.getByText('It woke well.')).toBeVisible();

  await room(page, 'Scan').click();
  const scan = page.getByRole('button', { name: 'Scan with the simulated reader' });
  await scan.click();
  await expect(page.getByRole('row', { name: /P0A0D/ })).toContainText('gone');
  await expect(page.getByRole('row', { name: /P1E05/ })).toContainText('stays');
  await page.getByRole('button', { name: 'Clear the codes, in my name' }).click();
  await expectAllKept(page);
  await scan.click();
  await expect(page.getByRole('row', { name: /P1E05/ })).toContainText('no tool clears it');

  await expect(next(page)).toContainText('back, ');
  await room(page, 'Put back').click();
  await expect(page.getByText('Before it moves:')).toBeVisible();
  for (const bolt of ['seat bolt M10', 'belt bolt 7/16']) {
    await openZone(page, /rear seat/);
    await page.getByRole('button', { name: new RegExp(`^Put back \\d+ ${bolt}`) }).click();
    await putNewIn(page, bolt);
    const group = page.locator('.group').filter({ hasText: bolt });
    await group.getByRole('button', { name: /^All to/ }).click();
    await expect(group).toContainText('✓');
  }
  await expect(next(page)).toContainText('road test, before the last trim');
  await room(page, 'Road').click();
  for (const when of ['gives', 'takes']) await page.getByRole('button', { name: `Read while it ${when} (simulated)` }).click();
  await expect(page.getByLabel('Hottest, °C')).not.toHaveValue('');
  await expect(page.getByLabel('Taking, V a module apart')).not.toHaveValue('');
  await page.getByLabel('Minutes').fill('2000');
  await page.getByRole('button', { name: 'It drives well' }).click();
  await expect(page.getByText('Minutes: from 1 to 1440.')).toBeVisible();
  await page.getByLabel('Minutes').fill('20');
  await page.getByRole('button', { name: 'It drives well' }).click();
  await room(page, 'Scan').click();
  await expect(page.getByRole('button', { name: 'after the road test' })).toHaveAttribute('aria-pressed', 'true');
  await expectAllKept(page);
  await scan.click();
  await expect(page.getByRole('row', { name: /P1E05/ })).toContainText('gone');

  await expect(next(page)).toContainText('key away, 12 V off, service plug out: the trim goes back');
  await room(page, 'Wake').click();
  await page.getByRole('button', { name: 'Away', exact: true }).click();
  await page.getByRole('button', { name: 'Off, tucked away' }).click();
  await page.getByRole('button', { name: 'Out', exact: true }).click();
  await expect(next(page)).toContainText('back, ');
  await room(page, 'Put back').click();
  await putTrimBack(page);
  await expect(next(page)).toContainText('service plug in: plug pushed home');
  await room(page, 'Wake').click();
  await page.getByRole('button', { name: 'In and latched' }).click();
  await page.getByRole('button', { name: 'On and tight' }).click();
  await expect(next(page)).toContainText('the last wake comes after the last plug-in');
  await page.getByRole('button', { name: 'Back, for the wake' }).click();
  for (const seen of ['on', 'out']) await page.getByRole('button', { name: seen, exact: true }).click();
  await page.getByRole('button', { name: 'Keep this wake' }).click();
  await expect(next(page)).toContainText('Back in, awake, and nothing owed.');
  await expectAllKept(page);
  await page.reload();
  await expect(next(page)).toContainText('Back in, awake, and nothing owed.');
});

test('E: blocks by their own modules, a scan of another reader, and two drains that are not alike', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-whinchat/refit?part=scan');
  await expect(page.getByText('A reader that takes all blocks as equal would call 3, 4, 5, 6 bad.')).toBeVisible();
  await expect(page.getByRole('row', { name: /^5 2/ })).not.toContainText('a cell');
  await page.getByText('From another reader: a file, or typed').click();
  await page.getByLabel('What it shows').fill('P0A80 stored\nblock 12 31');
  await page.getByRole('button', { name: 'Keep this scan' }).click();
  await expect(page.getByText('Line 2: the pack has 9 blocks, none of number 12.')).toBeVisible();
  const volts = [31.4, 31.4, 15.7, 15.7, 14.4, 15.7, 31.4, 31.4, 31.4];
  await page.getByLabel('What it shows').fill(volts.map((v, i) => `block ${i + 1} ${v}`).join('\n'));
  await page.getByRole('button', { name: 'Keep this scan' }).click();
  await expect(page.getByText('Which reader: two readers are never compared as one.')).toBeVisible();
  await page.getByLabel('Reader', { exact: true }).fill('Reader of the ferry office');
  await page.getByRole('button', { name: 'Keep this scan' }).click();
  await expect(page.getByRole('row', { name: /^5 2/ })).toContainText('1.30, a cell');
  // two currents tell bars from modules
  for (const button of ['Scan with the simulated reader', /^Scan while it gives/]) {
    await page.getByRole('button', { name: button }).click();
    await expectAllKept(page);
  }
  await expect(page.getByRole('columnheader', { name: 'bars, mΩ' })).toBeVisible();

  await room(page, 'Capacity').click();
  const drain = async (when: 'before the repair' | 'after it'): Promise<void> => {
    await page.getByRole('button', { name: when, exact: true }).click();
    await page.getByRole('button', { name: /^Watch a drain/ }).click();
    await page.getByRole('button', { name: 'Keep this drain' }).click();
    await expectAllKept(page);
  };
  await drain('before the repair');
  await page.getByRole('button', { name: 'cabin cooled' }).click();
  await drain('after it');
  await expect(page.getByRole('alert').filter({ hasText: 'Not compared. What differs:' })).toContainText('cabin cooling, on and off');
  await page.getByRole('button', { name: 'cabin cooled' }).click();
  await drain('after it');
  await expect(page.getByText('Alike, so compared:')).toBeVisible();
});

test('a piece that is left over finds its likely homes, and what going back costs', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-whinchat/refit');
  await page.getByText('A piece is left over').click();
  await page.getByLabel('Size, such as 10 mm').fill('12 mm');
  await page.getByLabel('What is seen of it').fill('cushion');
  await expect(page.locator('.home').first()).toContainText('cushion bolt M8');
  await page.getByRole('textbox', { name: 'It stays out: what and why' }).fill('short');
  await page.locator('form').filter({ hasText: 'It stays out' }).getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText('Say what is left over, and why it stays out.')).toBeVisible();
});

test('D: a flat pack is lent energy from the 12 V, and the figures that cannot be are told', async ({ page }) => {
  await signIn(page);
  const job = await openJob(page, `RD-${Date.now()}`, { profile: 'curlew-42' });
  await page.goto(`${job}/refit?part=wake`);
  await page.getByText('The pack is flat: lend it energy from the 12 V').click();
  const lend = page.locator('form').filter({ hasText: 'Charge shown then' });
  await lend.getByLabel('Minutes').fill('40');
  await lend.getByLabel('Charge shown then, %').fill('135');
  await lend.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText('Charge, %: from 0 to 100.')).toBeVisible();
  await lend.getByLabel('Charge shown then, %').fill('35');
  await lend.getByRole('button', { name: 'Keep' }).click();
  await expectAllKept(page);
  await expect(lend.getByLabel('Minutes')).toHaveValue('');
  await expect(page.getByText('Lent for 40 min, up to 35 %.')).toBeVisible();
  // a 12 V that reads like a pack is none
  await page.getByLabel('At rest, V').fill('126');
  await page.getByLabel('At, °C').fill('20');
  await page.locator('form').filter({ hasText: 'Under load, V' }).getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText('At rest, V: from 0 to 20.')).toBeVisible();

  // the plug is in and not latched: the car stays dead and says why
  const plug = page.getByRole('group', { name: 'round plug' });
  for (const said of ['Out', 'In, not latched']) {
    await plug.getByRole('button', { name: said, exact: true }).click();
    await expect(plug.getByRole('button', { name: said, exact: true })).toHaveAttribute('aria-pressed', 'true');
  }
  await expectAllKept(page);
  await room(page, 'Scan').click();
  const scan = page.getByRole('button', { name: 'Scan with the simulated reader' });
  await scan.click();
  await expect(page.getByRole('row', { name: /P0A0D/ })).toContainText('high-voltage interlock open');
  await room(page, 'Wake').click();
  await plug.getByRole('button', { name: 'In and latched' }).click();
  await expectAllKept(page);
  await room(page, 'Scan').click();
  await scan.click();
  await expect(page.getByRole('row', { name: /P0A0D/ })).toContainText('gone');
});

/** An exchange whose new pack lies shut on the bench: the car is dead, and all that was in the way is off. */
async function openExchange(page: Page, profileId: string, label: string): Promise<string> {
  await page.goto('/yard/new');
  await page.getByRole('radio', { name: /^Exchange pack/ }).check();
  await packCard(page, profileId).click();
  await page.getByRole('textbox', { name: 'Vehicle' }).fill(`Knot test wagon ${label}`);
  await page.getByRole('textbox', { name: 'Plate' }).fill('TI 901');
  await page.getByRole('button', { name: 'Open the job' }).click();
  await expect(page.getByRole('heading', { name: /^Job \d+$/ })).toBeVisible();
  const job = new URL(page.url()).pathname.replace(/\/intake$/, '');
  await expectAllKept(page);
  const base = new URL(page.url()).origin;
  const path = `${base}/api/jobs/${job.split('/').pop()}`;
  const { profile } = (await (await page.request.get(`${path}/job.json`)).json()) as { profile: Profile };
  const facts: Fact[] = [
    { kind: 'key', isAway: true },
    { kind: 'twelveVolt', isOff: true },
    { kind: 'plug', isIn: false },
    { kind: 'connectors', are: 'insulated' },
  ];
  const state = (fact: Fact): Act => ({ type: 'fact.stated', body: { stage: 'strip', fact } });
  const zones = profile.zones.map((z) => z.id);
  const parts = profile.parts.filter(
    (p) => zones.includes(p.place) && p.count !== null && p.effects.every((e) => e.kind === 'partsMounting'),
  );
  const acts: Act[] = [
    ...facts.map(state),
    ...parts.map((p): Act => ({ type: 'part.moved', body: { stage: 'strip', partId: p.id, count: p.count ?? 1, from: { kind: 'inPlace' }, to: { kind: 'onPart' }, condition: 'good' } })), // prettier-ignore
    state({ kind: 'pack', isOnBench: true }),
    ...profile.transfer.map((t): Act => ({ type: 'transfer.stated', body: { transferId: t.id, fate: t.fate, isDone: true } })),
  ];
  for (const act of acts) {
    const version = act.type === 'fact.stated' ? 3 : 1;
    const data = { commandId: randomUUID(), ...saidAtBench(), by: 'om', version, act };
    const kept = await page.request.post(`${path}/acts`, { data, headers: { origin: base } });
    expect(kept.ok(), await kept.text()).toBe(true);
  }
  await page.goto(`${job}/refit`);
  return job;
}

/** Does what is next, one press after the other, until the scan after the repair is asked for. Gives the presses that it took. */
async function walkToScan(page: Page): Promise<number> {
  let presses = 0;
  const press = async (name: string | RegExp, within: ReturnType<Page['locator']> = page.locator('app-refit-stage')): Promise<void> => {
    presses++;
    await within
      .getByRole('button', { name, exact: typeof name === 'string' })
      .first()
      .click();
  };
  for (let left = 90; left > 0; left--) {
    const text = (await next(page).innerText()).replace(/\s+/g, ' ');
    if (text.includes('scan: codes')) return presses;
    if (text.includes('Go there')) await press('Go there');
    const named = /× (.+?)(?: by hand|, \d+ ×| back, )/.exec(text)?.[1];
    const tight = /Next: (.+?), .* to [\d.]+ N·m/.exec(text)?.[1];
    if (text.includes('lift the pack in')) await press('In the car');
    else if (named !== undefined) {
      const card = page.locator('app-part-card').filter({ hasText: named });
      await press(/^Put back \d+/, card);
    } else if (tight !== undefined) await press(/^All to/, page.locator('.group').filter({ hasText: tight }).filter({ hasNotText: '✓' }));
    else if (text.includes('pull on every HV cable')) await press('HV cables at their own posts, pulled on: yes');
    else if (text.includes('state the HV cables on')) await press('On', page.getByRole('group', { name: 'HV connectors, car side' }));
    else if (text.includes('press every low-voltage plug home')) await press('Low-voltage plugs home, interlock seen: yes');
    else if (text.includes('12 V battery at rest')) await press(/12 V tester$/);
    else if (text.includes(' plug') && !text.includes('12 V')) await press('In and latched');
    else if (text.includes('judge the spark')) await press('small');
    else if (text.includes('12 V negative on')) await press('On and tight');
    else if (text.includes('key back')) await press('Back, for the wake');
    else if (text.includes('wake it')) {
      for (const seen of ['on', 'out', 'by itself', 'yes']) await press(seen);
      await press('Keep this wake');
    } else throw new Error(`nothing does: ${text}`);
    await expect.poll(async () => (await next(page).innerText()).replace(/\s+/g, ' ')).not.toBe(text);
  }
  throw new Error('it never came to the scan');
}

for (const profile of ['dunlin-28', 'curlew-42', 'greenshank-28']) {
  test(`${profile}: from the shut pack on the bench to the scan, each thing as it is next`, async ({ page }) => {
    await signIn(page);
    await openExchange(page, profile, `RX-${Date.now()}`);
    const presses = await walkToScan(page);
    test.info().annotations.push({ type: 'presses', description: `${profile}: ${presses}` });
    await room(page, 'Scan').click();
    await page.getByRole('button', { name: 'Scan with the simulated reader' }).click();
    await expect(page.getByText('No codes.')).toBeVisible();
    await expect(next(page)).toContainText(/back, |road test/);
  });
}
