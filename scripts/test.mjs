// npm test: installs what is missing, then lint, types, unit, server and browser tests, and counts them.
// What computes and what waits run beside each other; the browser tests have the computer to themselves.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { install } from './install.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
install({ browser: true, serial: true });

const results = join(root, '.test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
let passed = 0;
/** What failed, each named once more at the end, where a long log is read first. */
const failures = [];

const bin = (name) => join(root, 'node_modules', '.bin', name);
/** Runs a step; what it says comes in one piece when it is over: others run beside it. */
const run = (title, command, args, cwd = root) =>
  new Promise((done) => {
    const began = performance.now();
    const child = spawn(command, args, { cwd, stdio: ['ignore', 'pipe', 'pipe'], env: { ...process.env, CI: '1', FORCE_COLOR: '0' } });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.setEncoding('utf8').on('data', (text) => (said += text));
    child.on('close', (code) => {
      console.log(`\n— ${title} (${Math.round((performance.now() - began) / 1000)} s)\n${said.trimEnd()}`);
      done(code === 0);
    });
  });
const firstLine = (message) => (message ?? 'no message').trim().split('\n', 1)[0];
/** A step that is one check: it passes or fails as a whole. */
async function check(title, command, args, cwd) {
  if (await run(title, command, args, cwd)) passed++;
  else failures.push(title);
}
async function vitest(workspace) {
  const report = join(results, `${workspace}.json`);
  await run(`tests of ${workspace}`, bin('vitest'), ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`], join(root, workspace));
  if (!existsSync(report)) return void failures.push(`${workspace}: its tests did not run to their end`);
  const { numPassedTests, numTotalTestSuites, testResults } = JSON.parse(readFileSync(report, 'utf8'));
  passed += numPassedTests;
  for (const { name, status, message, assertionResults } of testResults) {
    const file = relative(root, name);
    for (const test of assertionResults.filter((result) => result.status === 'failed'))
      failures.push(`${file}: ${test.fullName}\n    ${firstLine(test.failureMessages[0])}`);
    // A file that does not even load has no tests to fail; one may also fail in what it does after them.
    if (status === 'failed' && !assertionResults.some((result) => result.status === 'failed')) failures.push(`${file}: ${firstLine(message)}`);
  }
  if (numTotalTestSuites === 0) failures.push(`${workspace}: no tests found`);
}

/** Suites that compute, one after the other. */
async function computing() {
  await check('lint', bin('eslint'), ['.']);
  await check('style', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
  await check('types of core', bin('tsgo'), ['-p', 'core']);
  await check('types of core, tests', bin('tsgo'), ['-p', 'core/tsconfig.test.json']);
  await check('types of machines, agent, files and cli', bin('tsgo'), ['-p', 'tsconfig.node.json']);
  for (const workspace of ['core', 'files', 'cli']) await vitest(workspace);
}
/** Suites that mostly wait for machines, beside them. */
async function waiting() {
  // Makes the application's own tsconfig too, which its tests need.
  await check('types and markup of app', 'npm', ['run', '--silent', 'check', '-w', 'app']);
  for (const workspace of ['machines', 'agent', 'app']) await vitest(workspace);
}
await Promise.all([computing(), waiting()]);

console.log('\n— the whole way in a browser');
const browser = join(results, 'e2e.json');
const { runBrowserTests } = await import('./e2e.mjs');
const code = await runBrowserTests(browser);
if (existsSync(browser)) {
  const { stats, suites } = JSON.parse(readFileSync(browser, 'utf8'));
  passed += stats.expected;
  const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];
  for (const spec of suites.flatMap(specsOf))
    for (const test of spec.tests.filter((test) => test.status === 'unexpected' || test.status === 'flaky'))
      failures.push(`app/e2e/${spec.file}: ${spec.title}\n    ${firstLine(test.results.find((result) => result.error)?.error.message)}`);
} else failures.push('the whole way in a browser: it did not run to its end');
if (code !== 0 && failures.length === 0) failures.push('the whole way in a browser: it ended with an error');

if (failures.length > 0) console.log(`\n— what failed\n${failures.map((failure) => `  ${failure}`).join('\n')}`);
console.log(`\n${passed} passed, ${failures.length} failed`);
process.exit(failures.length === 0 ? 0 : 1);
