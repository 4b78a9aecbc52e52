import { defineConfig } from '@playwright/test';

// The real interface, as a person uses it: a browser, Playa's web server and worker, Lagoon, MariaDB. The tests share
// one demonstration and run one after another.
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  outputDir: '../test-results',
  globalSetup: './setup.ts',
  workers: 1,
  fullyParallel: false,
  timeout: 150_000,
  // Machines are shared: what fails is tried once more, and npm test names it at its end although it passed.
  retries: 1,
  expect: { timeout: 15_000 },
  reporter: [
    ['list'],
    ['json', { outputFile: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ?? '../test-results/report.json' }],
  ],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    actionTimeout: 20_000,
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
