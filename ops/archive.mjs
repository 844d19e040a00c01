/**
 * `npm run backup [-- file]` writes the whole shop into one file; `npm run restore -- file` puts it back. A restore goes into a
 * database of its own first and takes the place of the old one only when it is whole. `--demo` means the demonstration's data.
 */
import fs from 'node:fs';
import path from 'node:path';
import { findPrograms, Postgres } from './parts/postgres.mjs';
import { must } from './parts/run.mjs';
import { main, ROOT, say, Stop } from './parts/say.mjs';
import { checkNode } from './parts/setup.mjs';

const [mode, ...rest] = process.argv.slice(2);
const purpose = rest.includes('--demo') ? 'demo' : 'shop';
const named = rest.find((a) => !a.startsWith('--'));
// browsers hold places in the log: after a restore these mean nothing, so the log gets a new epoch
const AFTER_RESTORE = 'update shop set epoch = gen_random_uuid();';

await main(async () => {
  checkNode();
  if (mode === 'backup') return backup();
  if (mode === 'restore' && named) return restore();
  throw new Stop('Use: npm run backup [-- file], or npm run restore -- file');
});

async function withDatabase(needsStopped, work) {
  if (process.env.DATABASE_URL) return work(process.env.DATABASE_URL);
  const postgres = new Postgres({ purpose, isDurable: true });
  const isRunning = postgres.findRunning();
  if (isRunning && needsStopped) throw new Stop('Estuarine is running. Stop it with Ctrl-C first, then restore; nothing was changed.');
  if (!isRunning) await postgres.start();
  try {
    return await work(postgres.url);
  } finally {
    if (!isRunning) await postgres.stop();
  }
}

function tool(name) {
  return path.join(findPrograms().bin, name);
}

async function backup() {
  const file = path.resolve(ROOT, named ?? `var/backups/${purpose}-${new Date().toISOString().replaceAll(':', '-').slice(0, 19)}.archive`);
  fs.mkdirSync(path.dirname(file), { recursive: true });
  const partial = `${file}.partial`;
  await withDatabase(false, (url) =>
    must('The backup', tool('pg_dump'), ['--format=custom', '--no-owner', `--file=${partial}`, url], { quiet: true }),
  );
  fs.renameSync(partial, file);
  say(`Written: ${file} (${(fs.statSync(file).size / 1e6).toFixed(1)} MB)`);
}

async function restore() {
  const file = path.resolve(ROOT, named);
  if (!fs.existsSync(file)) throw new Stop(`There is no file ${file}.`);
  await withDatabase(true, async (url) => {
    const name = new URL(url).pathname.slice(1);
    const at = (database) => Object.assign(new URL(url), { pathname: `/${database}` }).href;
    const sql = (database, ...commands) =>
      must('The restore', tool('psql'), ['-XAtq', '-v', 'ON_ERROR_STOP=1', '-d', at(database), ...commands.flatMap((c) => ['-c', c])], {
        quiet: true,
      });
    const fresh = `${name}_restoring`;
    await sql('postgres', `drop database if exists "${fresh}"`, `create database "${fresh}"`);
    try {
      await must(
        `${file} is not a whole archive, or the restore`,
        tool('pg_restore'),
        ['--single-transaction', '--no-owner', '-d', at(fresh), file],
        { quiet: true },
      );
      await sql(fresh, AFTER_RESTORE);
    } catch (error) {
      await sql('postgres', `drop database if exists "${fresh}"`);
      throw error;
    }
    await sql('postgres', `drop database "${name}" with (force)`, `alter database "${fresh}" rename to "${name}"`);
    say(`Restored from ${file}.`);
  });
}
