export * from './pairs';
export * from './data';
