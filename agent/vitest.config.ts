import { defineConfig } from 'vitest/config';

// What the files start are processes of their own: the modules are loaded once for each worker.
export default defineConfig({ test: { include: ['src/**/*.test.ts'], testTimeout: 120_000, hookTimeout: 120_000, maxWorkers: 2, isolate: false } });
