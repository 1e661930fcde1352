export { fanOf } from './role-speed';
export * from './toolpath';
export type { ToolpathNotes } from './notes';
export * from './same-levels';
