// npm start: Kerbe with its demo shop, on this computer alone. npm run shop: Kerbe for a shop of one's own.
// Installs what is missing, starts everything, prints one address, and stops it all on Ctrl-C.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { install } from './install.mjs';
import { partsOf } from './processes.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const demo = process.argv.includes('--demo');
/** Where a shop's own data lives; the demo never touches it. */
const home = process.env.KERBE_HOME ?? join(root, '.kerbe', demo ? 'demo' : 'shop');
const host = demo ? '127.0.0.1' : (process.env.KERBE_HOST ?? '127.0.0.1');
const lock = join(home, 'running.json');
const say = (text) => console.log(`kerbe: ${text}`);
const wanted = Number(process.env.PORT ?? 5180);

/** Is this a start that is still alive? A number alone may have gone to somebody else. */
function isStart(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    return false;
  }
}

/** Sends a signal to a process that may have ended meanwhile. */
function signal(pid, which) {
  try {
    process.kill(pid, which);
  } catch {
    // It has.
  }
}

async function alreadyRunning() {
  if (!existsSync(lock)) return false;
  let left;
  try {
    left = JSON.parse(readFileSync(lock, 'utf8'));
  } catch {
    left = {};
  }
  if (left.pid && isStart(left.pid)) {
    say(`it is running already: ${left.url ?? 'still starting'}`);
    return true;
  }
  say('clearing up after a start that did not end properly');
  for (const pid of partsOf(home)) signal(pid, 'SIGTERM');
  for (let waited = 0; waited < 25 && partsOf(home).length > 0; waited++) await new Promise((done) => setTimeout(done, 100));
  for (const pid of partsOf(home)) signal(pid, 'SIGKILL');
  rmSync(lock, { force: true });
  return false;
}

const isFree = (port) =>
  new Promise((resolve) => {
    const server = createServer();
    server.on('error', () => resolve(false));
    server.listen(port, host, () => server.close(() => resolve(true)));
  });

mkdirSync(home, { recursive: true });
if (await alreadyRunning()) process.exit(0);
writeFileSync(lock, JSON.stringify({ pid: process.pid }));
let stack = null;
/** The start that is under way: what it has started by then is stopped too. */
let starting = null;
let ending = false;
async function end(code) {
  if (ending) return;
  ending = true;
  say('stopping');
  await starting?.catch(() => {});
  await stack?.stop();
  rmSync(lock, { force: true });
  process.exit(code);
}
const writeLock = () => ending || writeFileSync(lock, JSON.stringify({ pid: process.pid, url: stack?.url }));
process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));

try {
  install();
  const { startStack } = await import('./stack.mjs');
  let port = wanted;
  if (!(await isFree(port))) {
    const { freePort } = await import('./processes.mjs');
    port = await freePort();
    say(`port ${wanted} is in use by something else; using ${port}`);
  }
  const began = Date.now();
  starting = startStack({
    home,
    port,
    host,
    demo,
    rate: Number(process.env.KERBE_RATE ?? 1),
    say,
    supervise: true,
    onTrouble: (text) => {
      console.error(`kerbe: ${text}`);
      void end(1);
    },
  });
  stack = await starting;
  if (!ending) {
    writeLock();
    // The link works as long as nobody has an account.
    const open = !demo && (await fetch(stack.firstOwner).catch(() => null))?.ok;
    console.log(
      `\n  Kerbe is ready:  ${stack.url}${open ? `\n\n  Nobody has an account yet. Make that of the owner:\n  ${stack.firstOwner}` : ''}\n\n  (started in ${((Date.now() - began) / 1000).toFixed(1)} s; Ctrl-C stops everything)\n`,
    );
  }
} catch (error) {
  console.error(`kerbe: ${error.message}`);
  await end(1);
}
