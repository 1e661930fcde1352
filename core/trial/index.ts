export * from './schema';
export * from './header';
export * from './trial';
export * from './pair';
export * from './from-kind';
export * from './kinds';
export * from './test-only';
export * from './confirm';
