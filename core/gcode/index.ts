export * from './arc';
export * from './dialects';
export * from './read';
export * from './write';
