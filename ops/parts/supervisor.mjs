/**
 * Owns a running Estuarine: its database and its server. Restarts either when it is killed; stops both, in order, on a signal. A
 * file under var/ says where it runs, so that a second start finds it.
 */
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import fs from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import path from 'node:path';
import { Postgres } from './postgres.mjs';
import { isPortFree, must } from './run.mjs';
import { ROOT, say, Stop } from './say.mjs';

const SERVER = path.join(ROOT, 'server/dist/main.js');
const READY_MILLISECOND = 30_000;
const RESTART_MILLISECOND = 300;

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
    this.#stopLeftBehindServer();
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
    await this.#postgres.start(() => {
      if (this.#isStopping) return;
      say('The database ended by itself; starting it again.');
      setTimeout(() => {
        this.#startPostgres().then(
          () => this.#note(),
          (error) => this.#fail(error),
        );
      }, RESTART_MILLISECOND);
    });
  }

  /** A server whose supervisor was killed: known by the file and by its command line. */
  #stopLeftBehindServer() {
    try {
      const { serverPid } = JSON.parse(fs.readFileSync(this.#file, 'utf8'));
      const line = fs.readFileSync(`/proc/${serverPid}/cmdline`, 'utf8');
      if (line.includes(SERVER)) process.kill(serverPid, 'SIGTERM');
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
        ...this.#env,
      };
      const child = spawn(process.execPath, [SERVER], { cwd: ROOT, env, detached: true, stdio: ['ignore', 'pipe', 'pipe'] });
      this.#server = child;
      let told = '';
      const late = setTimeout(() => reject(new Stop('The server did not get ready in time.')), READY_MILLISECOND);
      child.stdout.on('data', (chunk) => {
        const url = /^listening (\S+)/m.exec(chunk)?.[1];
        // whatever else the server has to say, such as the code for the first lead, is for the person at this console
        const rest = String(chunk).replace(/^listening .*\n/m, '');
        if (rest !== '') process.stderr.write(rest);
        if (!url) return;
        clearTimeout(late);
        this.#port = Number(new URL(url).port);
        this.#hasStarted = true;
        resolve(url);
      });
      child.stderr.on('data', (chunk) => {
        told = (told + chunk).slice(-2000);
        process.stderr.write(chunk);
      });
      child.once('exit', (code) => {
        clearTimeout(late);
        if (this.#server !== child) return;
        this.#server = null;
        reject(new Stop(`The server ended with code ${code}. ${told.trim()}`));
        if (!this.#isStopping && this.#hasStarted) this.#restart();
      });
    });
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

  async #fail(error) {
    say(error.message);
    await this.stop();
    process.exit(1);
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
