export * from './arc';
export * from './read';
export * from './write';
