/**
 * A private PostgreSQL cluster on loopback, one for each purpose. As root every PostgreSQL program runs as the unprivileged user
 * `postgres`, since initdb and the server refuse root.
 */
import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { findFreePort } from './run.mjs';
import { keepLog, ROOT, say, Stop } from './say.mjs';

const USER = 'estuarine';
const START_MILLISECOND = 30_000;
const STOP_MILLISECOND = 20_000;
/** sun_path holds 107 bytes. */
const SOCKET_BYTES = 107;

const env = { PATH: process.env.PATH, HOME: '/nonexistent', LC_ALL: 'C.UTF-8', TZ: 'UTC' };

export function findPrograms() {
  const base = '/usr/lib/postgresql';
  const versions = fs.existsSync(base) ? fs.readdirSync(base).filter((v) => fs.existsSync(`${base}/${v}/bin/initdb`)) : [];
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0];
  if (!newest) throw new Stop('No PostgreSQL server programs were found. Install them with: sudo apt-get install -y postgresql');
  return { version: newest, bin: `${base}/${newest}/bin` };
}

function findOwner() {
  if (process.getuid() !== 0) return { name: os.userInfo().username, uid: null, gid: null };
  const line = fs
    .readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((l) => l.startsWith('postgres:'));
  if (!line) throw new Stop('Running as root, and there is no user `postgres` to run the database as. Install the package postgresql.');
  const [name, , uid, gid] = line.split(':');
  return { name, uid: Number(uid), gid: Number(gid) };
}

/** One cluster. `purpose` names its folder; `isDurable` keeps every commit through a power cut. */
export class Postgres {
  #programs = findPrograms();
  #owner = findOwner();
  #as = this.#owner.uid === null ? {} : { uid: this.#owner.uid, gid: this.#owner.gid };
  #home;
  #isDurable;
  #child = null;
  #gone = null;
  #hasRun = false;
  port = 0;

  constructor({ purpose, isDurable }) {
    this.#isDurable = isDurable;
    this.#home = this.#findHome(purpose);
  }

  get url() {
    return `postgres://${USER}:${fs.readFileSync(this.#at('password'), 'utf8')}@127.0.0.1:${this.port}/${USER}`;
  }

  get pid() {
    return this.#child?.pid;
  }

  get bin() {
    return this.#programs.bin;
  }

  #at(name) {
    return path.join(this.#home, name);
  }

