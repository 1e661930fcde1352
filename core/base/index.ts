export * from './arithmetic';
export * from './checksum';
export * from './fault';
export * from './job';
export * from './parse';
export * from './random';
export * from './show';
export * from './text';
