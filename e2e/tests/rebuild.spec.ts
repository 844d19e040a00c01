import { expect, test, type Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import type { Act, Fact } from '@estuarine/core';
import { camera, expectAllKept, openJob, saidAtBench, signIn } from './bench-desk.ts';

const steps = (page: Page) => page.getByRole('list', { name: 'Steps on the way up' });
const toStep = (page: Page, name: string) => steps(page).getByRole('button', { name }).click();
const tight = (page: Page) => page.getByRole('button', { name: /^Number \d+: clicked$/ });
const reach = (page: Page) => page.getByRole('button', { name: /Why this number/ });

async function setTool(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'As wanted' }).click();
  await page.getByRole('button', { name: 'The tool is set' }).click();
  await expect(tight(page)).toBeVisible();
}

/** One key a nut, each once its number stands there. */
async function tightenAll(page: Page, count: number, passes = 1): Promise<void> {
  for (let pass = 0; pass < passes; pass++)
    for (let seat = 1; seat <= count; seat++) await page.getByRole('button', { name: `Number ${seat}: clicked` }).click();
}

/** Every module that the plan names, from the place that is next. */
async function layAll(page: Page): Promise<void> {
  const lay = page.locator('app-stack-panel .lay');
  for (let left = 40; left > 0 && (await lay.count()) > 0; left--) {
    const label = await lay.innerText();
    await lay.click();
    await expect(lay.filter({ hasText: label })).toHaveCount(0);
  }
}

/** A pack that came without its car, wholly open, its modules as the plan wants them. */
async function openOnBench(page: Page, profile: string, label: string, planned: (ids: string[]) => string[]): Promise<string> {
  await page.goto('/yard/new');
  await page.getByRole('radio', { name: /^Bench only/ }).check();
  const job = await openJob(page, label, { isAway: true, profile });
  await expectAllKept(page);
  const base = new URL(page.url()).origin;
  const path = `${base}/api/jobs/${job.split('/').pop()}`;
  const keep = async (act: Act, version: number): Promise<void> => {
    const data = { commandId: randomUUID(), ...saidAtBench(), by: 'om', version, act };
    const kept = await page.request.post(`${path}/acts`, { data, headers: { origin: base } });
    expect(kept.ok(), await kept.text()).toBe(true);
  };
  // the archive of the job has its profile and its events
  const archive = (await (await page.request.get(`${path}/job.json`)).json()) as { profile: { layers: { fact: Fact | null }[] } };
  const { state } = (await (await page.request.get(path)).json()) as { state: { pack: { places: { moduleId: string }[] } } };
  const facts: Fact[] = [
    { kind: 'plug', isIn: false },
    { kind: 'outletPosts', areBare: false },
    ...archive.profile.layers.flatMap((l) => l.fact ?? []),
  ];
  for (const fact of facts) await keep({ type: 'fact.stated', body: { stage: 'open', fact } }, 3);
  const moduleIds = planned(state.pack.places.map((p) => p.moduleId));
  const told = { rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] };
  await keep({ type: 'plan.chosen', body: { school: 'spotRepairReordered', moduleIds, fromShelf: [], ...told } }, 1);
  await page.goto(`${job}/rebuild`);
  return job;
}

/** Both runs at the sum of their modules. */
async function measureHalves(page: Page): Promise<void> {
  const forms = page.locator('app-halves-panel form');
  await expect(forms.first()).toBeVisible();
  for (let i = 0; i < (await forms.count()); i++) {
    const sum = await forms.nth(i).locator('b').nth(2).innerText();
    await forms.nth(i).getByRole('textbox').fill(sum.replace(' V', ''));
    await forms.nth(i).getByRole('button', { name: 'Keep' }).click();
    await expectAllKept(page);
  }
}

const look = (page: Page, name: string) => page.getByRole('button', { name: `${name}: yes` }).click();

