/** Every screen by one page: for people who use it otherwise, by day and by night, on three widths. */
import { expect, test, type Page } from '@playwright/test';
import { seriousOf, signIn } from './bench-desk.ts';

const SCREENS = [
  ['yard', '/yard'],
  ['new job', '/yard/new'],
  ['intake', '/job/demo-turnstone/intake'],
  ['intake, scan', '/job/demo-sandpiper/intake?part=scan'],
  ['intake, the pack', '/job/demo-turnstone/intake?part=pack'],
  ['intake, files', '/job/demo-turnstone/intake?part=files'],
  ['isolate', '/job/demo-curlew/isolate'],
  ['strip', '/job/demo-avocet/strip'],
  ['ledger', '/job/demo-avocet/strip?part=ledger'],
  ['lift plan', '/job/demo-avocet/strip?part=lift'],
  ['exchange', '/job/demo-turnstone/strip?part=exchange'],
  ['open', '/job/demo-turnstone/open'],
  ['links', '/job/demo-turnstone/open?part=links'],
  ['how it lies', '/job/demo-avocet/open?part=lying'],
  ['findings', '/job/demo-turnstone/open?part=findings'],
  ['photographs', '/job/demo-turnstone/open?part=photos'],
  ['module labels', '/job/demo-turnstone/labels'],
  ['test', '/job/demo-knot/test'],
  ['match', '/job/demo-sanderling/match'],
  ['stack sheet', '/job/demo-sanderling/sheet'],
  ['rebuild, stack', '/job/demo-lapwing/rebuild'],
  ['rebuild, torque', '/job/demo-redshank/rebuild'],
  ['cool', '/job/demo-dunnock/cool'],
  ['cool, a filter job', '/job/demo-godwit/cool'],
  ['rebuild, bays', '/job/demo-turnstone/rebuild'],
  ['refit', '/job/demo-whinchat/refit'],
  ['refit, wake', '/job/demo-bittern/refit?part=wake'],
  ['refit, scan', '/job/demo-whinchat/refit?part=scan'],
  ['refit, capacity', '/job/demo-whinchat/refit?part=drain'],
  ['refit, how it stands', '/job/demo-whinchat/refit?part=pack'],
  ['stock', '/stock'],
  ['limits', '/limits'],
  ['profiles', '/profiles'],
  ['a profile', '/profiles/turnstone-30'],
  ['a new profile', '/profiles/new'],
  ['gear', '/gear'],
  ['people', '/people'],
  ['reckoner', '/reckoner'],
  ['a calculation', '/reckoner/isolate.fitDecay'],
  ['hand over, finish', '/job/demo-turnstone/handOver'],
  ['hand over, a comeback', '/job/demo-sandpiper/handOver'],
  ['hand over, report', '/job/demo-oystercatcher/handOver?part=report'],
  ['hand over, conditions', '/job/demo-oystercatcher/handOver?part=terms'],
  ['hand over, core desk', '/job/demo-oystercatcher/handOver?part=core'],
  ['hand over, record', '/job/demo-oystercatcher/handOver?part=record'],
  ['figures', '/figures'],
  ['an address that leads nowhere', '/nowhere'],
] as const;

let page: Page;
const errors: string[] = [];
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext()).newPage();
  page.on('console', (m) => m.type() === 'error' && errors.push(m.text()));
  page.on('pageerror', (e) => errors.push(e.message));
  // colours on their way from day to night are no colours of ours
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await signIn(page);
});
test.beforeEach(() => errors.splice(0));
test.afterAll(() => page.context().close());

for (const [name, path] of SCREENS) {
  test(`${name}: nothing serious for people who use it otherwise, by day and by night, no error, and it fits a tablet and a phone`, async () => {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(path);
    await expect(page.locator('main :is(h1, h2, strong)').first()).toBeVisible();
    expect(await seriousOf(page)).toEqual([]);
    const before = (await page.locator('html').getAttribute('data-theme')) ?? '';
    await page.locator('main').focus();
    await page.keyboard.press('n');
    await expect(page.locator('html')).toHaveAttribute('data-theme', before === 'day' ? 'night' : 'day');
    // of all rules the other light changes only this one's answer
    expect(await seriousOf(page, ['color-contrast'])).toEqual([]);
    for (const width of [820, 390]) {
      await page.setViewportSize({ width, height: 844 });
      // a busy machine draws anew some frames later
      await expect
        .poll(() => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth))
        .toBeLessThanOrEqual(0);
      await expect.poll(() => page.locator('main').evaluate((main) => main.scrollWidth - main.clientWidth)).toBeLessThanOrEqual(0);
      await expect.poll(() => tooSmall(page)).toEqual([]);
    }
    expect(errors).toEqual([]);
  });
}

/** What a thumb would miss: lower or narrower than 44 px. A link in a sentence is as high as its line. */
function tooSmall(on: Page): Promise<string[]> {
  return on.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('button, select, input, textarea, summary, a, [role=button]')].flatMap((element) => {
      if (element.closest('.visually-hidden, .skip')) return [];
      const isMark = element instanceof HTMLInputElement && ['checkbox', 'radio', 'file'].includes(element.type);
      const { width, height } = ((isMark ? element.closest('label') : null) ?? element).getBoundingClientRect();
      if (width === 0 || height === 0 || (element.tagName === 'A' && getComputedStyle(element).display === 'inline')) return [];
      const isSmall = width < 43.5 || height < 43.5;
      return isSmall ? [`${element.ariaLabel ?? element.textContent.trim().slice(0, 40)}: ${width.toFixed(0)} x ${height.toFixed(0)}`] : [];
    }),
  );
}
