export * from './pairs';
export * from './data';
export * from './engine-checks';
