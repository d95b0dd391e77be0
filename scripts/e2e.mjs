// Browser tests against a stack of their own: throw-away data, the machine far above real time.
import { spawn } from 'node:child_process';
import { createServer } from 'node:http';
import { mkdtempSync, rmSync, chmodSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './bundle.mjs';
import { startStack } from './stack.mjs';

/** A time zone where it is morning now, or nearly: what is planned for today then has a day before it, whenever it is tried. On the same date as UTC. */
function morning() {
  const ahead = Math.max(-12, 9 - new Date().getUTCHours());
  // Signs are the other way round in these names, by POSIX.
  return ahead === 0 ? 'Etc/GMT' : `Etc/GMT${ahead > 0 ? '-' : '+'}${Math.abs(ahead)}`;
}

/** Runs Playwright; resolves to its exit code. @param {string} report where its report lands */
async function runBrowserTests(report, args = []) {
  process.env.TZ = morning();
  const home = mkdtempSync(join(tmpdir(), 'kerbe-e2e-'));
  chmodSync(home, 0o755);
  const stack = await startStack({ home, rate: 25, onTrouble: (text) => console.error(text) });
  // Lets a test take the database or a process away and bring it back.
  const control = createServer(async (request, response) => {
    const [, what, name] = decodeURIComponent(request.url).split('/');
    if (what === 'stop') stack.database.stop();
    if (what === 'start') stack.database.start();
    if (what === 'kill') await stack.kill(name);
    if (what === 'again') await stack.again(name);
    // As on its first day: its agent knows nothing of it.
    if (what === 'fresh') {
      await stack.kill(`agent of ${name}`);
      rmSync(join(home, 'machines', name), { recursive: true });
      await stack.again(`agent of ${name}`);
    }
    response.end('done');
  });
  await new Promise((done) => control.listen(0, '127.0.0.1', done));
  try {
    return await new Promise((done) => {
      const child = spawn(process.execPath, [join(root, 'node_modules/@playwright/test/cli.js'), 'test', ...args], {
        cwd: join(root, 'app'),
        stdio: 'inherit',
        env: { ...process.env, KERBE_URL: stack.url, KERBE_E2E_REPORT: report, KERBE_DB_CONTROL: `http://127.0.0.1:${control.address().port}` },
      });
      child.on('exit', (code) => done(code ?? 1));
    });
  } finally {
    control.close();
    await stack.stop();
    rmSync(home, { recursive: true, force: true });
  }
}

process.exitCode = await runBrowserTests(process.env.KERBE_E2E_REPORT ?? join(root, '.test-results/e2e.json'), process.argv.slice(2));
