export * from './cells';
export * from './levels';
