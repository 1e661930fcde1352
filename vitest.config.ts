import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,cli,server,scripts}/**/*.test.ts'],
    environment: 'node',
    testTimeout: 60_000,
    // Nothing here keeps a state of its own between files, and two cores are two workers.
    isolate: false,
    maxWorkers: 2,
  },
});
