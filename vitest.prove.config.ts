import { defineConfig } from 'vitest/config';

/** Long runs: `npm run prove`. */
export default defineConfig({ test: { include: ['{core,web}/**/*.prove.ts'], environment: 'node' } });
