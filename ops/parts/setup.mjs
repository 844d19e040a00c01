/** Makes a fresh machine ready: Node, Debian packages, npm packages, builds. Each step is passed over when it stands already. */
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { must } from './run.mjs';
import { ROOT, say, Stop } from './say.mjs';

const NEEDED_NODE = 'Node 20.19 or later of the 20 line, or 22.12 or later';
const DEBIAN_PACKAGES = {
  postgresql: () =>
    fs.existsSync('/usr/lib/postgresql') &&
    fs.readdirSync('/usr/lib/postgresql').some((v) => fs.existsSync(`/usr/lib/postgresql/${v}/bin/initdb`)),
  chromium: () => fs.existsSync('/usr/bin/chromium'),
  openssl: () => fs.existsSync('/usr/bin/openssl'),
};
const INSTALL_BYTES = 1.5e9;
const RUN_BYTES = 2e8;

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  const fits = (major === 20 && minor >= 19) || (major === 22 && minor >= 12) || major > 22;
  if (!fits) throw new Stop(`This is Node ${process.versions.node}; Estuarine needs ${NEEDED_NODE}.`);
}

function checkDisk(bytes) {
  const { bavail, bsize } = fs.statfsSync(ROOT);
  if (bavail * bsize < bytes)
    throw new Stop(`The disk is nearly full: ${Math.round((bavail * bsize) / 1e6)} MB are free, ${bytes / 1e6} MB are needed here.`);
}

/** Installs what is missing when root; else says the exact command and stops. */
export async function ensureDebianPackages(names) {
  const missing = names.filter((name) => !DEBIAN_PACKAGES[name]());
  if (missing.length === 0) return;
  const command = `apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0 || !fs.existsSync('/usr/bin/apt-get'))
    throw new Stop(`Missing: ${missing.join(', ')}. Install with\n  sudo apt-get update && sudo ${command}\nand run this again.`);
  say(`Installing ${missing.join(' and ')} …`);
  const env = { DEBIAN_FRONTEND: 'noninteractive' };
  await must('apt-get update', 'apt-get', ['update'], { env, quiet: true });
  await must(command, 'apt-get', command.split(' ').slice(1), { env, quiet: true });
  const still = missing.filter((name) => !DEBIAN_PACKAGES[name]());
  if (still.length > 0) throw new Stop(`${still.join(', ')} is still missing after ${command}.`);
}

/** Installs npm packages when the lock file changed or an earlier installation did not end. */
export async function ensureNodeModules() {
  const mark = path.join(ROOT, 'node_modules/.estuarine-installed');
  const wanted = createHash('sha256')
    .update(fs.readFileSync(path.join(ROOT, 'package-lock.json')))
    .digest('hex');
  if (fs.existsSync(mark) && fs.readFileSync(mark, 'utf8') === wanted) return;
  checkDisk(INSTALL_BYTES);
  say('Installing npm packages …');
  fs.rmSync(mark, { force: true });
  await must('npm ci', 'npm', ['ci', '--no-audit', '--no-fund', '--prefer-offline'], { quiet: true });
  fs.writeFileSync(mark, wanted);
}

function stampOf(places) {
  const hash = createHash('sha256');
  const add = (place) => {
    const stat = fs.statSync(path.join(ROOT, place));
    if (stat.isDirectory()) {
      for (const name of fs.readdirSync(path.join(ROOT, place)).sort()) if (!name.endsWith('.spec.ts')) add(path.join(place, name));
    } else
      hash
        .update(place)
        .update('\0')
        .update(fs.readFileSync(path.join(ROOT, place)));
  };
  for (const place of places) add(place);
  return hash.digest('hex');
}

async function buildWhenChanged(what, places, output, build) {
  const mark = path.join(ROOT, output, '.stamp');
  const stamp = stampOf(places);
  if (fs.existsSync(mark) && fs.readFileSync(mark, 'utf8') === stamp) return;
  say(`Building ${what} …`);
  fs.rmSync(mark, { force: true });
  await build();
  fs.writeFileSync(mark, stamp);
}

const LIBRARIES = ['core/src', 'core/profiles', 'contract/src', 'server/src', 'seed/src', 'tsconfig.base.json', 'package-lock.json'];
const WEB = [
  'core/src',
  'contract/src',
  'web/src',
  'web/public',
  'angular.json',
  'tsconfig.base.json',
  'web/tsconfig.json',
  'package-lock.json',
];

export async function ensureBuilt({ web = true } = {}) {
  checkDisk(RUN_BYTES);
  await Promise.all([
    buildWhenChanged('the server', LIBRARIES, 'server/dist', () =>
      must('The build of the server', 'npx', ['tsc', '-b', 'core', 'contract', 'server', 'seed'], { quiet: true }),
    ),
    web
      ? buildWhenChanged('the screens', WEB, 'web/dist', () =>
          must('The build of the screens', 'npm', ['run', '-s', 'build:web'], { quiet: true }),
        )
      : undefined,
  ]);
}

/** Everything that a run of the application needs. */
export async function setUp({ packages = ['postgresql'], web = true } = {}) {
  checkNode();
  await ensureDebianPackages(process.env.DATABASE_URL ? packages.filter((p) => p !== 'postgresql') : packages);
  await ensureNodeModules();
  await ensureBuilt({ web });
}
