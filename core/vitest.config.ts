import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    maxWorkers: 2,
    setupFiles: ['src/reference/chance.setup.ts'],
    // Pure functions leave nothing behind: the modules are loaded once for each worker, not once for each file.
    isolate: false,
  },
});
