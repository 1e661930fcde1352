export * from './mesh';
export * from './obj';
export * from './sections';
export * from './stl';
