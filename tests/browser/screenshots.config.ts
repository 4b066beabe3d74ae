import { defineConfig } from '@playwright/test';
import tests from './playwright.config';

/** The pictures of the README, made anew by `./ledger screenshots`. */
export default defineConfig({ ...tests, testMatch: '*.shots.ts', workers: 1 });
