export * from './learn';
export type { LearntValue } from './values';
export { firmwareOf } from './firmware-of';
