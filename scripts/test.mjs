// npm test: installs what is missing, then lint, types, unit, server and browser tests, and counts them.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { install } from './install.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
install({ browser: true });

const results = join(root, '.test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
let passed = 0;
let failed = 0;

const bin = (name) => join(root, 'node_modules', '.bin', name);
function run(title, command, args, cwd = root) {
  console.log(`\n— ${title}`);
  const { status } = spawnSync(command, args, { cwd, stdio: 'inherit', env: { ...process.env, CI: '1', FORCE_COLOR: '0' } });
  return status === 0;
}
/** A step that is one check: it passes or fails as a whole. */
function check(title, command, args, cwd) {
  if (run(title, command, args, cwd)) passed++;
  else failed++;
}
function vitest(workspace) {
  const report = join(results, `${workspace}.json`);
  run(`tests of ${workspace}`, bin('vitest'), ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`], join(root, workspace));
  if (!existsSync(report)) return void failed++;
  const { numPassedTests, numFailedTests, numTotalTestSuites, testResults } = JSON.parse(readFileSync(report, 'utf8'));
  passed += numPassedTests;
  // A file that does not even load has no tests to fail.
  failed += numFailedTests + testResults.filter((file) => file.status === 'failed' && file.assertionResults.length === 0).length;
  if (numTotalTestSuites === 0) failed++;
}

check('lint', bin('eslint'), ['.']);
check('style', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
check('types of core', bin('tsc'), ['-p', 'core']);
check('types of core, tests', bin('tsc'), ['-p', 'core/tsconfig.test.json']);
for (const workspace of ['machines', 'agent', 'files', 'cli']) check(`types of ${workspace}`, bin('tsc'), ['-p', workspace]);
// Makes the application's own tsconfig too, which its tests need.
check('types and markup of app', 'npm', ['run', '--silent', 'check', '-w', 'app']);
for (const workspace of ['core', 'machines', 'agent', 'files', 'cli', 'app']) vitest(workspace);

console.log('\n— the whole way in a browser');
const browser = join(results, 'e2e.json');
const { runBrowserTests } = await import('./e2e.mjs');
const code = await runBrowserTests(browser);
if (existsSync(browser)) {
  const { stats } = JSON.parse(readFileSync(browser, 'utf8'));
  passed += stats.expected;
  failed += stats.unexpected + stats.flaky;
} else failed++;
if (code !== 0 && failed === 0) failed++;

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
