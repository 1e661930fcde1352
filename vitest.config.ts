import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,cli,server,scripts}/**/*.test.ts'],
    environment: 'node',
    testTimeout: 60_000,
    reporters: process.env['CI'] ? ['default'] : ['default'],
  },
});
