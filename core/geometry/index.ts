export * from './box-grid';
export * from './clip';
export * from './edge-grid';
export * from './hatch';
export * from './measure';
export * from './medial';
export * from './numerals';
export * from './shapes';