test('A: a turned module, a frame held wrong, a slip of the unit, every nut twice, halves, covers and lid on, and all there after a reload', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/job/demo-lapwing/rebuild');
  const wrong = page.getByRole('alert').filter({ hasText: 'lies end for end' });
  await expect(wrong).toContainText('Place 8');
  await toStep(page, 'modules into the stack');
  await page.getByRole('button', { name: 'It lies the right way round' }).click();
  await expect(wrong).toHaveCount(0);
  // on by itself to the next place that is empty; one of them lies where it lay before
  await layAll(page);
  await expect(steps(page).getByRole('button', { name: 'modules into the stack' })).toContainText('✓');

  for (const seen of ['interlocking nubs seated', 'ends flush', 'air gaps open']) await look(page, seen);
  await setTool(page);
  await tightenAll(page, 4);

  // the pack is turned over, and the drawing with it
  await expect(page.getByText('cable side above, vent side below')).toBeVisible();
  await page.getByRole('button', { name: 'The pack lies bottom up' }).click();
  await expect(page.getByText('bottom up: vent side above, cable side below')).toBeVisible();
  await page.getByRole('button', { name: /^Gathered to the middle: at 13, 14, 15/ }).click();
  await expect(page.getByRole('heading', { name: 'case bottom and hold-downs' })).toBeVisible();
  await look(page, 'case flap straight');
  await setTool(page);
  await tightenAll(page, 28);

  // cleaned and wet is not ready
  await page.getByRole('button', { name: 'Cleaned, still wet' }).click();
  await expect(page.getByText(/^Still wet/).first()).toBeVisible();
  await page.getByRole('button', { name: 'They are new' }).click();
  await expect(page.getByRole('heading', { name: 'vent side frame' })).toBeVisible();
  await page.getByRole('button', { name: 'The pack lies top up' }).click();
  await page.getByRole('button', { name: 'vent side frame: it is on' }).click();
  // inch-pounds set as foot-pounds: said before anything is kept
  await page.getByLabel('Set to').fill('48');
  await page.getByLabel('Unit').selectOption('lbf·ft');
  await page.getByRole('button', { name: 'The tool is set' }).click();
  await expect(page.getByRole('alert').filter({ hasText: '12 times what is wanted' })).toBeVisible();
  await page.getByLabel('Unit').selectOption('lbf·in');
  await setTool(page);
  await tightenAll(page, 28, 2);
  for (const seen of ['vent tubes pushed home', 'extra tabs of the frame']) await page.getByRole('button', { name: new RegExp(`^${seen}.*: yes$`) }).click(); // prettier-ignore

  await expect(page.getByText('Gloves on before it is lifted.')).toBeVisible();
  await page.getByRole('button', { name: 'one module to the right' }).click();
  await expect(page.getByRole('status').filter({ hasText: /Short: modules \d+, \d+, up to \d+ A/ })).toBeVisible();
  await page.getByRole('button', { name: 'where it belongs' }).click();
  await expect(page.getByRole('status').filter({ hasText: '28 modules in 2 parts' })).toBeVisible();
  await page.getByRole('button', { name: 'cable side frame: it is on' }).click();
  await expect(reach(page)).toContainText(/1\d\d\.\d/);
  await setTool(page);
  await tightenAll(page, 27);
  // one is forgotten, and stands open
  await expectAllKept(page);
  await page.reload();
  await expect(page.getByRole('button', { name: '28: not tightened' })).toBeVisible();
  await tight(page).click();
  await tightenAll(page, 28);
  await page.getByRole('button', { name: /^bar below, eyelet above.*: yes$/ }).click();

  // each half against its sum: seven volts short is a module that a bar spans
  const half = page.getByLabel('Measured 1 to 14, V');
  const sum = Number(await page.locator('app-halves-panel b').nth(2).innerText().then((t) => t.replace(' V', ''))); // prettier-ignore
  await half.fill((sum - 7.8).toFixed(1));
  await half.press('Enter');
  await expect(page.getByText(/A module of 1 to 14 is left out/)).toBeVisible();
  await half.fill(sum.toFixed(1));
  await half.press('Enter');
  await page.getByLabel('Measured 15 to 28, V').fill(sum.toFixed(1));
  await page.getByLabel('Measured 15 to 28, V').press('Enter');

  await page.getByRole('button', { name: 'terminal covers: it is on' }).click();
  // a photograph of each side answers the look at them
  const picture = { name: 'side.jpg', mimeType: 'image/jpeg', buffer: await camera(page) };
  await page.getByLabel('Photograph: vent side frame').setInputFiles(picture);
  await expect(page.getByRole('img', { name: 'vent side frame, photographed' })).toBeVisible();
  await page.getByLabel('Photograph: cable side frame').setInputFiles(picture);
  await expect(steps(page).getByRole('button', { name: 'terminal covers' })).toContainText('✓');
  await page.getByRole('button', { name: 'sense harness and control unit: it is on' }).click();
  await expect(steps(page).getByRole('button', { name: 'vent side frame' })).toContainText('✓');
  await expect(reach(page)).toContainText('0.0');
});

