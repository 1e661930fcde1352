export * from './inspect';
export * from './inspection';
export type { Unsaid } from './doubts';
export { namedMoves } from './named-moves';
export { Recogniser } from './recognise';
export { Trail } from './trail';
export { oneAfterTheOther, type FileObject } from './objects';
export { ownLines } from './own-lines';
