export * from './clear';
export { response } from './eyes';
export * from './held-print';
export * from './price';
export * from './read';
export * from './shots';
