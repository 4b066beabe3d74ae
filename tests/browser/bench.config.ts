import { defineConfig } from '@playwright/test';
import tests from './playwright.config';

/** What is measured in the browser rather than tested; nothing here can fail for being slow. */
export default defineConfig({ ...tests, testMatch: '*.bench.ts', timeout: 300_000 });
