export * from './inspect';
export * from './inspection';
export { namedMoves } from './named-moves';
export { Recogniser } from './recognise';
export { Trail } from './trail';
export { oneAfterTheOther, type FileObject } from './objects';
export { ownLines } from './own-lines';
