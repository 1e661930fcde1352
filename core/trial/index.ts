export * from './header';
export * from './trial';
