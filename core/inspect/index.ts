export * from './inspect';
export * from './inspection';
