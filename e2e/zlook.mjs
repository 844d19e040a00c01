import { chromium } from '@playwright/test';
const base = 'http://127.0.0.1:4310';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-dev-shm-usage'] });
const PASS = { om: 'low water at noon', ts: 'spring tide on friday', jf: 'mud on both boots' };
export async function open(width = 1280, height = 800, personId = 'om') {
  const context = await browser.newContext({ viewport: { width, height }, baseURL: base, locale: 'en-GB', timezoneId: 'UTC' });
  const page = await context.newPage();
  page.on('pageerror', (e) => console.log('PAGE ERROR', e.message));
  page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text().slice(0, 300)));
  await page.request.post(`${base}/api/session`, { data: { personId, passphrase: PASS[personId] }, headers: { origin: base } });
  return page;
}
await (await import(process.argv[2])).default(open);
await browser.close();
