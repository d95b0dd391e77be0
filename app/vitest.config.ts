import { fileURLToPath } from 'node:url';
import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

const resolve = { alias: { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) } };

export default defineConfig({
  test: {
    projects: [
      // What a browser does, without one: documents, tools, cameras, keys held down.
      {
        resolve,
        plugins: [svelte()],
        test: {
          name: 'browser',
          include: ['src/**/*.test.ts'],
          exclude: ['src/lib/server/**'],
          setupFiles: ['../core/src/reference/chance.setup.ts'],
          // A guard against what hangs: a busy computer is no fault of a test.
          testTimeout: 120_000,
        },
      },
      // The server as it ships, on a throw-away database: see src/lib/server/stack.setup.ts.
      {
        resolve,
        test: {
          name: 'server',
          include: ['src/lib/server/**/*.test.ts'],
          globalSetup: ['src/lib/server/stack.setup.ts'],
          testTimeout: 180_000,
          hookTimeout: 300_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
