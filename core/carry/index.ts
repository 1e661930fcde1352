export { bottomOf, layerFrom } from './bands';
export * from './carry';
export { linesIn, textOf, Walker, wordsOf, type Step } from './walk';
export * from './carried';
export * from './compare-files';
export * from './learn';
export * from './own-trial';
