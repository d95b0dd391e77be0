// npm test: installs what is missing, then lint, types, unit, server and browser tests, and counts them.
// What computes and what waits run beside each other; the browser tests in two halves, each with a stack of its own.
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
const run = (title, command, args, cwd = root, env = {}) =>
  new Promise((done) => {
    const began = performance.now();
    const child = spawn(command, args, { cwd, stdio: ['ignore', 'pipe', 'pipe'], env: { ...process.env, CI: '1', FORCE_COLOR: '0', ...env } });
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

/** One half of the browser tests, by files. */
async function browser(half) {
  const title = `the whole way in a browser, half ${half}`;
  const report = join(results, `e2e-${half}.json`);
  const args = ['scripts/e2e.mjs', `--shard=${half}/2`, `--output=${join(results, `e2e-${half}`)}`];
  const ended = await run(title, process.execPath, args, root, { KERBE_E2E_REPORT: report });
  if (!existsSync(report)) return void failures.push(`${title}: it did not run to its end`);
  const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
  passed += stats.expected;
  const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];
  const bad = suites
    .flatMap(specsOf)
    .flatMap((spec) => spec.tests.filter(({ status }) => status === 'unexpected' || status === 'flaky').map((test) => ({ spec, test })));
  for (const { spec, test } of bad)
    failures.push(`app/e2e/${spec.file}: ${spec.title}\n    ${firstLine(test.results.find((result) => result.error)?.error.message)}`);
  if (!ended && bad.length === 0) failures.push(`${title}: it ended with an error`);
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
// The application is built by now.
await Promise.all([browser(1), browser(2)]);

if (failures.length > 0) console.log(`\n— what failed\n${failures.map((failure) => `  ${failure}`).join('\n')}`);
console.log(`\n${passed} passed, ${failures.length} failed`);
process.exit(failures.length === 0 ? 0 : 1);
