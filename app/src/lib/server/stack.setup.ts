/** Starts the whole of Kerbe for the server tests, and ends it. */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { startStack } from '../../../../scripts/stack.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    url: string;
    database: string;
    home: string;
    metrics: string;
  }
}

export default async function setup(project: TestProject) {
  const home = mkdtempSync(join(tmpdir(), 'kerbe-server-'));
  chmodSync(home, 0o755);
  const stack = await startStack({ home, rate: 40 });
  project.provide('url', stack.url);
  project.provide('database', stack.database.url);
  project.provide('home', home);
  project.provide('metrics', stack.metricsToken);
  return async () => {
    await stack.stop();
    rmSync(home, { recursive: true, force: true });
  };
}
