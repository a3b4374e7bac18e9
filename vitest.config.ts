import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

// The longest tests wait for processes that they start, so every core gets a worker. The time limit only stops what hangs.
export default defineConfig({
  test: {
    include: ['test/**/*.test.ts'],
    globalSetup: 'test/support/engines.ts',
    setupFiles: 'test/support/languages.ts',
    testTimeout: 600_000,
    maxWorkers: availableParallelism(),
  },
});
