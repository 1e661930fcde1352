export * from './plan';
