import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  workers: 2,
  fullyParallel: true,
  timeout: 120_000,
  expect: { timeout: 12_000 },
  forbidOnly: true,
  outputDir: 'test-results',
  use: {
    // `./ledger failures` and `./ledger trace` show them.
    trace: 'retain-on-failure',
    screenshot: 'only-on-failure',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
