import { defineConfig } from '@playwright/test';

/** Debian's Chromium; nothing is downloaded. The server is started by `npm test`, which gives its address. */
export default defineConfig({
  testDir: 'tests',
  timeout: 60_000,
  expect: { timeout: 10_000 },
  workers: 1,
  retries: 0,
  reporter: process.env.TEA_PENCIL_REPORT
    ? [['line'], ['json', { outputFile: process.env.TEA_PENCIL_REPORT }]]
    : [['line']],
  use: {
    baseURL: process.env.TEA_PENCIL_ADDRESS ?? 'http://localhost:4870',
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    trace: 'off',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-quic',
      ],
    },
  },
});
