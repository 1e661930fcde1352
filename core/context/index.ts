export * from './checked';
export * from './fields';
export * from './filament';
export * from './fresh';
export * from './limits';
export * from './placeholders';
export * from './printer';
export * from './usual';
