/** From a closed case to the sealed record, and a page that tells a true one from a forged one. */
import { createHash, generateKeyPairSync, randomUUID, sign } from 'node:crypto';
import fs from 'node:fs';
import { pathToFileURL } from 'node:url';
import { versionOf, type Act } from '@estuarine/core';
import { expect, test, type Page } from '@playwright/test';
import { camera, expectAllKept, openJob, saidAtBench, signIn } from './bench-desk.ts';

const room = (page: Page, name: string) => page.getByRole('navigation', { name: 'Parts of this stage' }).getByRole('button', { name });
const next = (page: Page) => page.locator('app-hand-over-stage .ahead');

/** What a job was told before, by the same way as a device sends it. */
async function tell(page: Page, job: string, acts: readonly Act[]): Promise<void> {
  const origin = new URL(page.url()).origin;
  const sent = acts.map((act) => ({ commandId: randomUUID(), ...saidAtBench(), by: 'om', version: versionOf(act), act }));
  for (let i = 0; i < sent.length; i += 50) {
    const answer = await page.request.post(`${origin}/api/jobs/${job}/batches`, {
      data: { acts: sent.slice(i, i + 50) },
      headers: { origin },
    });
    const { outcomes } = (await answer.json()) as { outcomes: { kind: string; problem?: { detail: string } }[] };
    for (const outcome of outcomes) expect([outcome.kind, outcome.problem?.detail]).toEqual(['kept', undefined]);
  }
}

/** Every module read before and after a rest, the cooling answered: a pack whose case is shut again. */
function worked(label: string): Act[] {
  const sweep = { restSince: null, restHour: 12, loadAmpere: null, loadSecond: null, recovered: 'none', resolution: 0.001 } as const;
  const names = Array.from({ length: 28 }, (_, i) => `${label}-${String(i + 1).padStart(2, '0')}`);
  const air: Act[] = [0, 1, 2, 3, 4].map((part) => ({ type: 'air.found', body: { part, when: 'asFound', blockedShare: 0, note: '' } }));
  return [
    ...(['openCircuit', 'rest'] as const).map((kind): Act => ({ type: 'sweep.started', body: { kind, ...sweep } })),
    ...air,
    { type: 'fan.tested', body: { part: 2, spins: true, noise: 'none', hasPlay: false, startVolt: 3.5 } },
    { type: 'cooling.judged', body: { isAnswered: true, note: '' } },
    { type: 'look.set', body: { months: 6, stripMonths: null, uses: [] } },
    {
      type: 'plan.chosen',
      body: {
        school: 'matchedSet',
        moduleIds: names,
        fromShelf: [],
        rangeAh: null,
        lowerBoundAh: null,
        proven: false,
        blockMeanAh: [],
        assumedPlaces: [],
      },
    },
  ];
}

