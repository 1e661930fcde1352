export * from './straighten';
export * from './cell-part';
