export { bottomOf, layerFrom } from './layers';
export * from './carry';
export type { Carried } from './carrier';
export type * from './sweep';
export { linesIn, textOf, Walker, type Step } from './walk';
export * from './carried';
export * from './compare-files';
export * from './learn';
export * from './own-trial';
