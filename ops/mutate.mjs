/**
 * `npm run mutate [-- part … --every N]`: makes faults in parts of the core, and in rooms of the server (`server`, or one of them), one at
 * a time, and counts which of them the part's tests notice; with `--every`, of a sample of one in so many. Lists what passed unnoticed;
 * ends with 1 where a part notices less than it must. Run by hand: the first run takes minutes a part, hours a room whose specs are long;
 * later ones as long as what changed.
 */
import fs from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { ROOMS } from './mutate.config.mjs';
import { Postgres } from './parts/postgres.mjs';
import { run } from './parts/run.mjs';
import { main, ROOT, say, showTools } from './parts/say.mjs';
import { checkNode, ensureDebianPackages, ensureNodeModules } from './parts/setup.mjs';

/** Share of the faults that the tests must at least notice, in percent; a folder of a part, such as `job/line`, must what the part must. */
const CORE = ['pack', 'isolate', 'ledger', 'reading', 'bars', 'torque', 'scan', 'cool', 'coolant', 'odds', 'report', 'warranty', 'shop'];
const LEAST = { ...Object.fromEntries(CORE.map((part) => [part, 80])), job: 75, match: 75, server: 70 };
const leastOf = (part) => LEAST[part.split('/')[0]] ?? 0;

const options = { every: { type: 'string', default: '1' } };
const { values, positionals } = parseArgs({ options, allowPositionals: true });
const every = Number(values.every);
let isStopped = false;

await main(async () => {
  showTools();
  checkNode();
  await ensureNodeModules();
  if (!Number.isInteger(every) || every < 1) throw new Error('--every takes a whole number from 1');
  const parts = positionals.length > 0 ? positionals : Object.keys(LEAST);
  let code = 0;
  // the tool is ended by the same signal, and then nothing more is begun
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => (isStopped = true));
  for (const part of parts) {
    if (isStopped) break;
    const isEnough = part.startsWith('server') ? await withDatabase((env) => ask(part, env)) : await ask(part, {});
    if (!isEnough) code = 1;
  }
  process.exit(isStopped ? 1 : code);
});

/** Whether enough was noticed of the faults of a part. */
async function ask(part, env) {
  const sum = { noticed: 0, all: 0 };
  const cutOff = [];
  for (const folder of foldersOf(part)) {
    if (isStopped) break;
    const tool = await run('npx', ['stryker', 'run', 'ops/mutate.config.mjs'], {
      env: { ...env, ESTUARINE_PART: folder, ESTUARINE_EVERY: String(every) },
    });
    const file = path.join(ROOT, 'node_modules/.cache/mutate', `${folder}.json`);
    if (tool.code !== 0 || !fs.existsSync(file)) {
      cutOff.push(folder);
      continue;
    }
    const { noticed, all, missed } = countOf(JSON.parse(fs.readFileSync(file, 'utf8')));
    for (const one of missed) say(`  ${one}`);
    if (folder !== part) say(`${folder}: ${noticed} of ${all} faults noticed, ${shareOf({ noticed, all }).toFixed(1)} %`);
    sum.noticed += noticed;
    sum.all += all;
  }
  if (cutOff.length > 0) say(`${part}: the tool did not come to its end with ${cutOff.join(', ')}; what it asked of them counts nowhere.`);
  if (sum.all > 0) say(`${part}: ${sum.noticed} of ${sum.all} faults noticed, ${sayShare(sum)}, ${leastOf(part)} % wanted`);
  return cutOff.length === 0 && shareOf(sum) >= leastOf(part);
}

/** The specs of the server make databases of their own on it. */
async function withDatabase(work) {
  await ensureDebianPackages(['postgresql']);
  const postgres = new Postgres({ purpose: 'mutate', isDurable: false });
  postgres.wipe();
  try {
    await postgres.start();
    return await work({ DATABASE_URL: postgres.url });
  } finally {
    await postgres.stop();
  }
}

/** The folders that are asked one after another: of the job its storeys, of the server its rooms, each by the tests that are near it. */
function foldersOf(part) {
  if (part === 'server') return ROOMS;
  if (part !== 'job') return [part];
  const chapters = fs.readdirSync(path.join(ROOT, 'core/src/job/chapters'), { withFileTypes: true }).filter((entry) => entry.isDirectory());
  return ['job/frame', 'job/line', ...chapters.map(({ name }) => `job/chapters/${name}`)];
}

function shareOf({ noticed, all }) {
  return all === 0 ? 0 : (100 * noticed) / all;
}

/** Of a sample with the half of the band in which the share of all lies nineteen times of twenty (normal approximation). */
function sayShare(sum) {
  const share = shareOf(sum);
  const half = 1.96 * Math.sqrt((share * (100 - share)) / sum.all);
  return every === 1 ? `${share.toFixed(1)} %` : `${share.toFixed(0)} % (one in ${every}, give or take ${half.toFixed(0)})`;
}

function countOf({ files }) {
  const faults = Object.entries(files).flatMap(([file, { source, mutants }]) => mutants.map((m) => ({ file, source, ...m })));
  const counted = faults.filter((f) => ['Killed', 'Timeout', 'Survived', 'NoCoverage'].includes(f.status));
  const missed = counted.filter((f) => f.status === 'Survived' || f.status === 'NoCoverage');
  return {
    all: counted.length,
    noticed: counted.length - missed.length,
    missed: missed.map((f) =>
      `${f.file}:${f.location.start.line}:${f.location.start.column} ${f.status}: ${lineOf(f)} => ${f.replacement ?? ''}`.slice(0, 240),
    ),
  };
}

function lineOf({ source, location }) {
  return source.split('\n')[location.start.line - 1]?.trim() ?? '';
}
