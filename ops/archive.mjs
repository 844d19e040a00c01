/**
 * `npm run backup [-- file]` writes the database into one file; `npm run restore -- file` puts it back. `npm run export [-- file]` writes
 * the whole shop as a zip of open formats; `npm run import -- file` brings one in, also of an older release. What comes back goes into a
 * database of its own first and takes the place of the old one only when it is whole. `--demo` means the demonstration's data.
 */
import fs from 'node:fs';
import path from 'node:path';
import { findPrograms, Postgres } from './parts/postgres.mjs';
import { must, run } from './parts/run.mjs';
import { main, ROOT, say, Stop } from './parts/say.mjs';
import { checkNode, setUp } from './parts/setup.mjs';

const [mode, ...rest] = process.argv.slice(2);
const purpose = rest.includes('--demo') ? 'demo' : 'shop';
const named = rest.find((a) => !a.startsWith('--'));
const SHOP_TOOL = path.join(ROOT, 'server/dist/shop-tool.js');
// browsers hold places in the log: after a restore these mean nothing, so the log gets a new epoch
const AFTER_RESTORE = 'update shop set epoch = gen_random_uuid();';

await main(async () => {
  checkNode();
  if (mode === 'backup') return backup();
  if (mode === 'restore' && named) return restore();
  if (mode === 'export') return exportShop();
  if (mode === 'import' && named) return importShop();
  throw new Stop('Use: npm run backup [-- file], npm run restore -- file, npm run export [-- file], or npm run import -- file');
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

/** Where a new archive goes: as named, or among the backups by its time. */
function newFile(ending) {
  const file = path.resolve(
    ROOT,
    named ?? `var/backups/${purpose}-${new Date().toISOString().replaceAll(':', '-').slice(0, 19)}.${ending}`,
  );
  fs.mkdirSync(path.dirname(file), { recursive: true });
  return file;
}

/** Writes beside it first, so that no half archive ever bears the name. */
async function writeWhole(file, write) {
  const partial = `${file}.partial`;
  fs.rmSync(partial, { force: true });
  await withDatabase(false, (url) => write(url, partial));
  fs.renameSync(partial, file);
  say(`Written: ${file} (${(fs.statSync(file).size / 1e6).toFixed(1)} MB)`);
}

function backup() {
  return writeWhole(newFile('archive'), (url, partial) =>
    must('The backup', tool('pg_dump'), ['--format=custom', '--no-owner', `--file=${partial}`, url], { quiet: true }),
  );
}

async function exportShop() {
  await setUp({ web: false });
  await writeWhole(newFile('zip'), (url, partial) =>
    must('The export', process.execPath, [SHOP_TOOL, 'export', partial], { quiet: true, env: { DATABASE_URL: url } }),
  );
}

function restore() {
  return putInPlace(`${named} is not a whole archive, or the restore`, (url, file) =>
    must(`${file} is not a whole archive, or the restore`, tool('pg_restore'), ['--single-transaction', '--no-owner', '-d', url, file], {
      quiet: true,
    }),
  );
}

async function importShop() {
  await setUp({ web: false });
  await putInPlace('The import', async (url, file) => {
    const { code, output } = await run(process.execPath, [SHOP_TOOL, 'import', file], { quiet: true, env: { DATABASE_URL: url } });
    if (code !== 0) throw new Stop(output.trim().split('\n').at(-1) ?? 'The import failed.');
  });
}

async function putInPlace(what, fill) {
  const file = path.resolve(ROOT, named);
  if (!fs.existsSync(file)) throw new Stop(`There is no file ${file}.`);
  await withDatabase(true, async (url) => {
    const name = new URL(url).pathname.slice(1);
    const at = (database) => Object.assign(new URL(url), { pathname: `/${database}` }).href;
    const sql = (database, ...commands) =>
      must(what, tool('psql'), ['-XAtq', '-v', 'ON_ERROR_STOP=1', '-d', at(database), ...commands.flatMap((c) => ['-c', c])], {
        quiet: true,
      });
    const fresh = `${name}_restoring`;
    await sql('postgres', `drop database if exists "${fresh}"`, `create database "${fresh}"`);
    try {
      await fill(at(fresh), file);
      await sql(fresh, AFTER_RESTORE);
    } catch (error) {
      await sql('postgres', `drop database if exists "${fresh}"`);
      throw error;
    }
    await sql('postgres', `drop database "${name}" with (force)`, `alter database "${fresh}" rename to "${name}"`);
    say(`Restored from ${file}.`);
  });
}
