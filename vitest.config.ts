import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    // Of the web only what runs in workers, without a page.
    include: ['{core,cli,server,scripts,web}/**/*.test.ts'],
    exclude: ['**/node_modules/**'],
    environment: 'node',
    testTimeout: 60_000,
    // Nothing here keeps a state of its own between files, and two cores are two workers.
    isolate: false,
    maxWorkers: 2,
  },
});
