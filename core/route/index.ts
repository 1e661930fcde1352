export * from './stops';
export * from './tune-sheet';
export * from './record';
export * from './confirming';
export * from './comparing';
export * from './symptoms';
export * from './phone';
