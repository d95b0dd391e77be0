/** The process that heavy work is done in: one task at a time, until it is dismissed or killed. */
import { Worker } from 'node:worker_threads';
import * as work from './heavy';

process.on('message', async ({ kind, data }: { kind: keyof typeof work; data: never }) => {
  try {
    process.send!({ value: await work[kind](data, (tell: unknown) => process.send!({ tell })) });
  } catch (error) {
    console.error(error);
    process.send!({ error: (error as Error).message });
  }
});
// A task that never ends hears nothing: beside it somebody looks whether the server still lives.
new Worker('const parent = process.ppid; setInterval(() => process.ppid === parent || process.kill(process.pid, "SIGKILL"), 1000)', { eval: true }).unref();
// Whoever asked is gone, or wants no more.
process.on('disconnect', () => process.exit(0));
