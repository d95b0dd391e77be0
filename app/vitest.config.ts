import { defineConfig } from 'vitest/config';

// The server as it ships, on a throw-away database: see src/lib/server/stack.setup.ts.
export default defineConfig({
  test: { include: ['src/**/*.test.ts'], globalSetup: ['src/lib/server/stack.setup.ts'], testTimeout: 60_000, hookTimeout: 180_000, fileParallelism: false },
});
