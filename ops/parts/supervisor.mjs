/**
 * Owns a running Estuarine: its database and its server. Restarts either when it is killed; stops both, in order, on a signal. A
 * file under var/ says where it runs, so that a second start finds it.
 */
import { spawn } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import fs from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import net from 'node:net';
import path from 'node:path';
import readline from 'node:readline';
import { Postgres } from './postgres.mjs';
import { isPortFree, must } from './run.mjs';
import { ROOT, say, Stop } from './say.mjs';

const SERVER = path.join(ROOT, 'server/dist/main.js');
const READY_MILLISECOND = 30_000;
const RESTART_MILLISECOND = 300;
/** A log that grew longer is begun anew at the next start. */
const LOG_BYTES = 10e6;
const LONGEST_PAUSE_MILLISECOND = 30_000;
/** How long a server of an earlier run may take to stop. */
const LEAVE_MILLISECOND = 10_000;

const pause = (millisecond) => new Promise((resolve) => setTimeout(resolve, millisecond));

function readSecret() {
  const file = path.join(ROOT, 'var/secret');
  if (!fs.existsSync(file)) {
    fs.mkdirSync(path.dirname(file), { recursive: true });
    fs.writeFileSync(file, randomBytes(48).toString('base64url'), { mode: 0o600 });
  }
  return fs.readFileSync(file, 'utf8');
}

/** Whether a server answers; one of our own certificate is trusted by that certificate. */
function isHealthy(url, cert) {
  return new Promise((resolve) => {
    const { request } = url.startsWith('https:') ? https : http;
    const ca = cert ? fs.readFileSync(cert) : undefined;
    const asked = request(`${url}/api/health`, { ca, timeout: 3000 }, (answer) => {
      answer.resume();
      resolve(answer.statusCode === 200);
    });
    asked.on('timeout', () => asked.destroy());
    asked.on('error', () => resolve(false));
    asked.end();
  });
}

/** The address of a live Estuarine of this purpose, or null. */
export async function findRunning(purpose) {
  try {
    const { url, pid, cert } = JSON.parse(fs.readFileSync(path.join(ROOT, 'var', `${purpose}.json`), 'utf8'));
    process.kill(pid, 0);
    return (await isHealthy(url, cert)) ? url : null;
  } catch {
    return null;
  }
}

/**
 * Makes this process the one that runs a purpose, until it ends. Where another does, or is about to, gives that one's address as soon as it
 * answers; null where this is the one.
 */
export async function claim(purpose) {
  const name = createHash('sha256').update(`${ROOT}/${purpose}`).digest('hex').slice(0, 32);
  for (let tries = 0; ; tries++) {
    const running = await findRunning(purpose);
    if (running) return running;
    if (await holdName(name)) return null;
    if (tries === 3) say('Another start is under way; waiting for it …');
    await pause(RESTART_MILLISECOND);
  }
}

/** A name that one process holds at a time, in the abstract namespace of Linux: it is free again whatever ends the process. */
function holdName(name) {
  return new Promise((resolve) => {
    const held = net.createServer();
    held.once('error', () => resolve(false));
    held.listen(`\0estuarine-${name}`, () => resolve(true));
    held.unref();
  });
}

export class Supervisor {
  #purpose;
  #port;
  #isDurable;
  #seed;
  #env;
  #host;
  #tls;
  #postgres = null;
  #server = null;
  #url = null;
  #isStopping = false;
  #hasStarted = false;
  #stopped = null;

  /**
   * `seed`: script run on the database before the server starts. `port` 0: any free one. `tls`: files of key and certificate, for
   * serving `host` to a network.
   */
  constructor({ purpose, port, isDurable = true, seed = null, env = {}, host, tls = null }) {
    this.#purpose = purpose;
    this.#port = port;
    this.#isDurable = isDurable;
    this.#seed = seed;
    this.#env = env;
    this.#host = host ?? '127.0.0.1';
    this.#tls = tls;
  }

  get databaseUrl() {
    return process.env.DATABASE_URL ?? this.#postgres?.url;
  }

  get serverPid() {
    return this.#server?.pid;
  }

