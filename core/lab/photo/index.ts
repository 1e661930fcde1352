export { Camera, views, type Room, type View } from './camera';
export * from './photograph';
