import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  globalSetup: './setup.ts',
  workers: 2,
  fullyParallel: true,
  // Long enough for a busy machine; what passes never waits for them.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  forbidOnly: true,
  // A busy machine shows a race now and then: `./ledger test` tells each that needed its second try.
  retries: 1,
  outputDir: 'test-results',
  use: {
    // `./ledger failures` and `./ledger trace` show them.
    trace: { mode: 'on-first-retry', screenshots: false, sources: false },
    screenshot: 'only-on-failure',
    // Only a test of the ledger out of reach needs the page kept on the device; filling that costs a second a page.
    serviceWorkers: 'block',
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
