export * from './adhesion';
export * from './catalogue';
export * from './line';
export * from './purge';
export * from './setting';
export * from './settings';
export * from './masters';
export { usualLine } from './starts';
