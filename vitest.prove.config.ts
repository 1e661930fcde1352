import { defineConfig } from 'vitest/config';

/** Long runs: `npm run prove`. */
export default defineConfig({ test: { include: ['core/**/*.prove.ts'], environment: 'node' } });
