export * from './stops';
export * from './tune-sheet';
export * from './record';
