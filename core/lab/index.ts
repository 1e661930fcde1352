export * from './amounts';
export * from './firmware';
export * from './heat';
export { type Blob, type Laid as LaidLines, type Strand } from './laid';
export * from './print-file';
export * from './instruments';
export * from './photo';
export { BREAKS, Printing, type Course, type Outcome } from './printing';
export * from './traits';
