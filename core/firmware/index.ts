export * from './action';
export { figure, type Command as FirmwareCommand, type Now } from './command';
export * from './firmware';
export { heatAsked, macrosIn } from './macros';
export * from './spoken';
export { commandOf, commands, dangerOf, lineFor, meaningOf, speakersOf, toldAt, understood, untold } from './table';
