// Starting and stopping the processes Kerbe is made of: each prints `listening PORT` when ready.
import { spawn } from 'node:child_process';
import { createWriteStream, existsSync, mkdirSync, readFileSync, readdirSync, renameSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname } from 'node:path';

/** A TCP port that is free now. */
export const freePort = () =>
  new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

/** Marks every process of an installation in its environment, so that what was left behind is found whatever else was lost. */
export const markOf = (home) => ({ KERBE_PART_OF: home });

/** Processes that carry the mark of an installation. */
export function partsOf(home) {
  const [[name, value]] = Object.entries(markOf(home));
  return readdirSync('/proc')
    .filter((pid) => /^\d+$/.test(pid) && Number(pid) !== process.pid)
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0').includes(`${name}=${value}`);
      } catch {
        // Ended meanwhile, or somebody else's.
        return false;
      }
    })
    .map(Number);
}

/** A log is begun anew when it is larger than this, bytes; the one before is kept. */
const LOG = 5e6;
function logAt(path) {
  mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
  if (existsSync(path) && statSync(path).size > LOG) renameSync(path, `${path}.1`);
  return createWriteStream(path, { flags: 'a', mode: 0o600 }).on('error', () => {});
}

/** Starts a Node script and waits for its port. What it says is kept in the file `log`, when one is named. */
export function startNode(script, args, env = {}, { name = script, onExit = () => {}, quiet = true, log } = {}) {
  const child = spawn(process.execPath, [script, ...args], { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] });
  let tail = '';
  const file = log ? logAt(log) : null;
  const keep = (data) => {
    file?.write(data);
    tail = (tail + data).slice(-4000);
    if (!quiet) process.stderr.write(data);
  };
  child.stderr.on('data', keep);
  return new Promise((resolve, reject) => {
    let text = '';
    const timer = setTimeout(() => reject(new Error(`${name} did not start within 60 s.\n${tail}`)), 60_000);
    child.stdout.on('data', (data) => {
      keep(data);
      text += data;
      const match = text.match(/listening (?:on \S*:)?(\d+)/i);
      if (match) {
        clearTimeout(timer);
        resolve({ child, port: Number(match[1]), stop: () => stop(child) });
      }
    });
    child.on('exit', (code, signal) => {
      clearTimeout(timer);
      file?.end();
      reject(new Error(`${name} ended before it was ready (${signal ?? code}).\n${tail}`));
      onExit(code, signal, tail);
    });
  });
}

/** Asks a child to end, and insists after a while. */
export function stop(child, patience = 5000) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const timer = setTimeout(() => child.kill('SIGKILL'), patience);
    child.on('exit', () => {
      clearTimeout(timer);
      resolve();
    });
    child.kill('SIGTERM');
  });
}
