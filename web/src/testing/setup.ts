import 'fake-indexeddb/auto';
import { vi } from 'vitest';

// A slow machine is no fault.
vi.setConfig({ testTimeout: 60_000, hookTimeout: 60_000 });

// No layout here, so nothing ever changes its size.
globalThis.ResizeObserver ??= class {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
};
