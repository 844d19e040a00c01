/** The scripts that run Estuarine: database, supervisor, the calculations' command line. */
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { jest } from '@jest/globals';
import { chooseAddress, ensureCertificate } from './parts/certificate.mjs';
import { Postgres } from './parts/postgres.mjs';
import { findFreePort, isPortFree } from './parts/run.mjs';
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

  it('starts a killed database again, and the server finds it', async () => {
    const { pid } = JSON.parse(fs.readFileSync(path.join(ROOT, 'var', `${options.purpose}.json`), 'utf8'));
    expect(pid).toBe(process.pid);
    const running = new Postgres(options);
    running.findRunning();
    const folder = fs.readdirSync(path.join(ROOT, 'var')).find((name) => name.startsWith('postgres-'));
    const pidFile = folder ? path.join(ROOT, 'var', folder, options.purpose, 'data/postmaster.pid') : '';
    if (!fs.existsSync(pidFile)) return; // the cluster lies elsewhere where the project's folder cannot be reached
    process.kill(Number(fs.readFileSync(pidFile, 'utf8').split('\n')[0]), 'SIGKILL');
    await until(async () => !(await isHealthy()));
    await until(isHealthy);
    expect(said.join('')).toContain('The database ended by itself; starting it again.');
  });

  it('leaves nothing behind when it stops', async () => {
    await supervisor.stop();
    expect(await isHealthy()).toBe(false);
    expect(new Postgres(options).findRunning()).toBe(false);
    expect(await findRunning(options.purpose)).toBeNull();
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
