// npm run soak: the random and corpus tests of core, a hundred times as often as in `npm test`. Takes a quarter of an hour or more.
import { spawnSync } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { install } from './install.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
install({ browser: false });
const { status } = spawnSync(join(root, 'node_modules/.bin/vitest'), ['run', 'src/reference', '--testTimeout=3600000'], {
  cwd: join(root, 'core'),
  stdio: 'inherit',
  env: { ...process.env, KERBE_SOAK: process.env.KERBE_SOAK ?? '100' },
});
process.exit(status ?? 1);
