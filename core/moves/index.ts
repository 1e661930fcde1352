export * from './builder';
export * from './moves';
export * from './roles';
