import { defineConfig } from '@playwright/test';
import { CHROMIUM_FOR_TESTS } from './scripts/browser';

const PORT = 4319;

// Playwright stays at 1.59: from 1.60 on every look that is not yet what is expected writes down the whole page for a
// screen reader, which took a quarter of the page's time in the Workbench.
export default defineConfig({
  testDir: 'e2e',
  testMatch: '**/*.e2e.ts',
  // Ample, for machines that are busy with something else: how fast it is, the bench says.
  timeout: 300_000,
  expect: { timeout: 30_000 },
  workers: 2,
  fullyParallel: true,
  reporter: 'list',
  use: {
    // What is not there by then never comes: it need not take the whole time of its test.
    actionTimeout: 60_000,
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    // Menus open at once then, as for whoever wants less motion.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: CHROMIUM_FOR_TESTS,
    // Traces take a quarter of the time; TRACE=1 writes them, to look into a failure.
    trace: process.env.TRACE ? 'retain-on-failure' : 'off',
    // The one test that is about working offline lets it in.
    serviceWorkers: 'block',
  },
  webServer: {
    command: 'node --import tsx server/index.ts',
    port: PORT,
    env: { PORT: String(PORT) },
    reuseExistingServer: false,
  },
});
