import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'e2e',
  // A busy computer is no fault of the page.
  timeout: 300_000,
  expect: { timeout: 45_000 },
  workers: 1,
  fullyParallel: false,
  reporter: [['list'], ['json', { outputFile: process.env.KERBE_E2E_REPORT ?? '../.test-results/e2e.json' }]],
  outputDir: '../.test-results/e2e',
  use: {
    baseURL: process.env.KERBE_URL,
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: '/usr/bin/chromium' },
    screenshot: 'only-on-failure',
    // Answers of the network are looked at and held back by tests; offline.spec.ts is about the one that keeps them.
    serviceWorkers: 'block',
  },
});
