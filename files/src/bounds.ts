/** Bounds on a process that reads what came from outside: time, and all of its memory, also what its language does not count. */
import type { ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';

export interface Bounds {
  seconds: number;
  megabytes: number;
}

/** How often the memory is looked at, milliseconds. */
const LOOK = 100;
/** Bytes of a page of memory: 4096 on every machine Kerbe was tried on. */
const PAGE = 4096;

/** Megabytes a process holds in memory, as Linux counts them; zero where that cannot be read. */
export function memoryOf(pid: number): number {
  try {
    return (Number(readFileSync(`/proc/${pid}/statm`, 'ascii').split(' ')[1]) * PAGE) / 2 ** 20;
  } catch {
    return 0;
  }
}

/**
 * Kills a process that goes beyond its bounds.
 * @param onBeyond told why, just before
 * @returns ends the watch
 */
export function watch(child: ChildProcess, { seconds, megabytes }: Bounds, onBeyond: (why: string) => void): () => void {
  const began = performance.now();
  const timer = setInterval(() => {
    const why =
      performance.now() - began > seconds * 1000
        ? `it takes more than ${seconds} seconds`
        : memoryOf(child.pid ?? 0) > megabytes
          ? `it takes more than ${megabytes} MB of memory`
          : null;
    if (why === null) return;
    clearInterval(timer);
    onBeyond(why);
    child.kill('SIGKILL');
  }, LOOK);
  timer.unref();
  return () => clearInterval(timer);
}
