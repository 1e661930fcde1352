export * from './inspect';
export * from './inspection';
export { Recogniser } from './recognise';
export { Trail } from './trail';
export { oneAfterTheOther, type FileObject } from './objects';
export { ownLines } from './apart';
