// Installs what is missing, with nothing but Node: Debian packages by apt, npm packages by npm ci.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const say = (text) => console.log(`kerbe: ${text}`);

/** Folder of PostgreSQL's own programs (initdb, pg_ctl), newest version, or null. */
export function postgresBin() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base).filter((v) => existsSync(join(base, v, 'bin/initdb')));
  versions.sort((a, b) => Number(b) - Number(a));
  return versions.length ? join(base, versions[0], 'bin') : null;
}

const isRoot = () => process.getuid?.() === 0;
const hasSudo = () => spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0;

function installDebian(packages) {
  const prefix = isRoot() ? [] : hasSudo() ? ['sudo', '-n'] : null;
  const command = `apt-get install -y ${packages.join(' ')}`;
  if (!prefix) {
    console.error(`kerbe: ${packages.join(' and ')} must be installed first. Please run, as an administrator:\n\n  ${command}\n`);
    process.exit(1);
  }
  say(`installing ${packages.join(', ')} (Debian packages; this can take a few minutes)`);
  const run = (...args) =>
    execFileSync(prefix[0] ?? args[0], prefix.length ? [...prefix.slice(1), ...args] : args.slice(1), {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  try {
    run('apt-get', 'install', '-y', '-qq', ...packages);
  } catch {
    run('apt-get', 'update', '-qq');
    run('apt-get', 'install', '-y', '-qq', ...packages);
  }
}

/** Makes sure everything the given parts need is there. */
export function install({ browser = false, serial = false } = {}) {
  const [major] = process.versions.node.split('.').map(Number);
  if (major < 20) {
    console.error(`kerbe: Node 20 or newer is needed; this is ${process.version}.`);
    process.exit(1);
  }
  const missing = [];
  if (!postgresBin()) missing.push('postgresql');
  if (browser && !existsSync('/usr/bin/chromium')) missing.push('chromium');
  // Pairs of pseudo-terminals: the tests' serial cable.
  if (serial && !existsSync('/usr/bin/socat')) missing.push('socat');
  if (missing.length) installDebian(missing);

  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const mark = join(root, 'node_modules', '.kerbe-lock');
  const fresh = existsSync(mark) && readFileSync(mark, 'utf8') === lock;
  if (!fresh) {
    say('installing npm packages');
    const npm = spawnSync('npm', ['ci', '--no-fund', '--no-audit', '--loglevel=error'], { cwd: root, stdio: 'inherit' });
    if (npm.status !== 0) {
      console.error('kerbe: npm ci failed; see above. Check the connection to the registry and try again.');
      process.exit(1);
    }
    mkdirSync(dirname(mark), { recursive: true });
    writeFileSync(mark, lock);
  }
}
