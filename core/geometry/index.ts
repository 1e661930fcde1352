export * from './clip';
export * from './hatch';
export * from './measure';
export * from './numerals';
export * from './shapes';
