import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

// The server as it ships, on a throw-away database: see src/lib/server/stack.setup.ts.
export default defineConfig({
  resolve: { alias: { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) } },
  test: { include: ['src/**/*.test.ts'], globalSetup: ['src/lib/server/stack.setup.ts'], testTimeout: 60_000, hookTimeout: 180_000, fileParallelism: false },
});
