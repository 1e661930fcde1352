export type { Action } from '#core/firmware';
export * from './builder';
export * from './layering';
export * from './moves';
export * from './roles';