test('a nut that was forgotten and one that slipped stand out, and the slip is tightened anew', async ({ page }) => {
  await signIn(page);
  await page.goto('/job/demo-redshank/rebuild');
  await expect(page.getByText('Number 12 does not count.')).toContainText('read as lbf·ft');
  await expect(page.getByRole('button', { name: '7: not tightened' })).toBeVisible();
  await page.getByRole('button', { name: /^12: 12 times/ }).click();
  await tight(page).click();
  await expect(page.getByText('Number 12 does not count.')).toHaveCount(0);
  await toStep(page, 'end plate, evenly');
  await expect(steps(page).getByRole('button', { name: '✓ end plate, evenly' })).toBeVisible();
});

test('C: three bays, a module turned, sensors before bars, a frame tried a place off, a nut forgotten, eyelets last', async ({ page }) => {
  await signIn(page);
  const swap = (ids: string[]) => ids.map((id, i) => (i === 11 ? (ids[12] ?? id) : i === 12 ? (ids[11] ?? id) : id));
  await openOnBench(page, 'turnstone-30', `RC-${Date.now()}`, swap);
  const next = page.locator('.panel .next');
  await expect(next).toContainText('into place 12');
  await page.locator('app-stack-panel .lay').click();
  await expect(next).toContainText('into place 13');
  await page.getByRole('button', { name: /lies here$/ }).click();
  await toStep(page, 'modules into the middle bay');
  await page.getByRole('button', { name: 'It lies end for end' }).click();
  await expect(next).toContainText('lies end for end');
  await page.getByRole('button', { name: 'It lies the right way round' }).click();

  await page.getByRole('button', { name: 'The pack lies on its end, or tilted' }).click();
  // once the hold-downs are begun nobody reaches a sensor
  await toStep(page, 'hold-downs');
  await expect(page.getByText('Out of reach afterwards, and not done: temperature sensors, each bay tilted.')).toBeVisible();
  await toStep(page, 'temperature sensors, each bay tilted');
  await page.getByRole('button', { name: 'Where the maker had them: at 5, 15, 25' }).click();

  await page.getByRole('button', { name: 'The pack lies bottom up' }).click();
  for (const seen of ['interlocking nubs seated', 'ends flush', 'air gaps open']) await look(page, seen);
  await setTool(page);
  await tightenAll(page, 30);
  await page.getByRole('button', { name: 'They are new' }).click();

  await page.getByRole('button', { name: 'The pack lies top up' }).click();
  await page.getByRole('button', { name: /^extra tabs of the frame.*: yes$/ }).click();
  await page.getByRole('button', { name: 'one module to the left' }).click();
  await expect(page.locator('app-frame-trial').getByRole('status')).toBeVisible();
  await page.getByRole('button', { name: 'back frames: it is on' }).click();
  await setTool(page);
  await tightenAll(page, 26, 2);
  await page.getByRole('button', { name: 'one module to the right' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Short:' })).toBeVisible();
  await page.getByRole('button', { name: 'where it belongs' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Short:' })).toHaveCount(0);
  await page.getByRole('button', { name: 'front frames: it is on' }).click();
  await setTool(page);
  for (let seat = 1; seat <= 30; seat++) {
    if (seat === 9) await page.getByRole('button', { name: '10: not tightened' }).click();
    else await page.getByRole('button', { name: `Number ${seat}: clicked` }).click();
  }
  // the one that was left out is next, before any second pass
  await page.getByRole('button', { name: 'Number 9: clicked' }).click();
  await tightenAll(page, 30);

  // the bays are apart still: eyelets join them one by one
  await page.getByRole('button', { name: /^bar below, eyelet above.*: yes$/ }).click();
  await expect(page.getByText('In this order least stands in the stack for longest: 10, 20.')).toBeVisible();
  await page.getByRole('button', { name: 'eyelet, left to middle bay: it is on' }).click();
  await page.getByRole('button', { name: 'eyelet, middle to right bay: it is on' }).click();
  await setTool(page);
  await tightenAll(page, 4, 2);
  await measureHalves(page);
  await page.getByRole('button', { name: 'terminal covers: it is on' }).click();
  await look(page, 'both sides photographed');
  await page.getByRole('button', { name: 'sense harness: it is on' }).click();
  await page.getByRole('button', { name: /^sense connector pressed home.*: yes$/ }).click();
  await page.getByRole('button', { name: 'three bay lids: it is on' }).click();
  await page.getByRole('button', { name: /^interlock plug in.*: yes$/ }).click();
  await setTool(page);
  await tightenAll(page, 24);
  await expect(page.getByText('Everything is on and tight.')).toBeVisible();
  await expect(reach(page)).toContainText('0.0');
});

test('H: a loop that leaks, then holds, paste by weight, bars one by one, a slip of the unit told from the figure, a joint that stands out', async ({
  page,
}) => {
  await signIn(page);
  await openOnBench(page, 'spoonbill-16', `RH-${Date.now()}`, (ids) => ids);
  await look(page, 'quick joints clicked and dry');
  const test_ = async (lostPerReading: number) => {
    for (let i = 0; i < 6; i++) {
      await page.getByLabel('Pressure, kPa').fill((150 - lostPerReading * i).toFixed(1));
      await page.getByLabel('Pressure, kPa').press('Enter');
    }
    await page.getByRole('button', { name: 'Keep this test' }).click();
  };
  await test_(1.5);
  await expect(page.getByText('It leaks: find where before any paste is laid.')).toBeVisible();
  await test_(0.1);

  await look(page, 'old paste off plate and module');
  await page.getByLabel('Weighed, g').fill('300');
  await page.getByRole('button', { name: 'It is laid' }).click();
  await expect(page.getByText(/too little, air stays under the module/)).toBeVisible();
  await page.getByLabel('Weighed, g').fill('810');
  await page.getByRole('button', { name: 'It is laid' }).click();

  await expect(page.getByRole('heading', { name: 'plate screws' })).toBeVisible();
  await setTool(page);
  await tightenAll(page, 64);
  await page.getByRole('button', { name: 'They are new' }).click();

  // bars one by one, those that join least first
  await expect(page.getByText('No order does better.')).toBeVisible();
  const on = page.getByRole('button', { name: /^bar \d+: it is on$/ });
  for (let left = 14; left > 0; left--) {
    const name = await on.innerText();
    await on.click();
    await expect(on.filter({ hasText: name })).toHaveCount(0);
  }
  // a tool that shows its figure: twelve times too much is told, and tightened anew
  await page.getByRole('combobox', { name: /^The tool/ }).selectOption('shows a figure');
  await page.getByRole('button', { name: 'As wanted' }).click();
  await page.getByRole('button', { name: 'The tool is set' }).click();
  await page.getByLabel('Number 1 shows').fill('108');
  await page.getByLabel('Number 1 shows').press('Enter');
  await expect(page.getByText('Number 1 does not count.')).toContainText('read as lbf·ft');
  await page.getByRole('button', { name: /^1: 12 times/ }).click();
  await page.getByLabel('Number 1 shows').fill('9.1');
  await page.getByLabel('Number 1 shows').press('Enter');
  await expect(page.getByText('Number 1 does not count.')).toHaveCount(0);
  await page.getByRole('button', { name: 'Change' }).click();
  await page.getByRole('combobox', { name: /^The tool/ }).selectOption('clicks, no figure');
  await setTool(page);
  for (let seat = 2; seat <= 30; seat++) await page.getByRole('button', { name: `Number ${seat}: clicked` }).click();
  await tightenAll(page, 30);

  await toStep(page, 'millivolts over every joint');
  for (let i = 0; i < 14; i++) {
    await page.getByLabel(/^Over joint/).fill(i === 4 ? '6.5' : '1.1');
    await page.getByLabel(/^Over joint/).press('Enter');
    await expect(page.getByRole('status').filter({ hasText: `${i + 1} of 14 joints` })).toBeVisible();
  }
  await page.getByRole('button', { name: 'Keep 14 joints' }).click();
  await expect(page.getByText('1 to be made anew.')).toBeVisible();
  await toStep(page, 'each half measured');
  await measureHalves(page);
  await page.getByRole('button', { name: 'terminal covers: it is on' }).click();
  await look(page, 'both sides photographed');
  await page.getByRole('button', { name: 'node harness: it is on' }).click();
  await page.getByRole('button', { name: /^sense connector pressed home.*: yes$/ }).click();
  await page.getByRole('button', { name: 'case lid: it is on' }).click();
  await setTool(page);
  await tightenAll(page, 44);
  await expect(page.getByText('Everything is on and tight.')).toBeVisible();
});
