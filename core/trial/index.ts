export * from './header';
export * from './trial';
export * from './pair';
