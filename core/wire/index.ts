export * from './heard';
export * from './frame';
export * from './sender';
export * from './park';
export * from './introduced';
