export { fanOf } from './emit';
export * from './toolpath';
