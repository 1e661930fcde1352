export * from './check';
export { manners } from './report';
export type { CheckContext } from './belief';
