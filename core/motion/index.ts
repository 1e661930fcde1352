export * from './limits';
export * from './reached';
export * from './timer';
