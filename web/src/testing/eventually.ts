import { expect } from 'vitest';

/** Asks again until it holds; a slow machine is no fault. */
export const eventually = <T>(ask: () => T) => expect.poll(ask, { timeout: 20_000 });
