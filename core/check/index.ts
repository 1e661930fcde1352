export * from './check';
export type { CheckContext } from './belief';