  /** Starts all and gives the address. Signals are heeded from the first moment on, so that nothing is orphaned. */
  async start() {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void this.stop().then(() => process.exit(0)));
    await this.#stopLeftBehindServer();
    if (this.#port !== 0 && !(await isPortFree(this.#port)))
      throw new Stop(`Port ${this.#port} is taken by another program. Set PORT to a free one, for instance PORT=${this.#port + 1}.`);
    try {
      if (!process.env.DATABASE_URL) {
        this.#postgres = new Postgres({ purpose: this.#purpose, isDurable: this.#isDurable });
        await this.#startPostgres();
      }
      if (this.#seed)
        await must('Writing the demonstration data', process.execPath, [this.#seed], {
          quiet: true,
          env: { DATABASE_URL: this.databaseUrl },
        });
      this.#url = await this.#startServer();
      this.#note();
      return this.#url;
    } catch (error) {
      await this.stop();
      throw error;
    }
  }

  /** Where it runs, for whoever looks for it. */
  #note() {
    if (!this.#url) return;
    const [serverPid, databasePid] = [this.#server?.pid, this.#postgres?.pid];
    const about = { url: this.#url, pid: process.pid, serverPid, databasePid, cert: this.#tls?.cert };
    fs.writeFileSync(this.#file, JSON.stringify(about));
  }

  get #file() {
    return path.join(ROOT, 'var', `${this.#purpose}.json`);
  }

  async #startPostgres() {
    await this.#postgres.start(() => void this.#bringBackPostgres());
  }

  /** Until it runs or all is stopped, less and less often; the server goes on and says meanwhile that nothing can be kept. */
  async #bringBackPostgres() {
    if (this.#isStopping) return;
    say('The database ended by itself; starting it again.');
    for (let wait = RESTART_MILLISECOND; ; wait = Math.min(LONGEST_PAUSE_MILLISECOND, wait * 2)) {
      await pause(wait);
      if (this.#isStopping) return;
      try {
        await this.#startPostgres();
        // stopped while it started
        if (this.#isStopping) return void (await this.#postgres.stop());
        if (wait > RESTART_MILLISECOND) say('The database runs again.');
        return this.#note();
      } catch (error) {
        say(`${error.message} It is tried again; Ctrl-C stops all.`);
      }
    }
  }

  /** A server whose supervisor was killed: known by the file and by its command line. */
  async #stopLeftBehindServer() {
    const isThere = (pid) => fs.readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(SERVER);
    try {
      const { serverPid } = JSON.parse(fs.readFileSync(this.#file, 'utf8'));
      if (!isThere(serverPid)) return;
      say('Stopping the server of an earlier run …');
      process.kill(serverPid, 'SIGTERM');
      const end = Date.now() + LEAVE_MILLISECOND;
      while (isThere(serverPid)) {
        if (Date.now() > end) process.kill(serverPid, 'SIGKILL');
        await pause(50);
      }
    } catch {
      // none is left
    }
  }

  #startServer() {
    return new Promise((resolve, reject) => {
      const env = {
        ...process.env,
        NODE_ENV: 'production',
        DATABASE_URL: this.databaseUrl,
        HOST: this.#host,
        PORT: String(this.#port),
        ...(this.#tls ? { ESTUARINE_TLS_KEY: this.#tls.key, ESTUARINE_TLS_CERT: this.#tls.cert } : {}),
        ESTUARINE_SECRET: readSecret(),
        ESTUARINE_WEB: path.join(ROOT, 'web/dist/browser'),
        ...(this.#postgres ? { ESTUARINE_DATA: this.#postgres.folder } : {}),
        ...this.#env,
      };
      const child = spawn(process.execPath, [SERVER], { cwd: ROOT, env, detached: true, stdio: ['ignore', 'pipe', 'pipe'] });
      this.#server = child;
      const log = this.#openLog();
      let told = '';
      const late = setTimeout(() => reject(new Stop('The server did not get ready in time.')), READY_MILLISECOND);
      readline.createInterface({ input: child.stdout }).on('line', (line) => {
        const url = /^listening (\S+)/.exec(line)?.[1];
        if (line.startsWith('{')) fs.writeSync(log, `${line}\n`);
        // whatever else the server has to say, such as the code for the first lead, is for the person at this console
        else if (!url) say(line);
        if (!url) return;
        clearTimeout(late);
        this.#port = Number(new URL(url).port);
        this.#hasStarted = true;
        resolve(url);
      });
      // its sentences are for the person at this console; what it logs as JSON is for who looks into it
      readline.createInterface({ input: child.stderr }).on('line', (line) => {
        fs.writeSync(log, `${line}\n`);
        if (!/^[A-Z]/.test(line)) return;
        told = line;
        say(line);
      });
      child.once('close', () => fs.closeSync(log));
      child.once('exit', () => {
        clearTimeout(late);
        if (this.#server !== child) return;
        this.#server = null;
        reject(new Stop(told || `The server ended by itself. What it said is in ${this.#logName}.`));
        if (!this.#isStopping && this.#hasStarted) this.#restart();
      });
    });
  }

  get #logName() {
    return path.join('var/log', `${this.#purpose}-server.log`);
  }

  #openLog() {
    fs.mkdirSync(path.join(ROOT, 'var/log'), { recursive: true });
    const file = path.join(ROOT, this.#logName);
    const isLong = (fs.statSync(file, { throwIfNoEntry: false })?.size ?? 0) > LOG_BYTES;
    return fs.openSync(file, isLong ? 'w' : 'a', 0o640);
  }

  #restart() {
    say('The server ended by itself; starting it again.');
    setTimeout(() => {
      if (this.#isStopping) return;
      this.#startServer().then(
        () => this.#note(),
        () => undefined, // its own exit starts it again
      );
    }, RESTART_MILLISECOND);
  }

  stop() {
    this.#isStopping = true;
    this.#stopped ??= (async () => {
      const child = this.#server;
      if (child) {
        const gone = new Promise((resolve) => child.once('exit', resolve));
        child.kill('SIGTERM');
        const late = setTimeout(() => child.kill('SIGKILL'), 8000);
        await gone;
        clearTimeout(late);
      }
      await this.#postgres?.stop();
      fs.rmSync(this.#file, { force: true });
    })();
    return this.#stopped;
  }
}
