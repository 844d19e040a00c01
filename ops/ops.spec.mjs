/** The scripts that run Estuarine: database, supervisor, the calculations' command line. */
import { spawn, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { jest } from '@jest/globals';
import { chooseAddress, ensureCertificate } from './parts/certificate.mjs';
import { Postgres } from './parts/postgres.mjs';
import { findFreePort, isPortFree, must } from './parts/run.mjs';
import { ROOT } from './parts/say.mjs';
import { findRunning, Supervisor } from './parts/supervisor.mjs';

jest.setTimeout(60_000);
const said = [];
let write;
beforeAll(() => {
  write = jest.spyOn(process.stderr, 'write').mockImplementation((text) => said.push(String(text)) > 0);
});
afterAll(() => write.mockRestore());

async function until(condition) {
  for (let i = 0; i < 400 && !(await condition()); i++) await new Promise((r) => setTimeout(r, 50));
  expect(await condition()).toBe(true);
}

// what is tried here owns its database: the one of the other specs is left alone
const shared = process.env.DATABASE_URL;
beforeAll(() => delete process.env.DATABASE_URL);
afterAll(() => {
  if (shared !== undefined) process.env.DATABASE_URL = shared;
});

describe('ports', () => {
  it('finds one that is free and sees one that is taken', async () => {
    const port = await findFreePort();
    expect(await isPortFree(port)).toBe(true);
    const taken = net.createServer().listen(port, '127.0.0.1');
    await new Promise((r) => taken.once('listening', r));
    expect(await isPortFree(port)).toBe(false);
    await new Promise((r) => taken.close(r));
  });
});

describe('the database', () => {
  const postgres = new Postgres({ purpose: 'ops-test', isDurable: false });
  afterAll(async () => {
    await postgres.stop();
    postgres.wipe();
  });

  it('starts on loopback, is found again by its own folder, and tells when it was killed', async () => {
    const gone = jest.fn();
    await postgres.start(gone);
    expect(postgres.url).toMatch(/^postgres:\/\/estuarine:[\w-]+@127\.0\.0\.1:\d+\/estuarine$/);
    const other = new Postgres({ purpose: 'ops-test', isDurable: false });
    expect(other.findRunning()).toBe(true);
    expect(other.url).toBe(postgres.url);
    await postgres.stop();
    expect(gone).not.toHaveBeenCalled();
    expect(other.findRunning()).toBe(false);
  });

  it('stops the one that a killed run left behind, and keeps what was written', async () => {
    const left = new Postgres({ purpose: 'ops-test', isDurable: false });
    await left.start();
    await postgres.start();
    expect(postgres.findRunning()).toBe(true);
  });
});

describe('the supervisor', () => {
  const options = { purpose: 'ops-test-app', isDurable: false };
  let supervisor;
  let url;
  beforeAll(async () => {
    supervisor = new Supervisor({ ...options, port: 0 });
    url = await supervisor.start();
  });
  afterAll(async () => {
    await supervisor.stop();
    new Postgres(options).wipe();
  });
  const isHealthy = async () => (await fetch(`${url}/api/health`).catch(() => null))?.ok === true;

  it('serves on loopback and is found by a second start', async () => {
    expect(url).toMatch(/^http:\/\/127\.0\.0\.1:\d+$/);
    expect(await isHealthy()).toBe(true);
    expect(await findRunning(options.purpose)).toBe(url);
    expect(await findRunning('nobody')).toBeNull();
  });

  it('refuses a port that is taken, in one sentence, and leaves the running one alone', async () => {
    const port = Number(new URL(url).port);
    const second = new Supervisor({ purpose: 'ops-test-second', isDurable: false, port });
    await expect(second.start()).rejects.toThrow(`Port ${port} is taken by another program. Set PORT to a free one`);
    expect(await isHealthy()).toBe(true);
  });

  it('starts a killed server again at the same address', async () => {
    const before = supervisor.serverPid;
    process.kill(before, 'SIGKILL');
    await until(async () => supervisor.serverPid !== undefined && supervisor.serverPid !== before && (await isHealthy()));
    expect(said.join('')).toContain('The server ended by itself; starting it again.');
  });

  it('keeps what the server logs of a failure, and shows none of it', async () => {
    const log = path.join(ROOT, 'var/log', `${options.purpose}-server.log`);
    const before = fs.readFileSync(log, 'utf8').length;
    const { Client } = (await import('pg')).default;
    const client = new Client({ connectionString: supervisor.databaseUrl });
    await client.connect();
    await client.query('alter table credential rename to away');
    const answer = await fetch(`${url}/api/session`);
    await client.query('alter table away rename to credential');
    await client.end();
    expect(answer.status).toBe(500);
    await until(() => fs.readFileSync(log, 'utf8').slice(before).includes('credential'));
    expect(said.join('')).not.toMatch(/^\{/m);
  });

  it('starts a killed database again, and the server finds it', async () => {
    const { pid } = JSON.parse(fs.readFileSync(path.join(ROOT, 'var', `${options.purpose}.json`), 'utf8'));
    expect(pid).toBe(process.pid);
    const running = new Postgres(options);
    running.findRunning();
    const pidFile = path.join(running.folder, 'data/postmaster.pid');
    process.kill(Number(fs.readFileSync(pidFile, 'utf8').split('\n')[0]), 'SIGKILL');
    await until(async () => !(await isHealthy()));
    await until(isHealthy);
    expect(said.join('')).toContain('The database ended by itself; starting it again.');
  });

  it('goes on trying a database that does not start, and serves again once it does', async () => {
    const running = new Postgres(options);
    const settings = path.join(running.folder, 'data/postgresql.auto.conf');
    const before = fs.readFileSync(settings);
    fs.writeFileSync(settings, 'no such setting\n');
    process.kill(Number(fs.readFileSync(path.join(running.folder, 'data/postmaster.pid'), 'utf8').split('\n')[0]), 'SIGKILL');
    await until(() => said.join('').includes('The database did not start. What it said is in var/log/database.log. It is tried again'));
    expect(await isHealthy()).toBe(false);
    expect(supervisor.serverPid).toBeDefined();
    fs.writeFileSync(settings, before);
    await until(isHealthy);
    expect(said.join('')).toContain('The database runs again.');
    expect(said.join('')).not.toContain('syntax error');
  });

  it('leaves nothing behind when it stops', async () => {
    await supervisor.stop();
    expect(await isHealthy()).toBe(false);
    expect(new Postgres(options).findRunning()).toBe(false);
    expect(await findRunning(options.purpose)).toBeNull();
  });
});

describe('two starts', () => {
  const purpose = 'ops-test-two';
  const script = path.join(ROOT, 'var', `${purpose}.mjs`);
  const children = [];
  const start = () => {
    const child = spawn(process.execPath, [script], { env: { ...process.env, NODE_OPTIONS: '' }, stdio: ['ignore', 'pipe', 'inherit'] });
    child.heard = '';
    child.stdout.on('data', (chunk) => (child.heard += chunk));
    children.push(child);
    return child;
  };
  beforeAll(() => {
    const parts = JSON.stringify(path.join(ROOT, 'ops/parts/supervisor.mjs'));
    fs.writeFileSync(
      script,
      `const { claim, Supervisor } = await import(${parts});
       const running = await claim('${purpose}');
       if (running) console.log('runs at', running);
       else console.log('started', await new Supervisor({ purpose: '${purpose}', isDurable: false, port: Number(process.env.PORT ?? 0) }).start());`,
    );
  });
  afterAll(() => {
    for (const child of children) child.kill('SIGKILL');
    new Postgres({ purpose, isDurable: false }).wipe();
    fs.rmSync(script);
  });

  it('at once are one, and the second tells where the first is', async () => {
    const both = [start(), start()];
    await until(() => both.every((child) => child.heard !== ''));
    const [first, second] = both.map((child) => child.heard.trim()).sort((a, b) => (a.startsWith('started') ? -1 : b.startsWith('started') ? 1 : 0)); // prettier-ignore
    expect(first).toMatch(/^started http/);
    expect(second).toBe(`runs at ${first.slice('started '.length)}`);
  });

  it('take over the port from the server of one that was killed', async () => {
    const file = path.join(ROOT, 'var', `${purpose}.json`);
    const { url, pid, serverPid } = JSON.parse(fs.readFileSync(file, 'utf8'));
    process.kill(pid, 'SIGKILL');
    await until(async () => (await fetch(`${url}/api/health`).catch(() => null))?.ok === true);
    process.env.PORT = new URL(url).port;
    const next = start();
    delete process.env.PORT;
    await until(() => next.heard !== '');
    expect(next.heard.trim()).toBe(`started ${url}`);
    // gone, or dead and not yet counted off by init
    const line = path.join('/proc', String(serverPid), 'cmdline');
    expect(fs.existsSync(line) ? fs.readFileSync(line, 'utf8') : '').toBe('');
    const ended = new Promise((resolve) => next.once('exit', resolve));
    next.kill('SIGTERM');
    await ended;
    expect(await findRunning(purpose)).toBeNull();
  });
});

describe('what a tool said', () => {
  it('is kept, and told of in one sentence', async () => {
    const failing = must('The build of nothing', process.execPath, ['-e', 'console.error("at x.js:1:1"); process.exit(3)'], {
      quiet: true,
    });
    await expect(failing).rejects.toThrow(/^The build of nothing failed. What it said is in var\/log\/the-build-of-nothing.log\.$/);
    expect(fs.readFileSync(path.join(ROOT, 'var/log/the-build-of-nothing.log'), 'utf8')).toContain('at x.js:1:1');
  });
  it('of a full disk is said as that', async () => {
    const full = must('npm ci', process.execPath, ['-e', 'console.error("ENOSPC: no space left"); process.exit(1)'], { quiet: true });
    await expect(full).rejects.toThrow('npm ci failed: the disk is full. Free some space and run the command again.');
  });
});

describe('serving a network', () => {
  it('takes an address of this machine only', () => {
    expect(chooseAddress('127.0.0.1')).toBe('127.0.0.1');
    expect(() => chooseAddress('203.0.113.9')).toThrow('no address of this machine');
  });

  it('serves by TLS with a certificate of its own, prints a QR code, and is found again', async () => {
    const tls = await ensureCertificate('127.0.0.1');
    expect(await ensureCertificate('127.0.0.1')).toEqual(tls);
    expect(fs.statSync(tls.key).mode & 0o077).toBe(0);
    const supervisor = new Supervisor({ purpose: 'ops-test-tls', isDurable: false, port: 0, host: '127.0.0.1', tls });
    const url = await supervisor.start();
    try {
      expect(url).toMatch(/^https:/);
      expect(await findRunning('ops-test-tls')).toBe(url);
      await expect(fetch(`${url}/api/health`)).rejects.toThrow(); // nobody else trusts it unasked
      expect(said.join('')).toMatch(/[▀▄█]{8}/);
      expect(said.join('')).toMatch(/code for the first lead \d{4}-\d{4}-\d{4}/);
    } finally {
      await supervisor.stop();
      new Postgres({ purpose: 'ops-test-tls', isDurable: false }).wipe();
    }
  });

  it('asks for both key and certificate where one is supplied', async () => {
    await expect(ensureCertificate('127.0.0.1', { key: 'only.key' })).rejects.toThrow('both --key and --cert');
  });
});

describe('npm run reckon', () => {
  const reckon = (input, ...args) => {
    const { status, stdout, stderr } = spawnSync(process.execPath, [path.join(ROOT, 'ops/reckon.mjs'), ...args], {
      input,
      encoding: 'utf8',
      env: { ...process.env, NODE_OPTIONS: '' },
    });
    return { status, stdout, stderr };
  };
  it('lists its names', () => {
    expect(reckon('').stdout).toContain('match.arrange\t');
  });
  it('answers JSON with JSON', () => {
    const { status, stdout } = reckon('{"moduleVolts":[7,8,9],"openLinks":[1]}', 'pack.exposure');
    expect(status).toBe(0);
    expect(JSON.parse(stdout)).toMatchObject({ volt: 17, between: ['3+', '2-'] });
  });
  it.each([
    ['{"value":', ['torque.convert'], /not JSON/],
    ['{"value":1,"unit":"stone"}', ['torque.convert'], /^unit: /],
    ['{}', ['no.such'], /There is no calculation "no.such"/],
  ])('exits 2 on bad input with the reason, %#', (input, args, reason) => {
    expect(reckon(input, ...args)).toMatchObject({ status: 2, stdout: '', stderr: expect.stringMatching(reason) });
  });
});
