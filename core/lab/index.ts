export * from './heat';
export * from './laid';
export * from './print-file';
export { BREAKS, Printing, type Course, type Outcome } from './printing';
export * from './traits';
