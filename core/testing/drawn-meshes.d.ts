declare module 'bunny' {
  const mesh: { positions: [number, number, number][]; cells: [number, number, number][] };
  export default mesh;
}
declare module 'teapot' {
  const mesh: { positions: [number, number, number][]; cells: [number, number, number][] };
  export default mesh;
}
