export * from './inspect';
export * from './inspection';
export { Recogniser } from './recognise';
export { Trail } from './trail';