  /** Under var/ where the server's user can reach it and the socket's path is short enough; else under /var/tmp. */
  #findHome(purpose) {
    const inProject = path.join(ROOT, 'var', `postgres-${this.#owner.name}`, purpose);
    const canReach = spawnSync('test', ['-x', ROOT, '-a', '-r', ROOT], { cwd: '/', env, ...this.#as }).status === 0;
    if (canReach && Buffer.byteLength(`${inProject}/run/.s.PGSQL.65535.lock`) <= SOCKET_BYTES) return inProject;
    const slug = createHash('sha256').update(ROOT).digest('hex').slice(0, 10);
    return path.join('/var/tmp', `estuarine-${this.#owner.name}-${slug}`, purpose);
  }

  #own(file) {
    if (this.#owner.uid !== null) fs.chownSync(file, this.#owner.uid, this.#owner.gid);
  }

  #pg(program, args, extra = {}) {
    const result = spawnSync(path.join(this.bin, program), args, { cwd: '/', env: { ...env, ...extra }, encoding: 'utf8', ...this.#as });
    if (result.error) throw new Stop(`${program} could not be run: ${result.error.message}`);
    return result;
  }

  #initialise() {
    for (const dir of [path.dirname(this.#home), this.#home, this.#at('run')]) {
      if (fs.existsSync(dir)) continue;
      fs.mkdirSync(dir, { recursive: true });
      this.#own(dir);
    }
    fs.chmodSync(this.#home, 0o700);
    const versionFile = this.#at('data/PG_VERSION');
    if (fs.existsSync(this.#at('ready')) && fs.existsSync(versionFile)) {
      const have = fs.readFileSync(versionFile, 'utf8').trim();
      if (have !== this.#programs.version)
        throw new Stop(
          `The data in ${this.#at('data')} is of PostgreSQL ${have}, the programs are ${this.#programs.version}. Back up with the old ones and restore with the new.`,
        );
      return;
    }
    // half of an initdb that was cut off holds nothing yet
    fs.rmSync(this.#at('data'), { recursive: true, force: true });
    fs.writeFileSync(this.#at('password'), randomBytes(18).toString('base64url'), { mode: 0o600 });
    this.#own(this.#at('password'));
    const made = this.#pg('initdb', [
      '-D',
      this.#at('data'),
      '-U',
      USER,
      '--encoding=UTF8',
      '--locale=C.UTF-8',
      '--auth=scram-sha-256',
      `--pwfile=${this.#at('password')}`,
      '--no-instructions',
    ]);
    if (made.status !== 0) throw new Stop(`The database could not be made. ${keepLog('initdb', `${made.stdout}${made.stderr}`)}`);
    fs.writeFileSync(this.#at('ready'), '');
  }

  /** Stops a server that a killed run left behind; known by the cluster's own pid file. */
  #stopLeftBehind() {
    if (!fs.existsSync(this.#at('data/postmaster.pid'))) return;
    if (this.#pg('pg_ctl', ['status', '-D', this.#at('data')]).status === 0) {
      say('Stopping the database of an earlier run …');
      this.#pg('pg_ctl', ['stop', '-D', this.#at('data'), '-m', 'fast', '-w', '-t', '30']);
    }
  }

  /** Whether a server runs on this cluster now; then {@link url} leads to it. */
  findRunning() {
    if (!fs.existsSync(this.#at('data/postmaster.pid')) || this.#pg('pg_ctl', ['status', '-D', this.#at('data')]).status !== 0)
      return false;
    this.port = Number(fs.readFileSync(this.#at('data/postmaster.pid'), 'utf8').split('\n')[3]);
    return true;
  }

  /** Where the data lie, for whoever asks how full that disk is. */
  get folder() {
    return this.#home;
  }

  /** Throws the data away. Only for tests. */
  wipe() {
    this.#stopLeftBehind();
    fs.rmSync(this.#home, { recursive: true, force: true });
  }

  /** Starts the server; `onGone` is called if it ends without being stopped. */
  async start(onGone = () => undefined) {
    this.#initialise();
    this.#stopLeftBehind();
    for (let tries = 0; tries < 3; tries++) if (await this.#startOnce(onGone)) return this.#createDatabase();
    const log = fs.readFileSync(this.#at('log'), 'utf8').split('\n').slice(-40).join('\n');
    throw new Stop(`The database did not start${/No space left/.test(log) ? ': the disk is full' : ''}. ${keepLog('database', log)}`);
  }

  async #startOnce(onGone) {
    this.port ||= await findFreePort();
    const settings = {
      listen_addresses: '127.0.0.1',
      port: this.port,
      unix_socket_directories: this.#at('run'),
      unix_socket_permissions: '0700',
      max_connections: 60,
      shared_buffers: '128MB',
      log_timezone: 'UTC',
      timezone: 'UTC',
      ...(this.#isDurable ? {} : { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off' }),
    };
    const log = fs.openSync(this.#at('log'), 'a', 0o640);
    this.#own(this.#at('log'));
    const args = ['-D', this.#at('data'), ...Object.entries(settings).flatMap(([k, v]) => ['-c', `${k}=${v}`])];
    // its own group: Ctrl-C in the terminal reaches only this script, which stops everything in order
    const child = spawn(path.join(this.bin, 'postgres'), args, { cwd: '/', env, detached: true, stdio: ['ignore', log, log], ...this.#as });
    fs.closeSync(log);
    this.#child = child;
    let [hasExited, isReady] = [false, false];
    this.#gone = new Promise((resolve) =>
      child.once('exit', () => {
        hasExited = true;
        if (this.#child === child) {
          this.#child = null;
          // one that never got ready is tried again by who starts it
          if (isReady) onGone();
        }
        resolve();
      }),
    );
    const begin = Date.now();
    while (!hasExited && Date.now() - begin < START_MILLISECOND) {
      isReady = this.#isReady(child.pid);
      if (isReady) return (this.#hasRun = true);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    this.#child = null;
    if (!hasExited) child.kill('SIGQUIT');
    // once it ran its clients know the port; before that another may do better
    if (!this.#hasRun) this.port = 0;
    return false;
  }

  #isReady(pid) {
    try {
      const lines = fs.readFileSync(this.#at('data/postmaster.pid'), 'utf8').split('\n');
      return Number(lines[0]) === pid && lines[7]?.trim() === 'ready';
    } catch {
      return false;
    }
  }

  #createDatabase() {
    const sql = (text) =>
      this.#pg('psql', ['-XAtq', '-h', this.#at('run'), '-p', String(this.port), '-U', USER, '-d', 'postgres', '-c', text], {
        PGPASSWORD: fs.readFileSync(this.#at('password'), 'utf8'),
      });
    if (sql(`select 1 from pg_database where datname = '${USER}'`).stdout.trim() === '1') return;
    const made = sql(`create database ${USER}`);
    if (made.status !== 0) throw new Stop(`The database could not be made. ${keepLog('createdb', made.stderr)}`);
  }

  async stop() {
    const child = this.#child;
    if (!child) return;
    this.#child = null;
    child.kill('SIGINT'); // fast shutdown: does not wait for clients to leave
    const late = setTimeout(() => child.kill('SIGQUIT'), STOP_MILLISECOND);
    await this.#gone;
    clearTimeout(late);
  }
}
