export * from './catalogue';
export * from './readings';
export type { Quality } from './quality';
export * from './load';
export * from './measures';
export * from './tracks';
export * from './pairwise';
export * from './agreement';
