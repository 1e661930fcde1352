import { defineConfig } from 'vitest/config';

// By itself it would leave one of two cores idle.
export default defineConfig({ test: { maxWorkers: 2 } });