test('A: from a closed case to the sealed record, with the conditions live, and a true one told from a forged one', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const path = await openJob(page, 'HO');
  await expectAllKept(page);
  const job = path.split('/').pop() ?? '';
  await tell(page, job, worked('HO'));
  const { state } = (await (await page.request.get(`/api/jobs/${job}`)).json()) as {
    state: { sweep: { sweeps: { id: string; kind: string }[] } };
  };
  await tell(
    page,
    job,
    state.sweep.sweeps.flatMap(({ id, kind }) =>
      Array.from({ length: 28 }, (_, i): Act => {
        const quantity = kind === 'rest' ? 'restVolt' : 'openCircuitVolt';
        return {
          type: 'reading.taken',
          body: { sweepId: id, place: i + 1, moduleId: `HO-${String(i + 1).padStart(2, '0')}`, quantity, value: 7.8 + 0.001 * i },
        };
      }),
    ),
  );

  let presses = 0;
  const press = async (what: ReturnType<Page['getByRole']>): Promise<void> => {
    presses++;
    await what.click();
  };
  await page.goto(`${path}/handOver`);
  await expect(next(page)).toContainText('say what is promised');
  await page.getByLabel(/^How it was answered/).fill('one bar black, all renewed');
  await press(page.getByRole('button', { name: 'A loose or corroded joint: yes' }));
  await expect(page.getByText('A loose or corroded joint: one bar black, all renewed')).toBeVisible();
  // a number that cannot be is refused with its name
  await page.getByLabel('or kilometres').fill('1e9');
  await page.getByRole('button', { name: '12 months' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'Kilometres' })).toBeVisible();
  await page.getByLabel('or kilometres').fill('20000');
  await press(page.getByRole('button', { name: '12 months' }));
  await expect(page.getByText('12 months, or 20000 km.')).toBeVisible();

  // whose parts went in: met, missing, each with the way to its record
  await press(room(page, 'Conditions'));
  await press(page.getByRole('button', { name: /^Marsh Cell Traders/ }));
  const conditions = page.getByRole('list', { name: 'Conditions, each as it stands' });
  await expect(conditions.getByRole('listitem').filter({ hasText: 'in the supplier’s own order' })).toContainText('met');
  const bars = conditions.getByRole('listitem').filter({ hasText: 'Bus bars renewed' });
  await expect(bars).toContainText('missing');
  await press(bars.getByRole('button', { name: 'I saw it done' }));
  await expect(bars).toContainText('Said by OM');
  await page
    .getByLabel('Take a supplier’s file')
    .setInputFiles({ name: 't.json', mimeType: 'application/json', buffer: Buffer.from('{"format":"x"}') });
  await expect(page.getByRole('alert').filter({ hasText: '"format" is not' })).toBeVisible();

  // the old module goes back
  await press(room(page, 'Core desk'));
  await press(page.getByRole('button', { name: 'Loose modules' }));
  await page.getByLabel('Supplier').fill('Marsh Cell Traders');
  await page.getByLabel('Deposit, EUR').fill('45');
  await page.getByLabel('Ship by').fill('soon');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('alert').filter({ hasText: '"soon" is none' })).toBeVisible();
  await page.getByLabel('Ship by').fill('2099-01-31');
  await press(page.getByRole('button', { name: 'Keep it' }));
  await expect(page.getByRole('heading', { name: '1 loose module to Marsh Cell Traders' })).toBeVisible();
  for (const check of ['Whole, nothing taken out of it', 'Every post insulated'])
    await press(page.getByRole('button', { name: `${check}: yes` }));

  // a photograph, chosen, and the report
  await page.goto(`${path}/open?part=photos`);
  await page.getByLabel('From files').setInputFiles({ name: 'p.jpg', mimeType: 'image/jpeg', buffer: await camera(page) });
  await expect(page.getByRole('list', { name: 'Photographs' }).locator('img')).toHaveCount(1);
  await expectAllKept(page);
  await page.goto(`${path}/handOver?part=report`);
  await expect(next(page)).toContainText('choose the photographs');
  await press(page.getByRole('button', { name: 'All of them' }));
  await page.getByLabel('What the customer reads first').fill('Mind the grille.');
  await press(page.getByRole('button', { name: 'Keep what the report shows' }));
  await expectAllKept(page);
  const preview = page.getByRole('article', { name: 'Report as it will be written' });
  await expect(preview).toContainText('Mind the grille.');
  await expect(preview.getByRole('img', { name: 'The pack as found: volts at rest, and the verdict of each module.' })).toBeVisible();
  await press(page.getByRole('button', { name: 'Write the report as PDF' }));
  const link = page.getByRole('link', { name: 'Open the PDF' });
  await expect(link).toBeVisible();
  const pdf = await (await page.request.get((await link.getAttribute('href')) ?? '')).body();
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');

  // closed, sealed, fetched
  await press(room(page, 'Finish'));
  await expect(next(page)).toContainText('close the job');
  await press(page.getByRole('button', { name: 'Close as finished' }));
  await expect(page.getByRole('heading', { name: /^Finished/ })).toBeVisible();
  await press(room(page, 'Record'));
  await press(page.getByRole('button', { name: 'Seal the record' }));
  const download = page.waitForEvent('download');
  await press(page.getByRole('link', { name: /^Fetch it/ }));
  const zip = fs.readFileSync(await (await download).path());
  await expect(page.getByRole('button', { name: 'It is sealed as it stands' })).toBeDisabled();
  console.log(`presses from the closed case to the sealed record: ${presses}`);
  expect(presses).toBeLessThanOrEqual(22);

  // the checking page runs from a file, without the server
  const paged = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Fetch the checking page' }).click();
  const html = await (await paged).path();
  fs.copyFileSync(html, `${html}.html`);
  const offline = await browser.newContext({ offline: true });
  const check = await offline.newPage();
  const asked: string[] = [];
  check.on('request', (r) => asked.push(r.url()));
  const errors: string[] = [];
  check.on('console', (m) => m.type() === 'error' && errors.push(m.text()));
  await check.goto(pathToFileURL(`${html}.html`).href);
  const give = async (name: string, buffer: Buffer): Promise<void> =>
    check.locator('#file').setInputFiles({ name, mimeType: 'application/zip', buffer });
  await give('true.zip', zip);
  await expect(check.getByRole('heading', { name: 'As it was sealed', exact: true })).toBeVisible();
  await expect(check.getByText(/^true\.zip: job \d+, sealed/)).toBeVisible();
  const changed = Buffer.from(zip);
  const at = changed.indexOf('20000');
  changed.write('90000', at);
  await give('changed.zip', changed);
  await expect(check.getByRole('heading', { name: 'Not as it was sealed' })).toBeVisible();
  await expect(check.getByRole('listitem').filter({ hasText: 'was changed' }).first()).toBeVisible();
  await give('forged.zip', forge(zip));
  await expect(check.getByRole('heading', { name: 'Whole, but nobody vouches for its key' })).toBeVisible();
  await give('letter.zip', Buffer.from('Dear customer'));
  await expect(check.getByRole('heading', { name: 'No sealed record' })).toBeVisible();
  expect(asked.filter((url) => !url.startsWith('file:'))).toEqual([]);
  expect(errors).toEqual([]);
  await offline.close();
});

