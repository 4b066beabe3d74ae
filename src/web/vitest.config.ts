import { defineConfig } from 'vitest/config';

/** The web's own functions, without a browser; the device's store is one in memory. */
export default defineConfig({
  test: { environment: 'jsdom', setupFiles: ['fake-indexeddb/auto'], include: ['src/**/*.test.ts'] },
});
