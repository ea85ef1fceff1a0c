import { defineConfig } from '@playwright/test';
import { existsSync } from 'node:fs';

// Chromium's shell without windows takes a quarter less of the machine than the browser that hides them.
const shell = '/usr/bin/chromium-headless-shell';

const chromium = {
  executablePath: process.env.CHROMIUM ?? (existsSync(shell) ? shell : '/usr/bin/chromium'),
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};

export default defineConfig({
  // One waits for pages and timers nearly half of its time; more than two find no core free.
  workers: 2,
  timeout: 180_000,
  // A browser started on a cold machine may take many seconds for its first page.
  expect: { timeout: 30_000 },
  retries: 0,
  reporter: [['list']],
  forbidOnly: process.env.CI !== undefined,
  // A trace of every step takes as long again as the steps: TRACE=1 keeps those of tests that fail.
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: chromium,
    screenshot: 'only-on-failure',
    trace: process.env.TRACE === undefined ? 'off' : 'retain-on-failure',
  },
  projects: [
    { name: 'journeys', testDir: 'tests' },
    { name: 'bench', testDir: 'bench' },
    { name: 'shots', testDir: 'shots' },
  ],
});
