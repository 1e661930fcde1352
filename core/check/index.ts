export * from './check';
export { manners, heldBack } from './report';
export type { CheckContext } from './belief';
export * from './code-bench';
