export * from './look-over';
export * from './mesh';
export * from './obj';
export * from './read-part';
export * from './sections';
export * from './stl';
export * from './three-mf';
