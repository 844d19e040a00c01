import { chromium } from '@playwright/test';
const PASS = { om: 'low water at noon', ts: 'spring tide on friday', jf: 'mud on both boots' };
const base = 'http://127.0.0.1:4310';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
export async function open(who, width) {
  const page = await browser.newPage({ viewport: { width, height: width > 1000 ? 800 : width > 700 ? 1100 : 844 } });
  page.on('console', (m) => m.type() === 'error' && console.log('console:', m.text().slice(0, 300)));
  page.on('pageerror', (e) => console.log('pageerror:', String(e).slice(0, 300)));
  await page.goto(base + '/yard');
  await page.request.post(base + '/api/session', { data: { personId: who, passphrase: PASS[who] }, headers: { origin: base } });
  return page;
}
export const shot = async (page, name, full) => page.screenshot({ path: `/tmp/shots/${name}.png`, fullPage: full });
export { base, browser };
