import { defineConfig } from '@playwright/test';

/** Each worker has a stack of its own. */
const stacks = JSON.parse(process.env.KERBE_E2E_STACKS ?? '[]') as { url: string; control: string }[];
const mine = stacks[Number(process.env.TEST_PARALLEL_INDEX ?? 0)];
process.env.KERBE_E2E_CONTROL = mine?.control;

export default defineConfig({
  testDir: 'e2e',
  timeout: 180_000,
  expect: { timeout: 15_000 },
  workers: Math.max(1, stacks.length),
  fullyParallel: false,
  reporter: [['list'], ['json', { outputFile: process.env.KERBE_E2E_REPORT ?? '../.test-results/e2e.json' }]],
  outputDir: '../.test-results/e2e',
  use: {
    baseURL: mine?.url,
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: '/usr/bin/chromium' },
    screenshot: 'only-on-failure',
  },
});
