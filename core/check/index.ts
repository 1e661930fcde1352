export * from './check';
export { manners, startManners } from './report';
export type { CheckContext } from './belief';
export * from './code-bench';
