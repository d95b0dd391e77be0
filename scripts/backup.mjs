// npm run backup -- FILE: everything a shop has, in one file - its database and what the agents wrote down - while it runs or not.
// npm run restore -- FILE: puts it where nothing is yet. KERBE_HOME says where the shop is, as it does for `npm run shop`; --demo means the demo's.
//
// The file is a tar archive, packed: manifest.json, database.dump (PostgreSQL's own format), machines/ (journals and
// state of the agents). The database is dumped as of one moment, and the journals are taken after it: they hold
// everything it has, and what is newer is read from them again. Secrets stay where they are; people sign in anew.
import { spawnSync } from 'node:child_process';
import { chmodSync, cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { databaseNow, postgresTool, startDatabase } from './database.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
/** What this Kerbe writes; a file of a newer one is refused. */
const FORMAT = 1;

/** Where a shop's own data lives, as `npm run shop` has it. */
export const homeOf = (demo) => process.env.KERBE_HOME ?? join(root, '.kerbe', demo ? 'demo' : 'shop');

class Refused extends Error {}

function tar(args, cwd) {
  const { status, stderr } = spawnSync('tar', args, { cwd, encoding: 'utf8' });
  if (status !== 0) throw new Refused(stderr.trim() || 'tar did not end well');
}

/** Writes all of the shop in `home` into `file`. Gives how many tables and bytes of journals are in it. */
export async function backup(home, file) {
  if (!existsSync(join(home, 'database-password'))) throw new Refused(`There is no shop in ${home}.`);
  const working = mkdtempSync(join(tmpdir(), 'kerbe-backup-'));
  const running = databaseNow(home);
  // A shop that is not running has its database started for this alone.
  const database = running ?? (await startDatabase(home));
  try {
    const made = postgresTool('pg_dump', ['-Fc', '--no-owner', '--no-privileges', '-f', join(working, 'database.dump'), database.url]);
    if (!made.ok) throw new Refused(`The database could not be written out:\n${made.text}`);
    if (existsSync(join(home, 'machines'))) cpSync(join(home, 'machines'), join(working, 'machines'), { recursive: true });
    else mkdirSync(join(working, 'machines'));
    writeFileSync(join(working, 'manifest.json'), JSON.stringify({ kerbe: 'backup', format: FORMAT, made: new Date().toISOString() }));
    // Whole or not at all: a full disk leaves no half of it under its name.
    tar(['-czf', `${file}.new`, 'manifest.json', 'database.dump', 'machines'], working);
    chmodSync(`${file}.new`, 0o600);
    renameSync(`${file}.new`, file);
  } finally {
    rmSync(`${file}.new`, { force: true });
    rmSync(working, { recursive: true, force: true });
    if (!running) database.stop();
  }
}

/** Puts what a file holds into `home`, where nothing may be yet. */
export async function restore(home, file) {
  if (!existsSync(file)) throw new Refused(`There is no file ${file}.`);
  if (existsSync(home) && readdirSync(home).length > 0)
    throw new Refused(`There is something in ${home} already. Put it elsewhere first, or name another place by KERBE_HOME: nothing is written over.`);
  const working = mkdtempSync(join(tmpdir(), 'kerbe-restore-'));
  try {
    tar(['-xzf', resolve(file), '--no-same-owner'], working);
    const manifest = existsSync(join(working, 'manifest.json')) ? JSON.parse(readFileSync(join(working, 'manifest.json'), 'utf8')) : {};
    if (manifest.kerbe !== 'backup') throw new Refused(`${file} is no backup of Kerbe’s.`);
    if (manifest.format > FORMAT) throw new Refused(`${file} is of a newer Kerbe. Bring this one up to date first.`);
    mkdirSync(home, { recursive: true });
    const database = await startDatabase(home);
    try {
      const filled = postgresTool('pg_restore', ['--no-owner', '--no-privileges', '--exit-on-error', '-d', database.url, join(working, 'database.dump')]);
      if (!filled.ok) throw new Refused(`The database could not be filled:\n${filled.text}`);
    } finally {
      database.stop();
    }
    cpSync(join(working, 'machines'), join(home, 'machines'), { recursive: true });
    chmodSync(join(home, 'machines'), 0o700);
  } catch (error) {
    // What was begun is no shop.
    rmSync(home, { recursive: true, force: true });
    throw error;
  } finally {
    rmSync(working, { recursive: true, force: true });
  }
}

if (process.argv[1] === import.meta.filename) {
  const [what, ...rest] = process.argv.slice(2);
  const file = rest.find((word) => !word.startsWith('--'));
  const home = homeOf(rest.includes('--demo'));
  try {
    if (!file) throw new Refused(`Say which file: npm run ${what} -- FILE`);
    const path = resolve(process.env.INIT_CWD ?? '.', file);
    if (what === 'backup') await backup(home, path);
    else await restore(home, path);
    console.log(`kerbe: ${what === 'backup' ? `${home} is in ${path}` : `${path} is in ${home}; start it by npm run shop`}`);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    console.error(`kerbe: ${error.message}`);
    process.exitCode = 1;
  }
}
