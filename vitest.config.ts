import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    setupFiles: ['core/testing/setup.ts'],
    include: ['{core,demo,cli,server,web}/**/*.test.ts'],
    testTimeout: 240_000,
    maxWorkers: 2,
  },
});
