import { defineConfig } from '@playwright/test';

/**
 * Debian's Chromium; nothing is downloaded. The servers are started by `npm test`, which gives their addresses: each
 * worker has one to itself, so that no test sees what another one's person does.
 */
const addresses = (process.env.TEA_PENCIL_ADDRESSES ?? 'http://localhost:4870').split(',');
const address = addresses[Number(process.env.TEST_PARALLEL_INDEX ?? 0) % addresses.length];

export default defineConfig({
  testDir: 'tests',
  // Room for a machine that is busy or slow; what never comes fails all the same.
  timeout: 150_000,
  expect: { timeout: 25_000 },
  // Each test brings its own manuscript, or leaves what it met as it was.
  fullyParallel: true,
  workers: addresses.length,
  // A failing test leaves here what it saw.
  outputDir: process.env.TEA_PENCIL_TRACES ?? 'test-results',
  retries: 0,
  reporter: process.env.TEA_PENCIL_REPORT
    ? [['line'], ['json', { outputFile: process.env.TEA_PENCIL_REPORT }]]
    : [['line']],
  use: {
    baseURL: address,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    // Three browsers on two cores: dictionaries are read where a test is about them.
    storageState: {
      cookies: [],
      origins: [{ origin: address!, localStorage: [{ name: 'unknown-words', value: 'off' }] }],
    },
    // A picture of the page at every act would cost as much as the test; of tests that are asked for by name it is kept.
    trace: {
      mode: 'retain-on-failure',
      screenshots: false,
      sources: false,
      snapshots: !!process.env.TEA_PENCIL_TRACE_PAGES,
    },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
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
