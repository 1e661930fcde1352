export * from './carry';
export { linesIn, textOf, Walker, wordsOf, type Step } from './walk';