/** The same record with the list signed by another key: whole in itself. Only bytes of the same length change, so that the zip stands. */
function forge(zip: Buffer): Buffer {
  const { privateKey, publicKey } = generateKeyPairSync('ed25519');
  const raw = publicKey.export({ type: 'spki', format: 'der' }).subarray(12);
  const start = zip.indexOf('{"chain"');
  const end = zip.indexOf('"version":1}', start) + '"version":1}'.length;
  const text = zip
    .toString('latin1', start, end)
    .replace(/"publicKey":"[0-9a-f]{64}"/, `"publicKey":"${raw.toString('hex')}"`)
    .replace(/"fingerprint":"[0-9a-f]{64}"/, `"fingerprint":"${createHash('sha256').update(raw).digest('hex')}"`);
  const list = Buffer.from(text, 'latin1');
  const signature = Buffer.from(sign(null, list, privateKey).toString('hex'));
  const forged = Buffer.from(zip);
  const [oldList, oldSignature] = [zip.subarray(start, end), zip.subarray(end + 30 + 'manifest.ed25519'.length, end + 30 + 'manifest.ed25519'.length + 128)]; // prettier-ignore
  list.copy(forged, start);
  signature.copy(forged, zip.indexOf(oldSignature));
  for (const [old, now] of [[oldList, list], [oldSignature, signature]] as const) replaceSum(forged, crc32(old), crc32(now)); // prettier-ignore
  return forged;
}

function replaceSum(zip: Buffer, old: number, now: number): void {
  const [was, is] = [old, now].map((sum) => {
    const bytes = Buffer.alloc(4);
    bytes.writeUInt32LE(sum);
    return bytes;
  }) as [Buffer, Buffer];
  for (let at = zip.indexOf(was); at >= 0; at = zip.indexOf(was, at + 4)) is.copy(zip, at);
}

function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const b of bytes) {
    c ^= b;
    for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  }
  return (c ^ 0xffffffff) >>> 0;
}

test('a comeback is tied to its job, explained from its record, and what a person says of it stands', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-sandpiper/handOver');
  const causes = page.getByRole('list', { name: 'Likely causes, the likeliest first' });
  await expect(causes.getByRole('listitem').first()).toContainText('its block is low in the new scan');
  await expect(page.getByRole('link', { name: 'job 14' })).toHaveAttribute('href', '/job/demo-oystercatcher/handOver');
  await causes.getByRole('button', { name: 'It was this' }).first().click();
  await expect(causes.getByRole('button', { name: 'It was this' }).first()).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'It was something else' }).click();
  await expect(causes.getByRole('button', { pressed: true })).toHaveCount(0);
  await page.goto('/job/demo-sandpiper/intake');
  await expect(page.getByText(/from job 14 until \d{4}-\d{2}-\d{2}, or 20000 km/)).toBeVisible();
});

test('the figures of the shop, and what is to be sent back on the yard', async ({ page }) => {
  await signIn(page);
  await page.goto('/figures');
  await expect(page.getByRole('heading', { name: /^Money that is out: [\d,.]+ EUR/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Comebacks by school and pack' }).getByRole('row').nth(1)).toContainText('Dunlin 28');
  await page.goto('/yard');
  await page.getByRole('region', { name: 'Old ones to send back' }).getByRole('link', { name: 'Job 14' }).click();
  await expect(page).toHaveURL(/demo-oystercatcher\/handOver\?part=core/);
});

test('the lead backs the key up, begins a new one and revokes the old', async ({ page }) => {
  await signIn(page, 'ts');
  await page.goto('/limits');
  const keys = page.getByRole('region', { name: 'Keys that seal records' });
  await expect(keys.getByText('signs now')).toHaveCount(1);
  // one thing scrolls: a hidden field once made the page longer than its screen
  expect(await page.evaluate(() => document.documentElement.scrollHeight - window.innerHeight)).toBe(0);
  await keys.getByLabel(/^Passphrase of the backup/).fill('long enough a passphrase');
  const download = page.waitForEvent('download');
  await keys.getByRole('button', { name: 'Back the key up' }).click();
  const pem = await (await download).path();
  expect(fs.readFileSync(pem, 'utf8')).toContain('ENCRYPTED PRIVATE KEY');
  await keys.getByLabel(/^Passphrase of the backup/).fill('not this one');
  await keys.getByLabel('Put a backup back').setInputFiles(pem);
  await expect(keys.getByRole('alert')).toContainText('another passphrase');
  await keys.getByRole('button', { name: 'Begin a new key' }).click();
  await expect(keys.getByText('replaced')).toHaveCount(1);
  await keys.getByLabel(/^Why a key is revoked/).fill('The laptop was stolen.');
  await keys.getByRole('listitem').filter({ hasText: 'replaced' }).getByRole('button', { name: 'Revoke' }).click();
  await expect(keys.getByText(/revoked .*The laptop was stolen\./)).toBeVisible();
});
