export { response } from './eyes';
export * from './read';
