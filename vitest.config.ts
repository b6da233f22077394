import { defineConfig } from 'vitest/config';

/** Files of tests that share nothing but pure functions run in one room: loading the core anew for each takes a third of the time. */
const PURE = ['{core,demo,cli}/**/*.test.ts'];

export default defineConfig({
  test: {
    testTimeout: 240_000,
    maxWorkers: 2,
    setupFiles: ['core/testing/setup.ts'],
    projects: [
      { extends: true, test: { name: 'pure', include: PURE, isolate: false } },
      { extends: true, test: { name: 'app', include: ['{server,web}/**/*.test.ts'] } },
    ],
  },
});
