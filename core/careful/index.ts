export { response } from './eyes';
export * from './in-hand';
export * from './read';
