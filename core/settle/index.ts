export * from './rules';
export * from './scores';
export * from './settle';
export * from './smooth';
export * from './measured';
export * from './passes';
