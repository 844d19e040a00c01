import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import Fastify, { type FastifyInstance } from 'fastify';
import { serveShell } from './shell.ts';

const root = mkdtempSync(path.join(os.tmpdir(), 'shell-'));
let app: FastifyInstance;

beforeAll(async () => {
  writeFileSync(path.join(root, 'index.html'), '<app-root ngCspNonce="__CSP_NONCE__"></app-root>');
  writeFileSync(path.join(root, 'main-ABCDEFGH.js'), 'console.log(1)');
  writeFileSync(path.join(root, 'worker-ABCDEFGH.js'), 'postMessage(1)');
  writeFileSync(path.join(root, 'service-worker.js'), 'self');
  app = Fastify();
  app.get('/api/jobs', () => ({ jobs: [] }));
  await serveShell(app, root);
});
afterAll(async () => {
  await app.close();
  rmSync(root, { recursive: true });
});

const get = (url: string) => app.inject({ method: 'GET', url });

describe('the page', () => {
  it.each(['/', '/yard', '/job/abc/test'])('is served at %s with a nonce that its policy names, fresh each time', async (url) => {
    const [first, second] = [await get(url), await get(url)];
    const nonce = /ngCspNonce="([^"]+)"/.exec(first.body)?.[1] ?? '';
    expect(nonce.length).toBeGreaterThan(20);
    expect(first.headers['content-security-policy']).toContain(`'nonce-${nonce}'`);
    expect(first.headers['content-security-policy']).toContain("script-src 'self';");
    expect(second.body).not.toBe(first.body);
    expect(first.headers['cache-control']).toBe('no-store');
    expect(first.headers['x-frame-options']).toBe('SAMEORIGIN');
  });

  it('is never served as the raw file', async () => {
    expect((await get('/index.html')).statusCode).toBe(308);
  });
});

describe('its files', () => {
  it('are kept for ever when their name holds their hash, else asked for again', async () => {
    expect((await get('/main-ABCDEFGH.js')).headers['cache-control']).toContain('immutable');
    expect((await get('/service-worker.js')).headers['cache-control']).toBe('no-cache');
  });
  it('carry a policy of their own where they are workers', async () => {
    expect((await get('/worker-ABCDEFGH.js')).headers['content-security-policy']).toContain("connect-src 'self'");
    expect((await get('/main-ABCDEFGH.js')).headers['content-security-policy']).toBeUndefined();
  });
  it('end where the folder ends', async () => {
    for (const url of ['/..%2f..%2fetc%2fpasswd', '/..%2fshell.spec.ts', '/%2e%2e/%2e%2e/etc/passwd'])
      expect((await get(url)).body).not.toMatch(/root:|serveShell/);
    expect((await get('/nothing.js')).json()).toMatchObject({ status: 404 });
    expect((await get('/api/nothing')).json()).toMatchObject({ status: 404, type: 'urn:estuarine:notFound' });
  });
});
