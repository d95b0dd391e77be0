// npm run soak: the random and corpus tests of core two hundred times as often as in `npm test`, the machine side killed and disturbed
// hundreds of times, a program of a million lines, a day of the machine's own time. Takes an hour and more.
import { spawnSync } from 'node:child_process';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { install } from './install.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
install({ browser: false, serial: true });
const soak = process.env.KERBE_SOAK ?? '100';
// By each workspace's own script: the application's makes first what its tests need.
const vitest = (workspace, filter, times) =>
  spawnSync('npm', ['run', '--silent', 'test', '-w', workspace, '--', filter, '--testTimeout=3600000'], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, KERBE_SOAK: times },
  }).status ?? 1;
// Processes killed and cables pulled 200 times: two agents, two cables and a machine a round, and web server and database.
const rounds = String(Math.max(2, Math.ceil((Number(soak) * 4) / 10)));
const failed = [
  vitest('app', 'src/lib/server/reliability', rounds),
  vitest('app', 'src/lib/server/mayhem', rounds),
  vitest('cli', 'src/mutants', soak),
  vitest('agent', 'src/reliability', rounds),
  vitest('agent', 'src/long', rounds),
  vitest('core', 'src/reference', soak),
].some((status) => status !== 0);
process.exit(failed ? 1 : 0);
