export * from './cells';
export * from './levels';
export * from './ramp';
export * from './reckoned';
