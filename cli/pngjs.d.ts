/** What is used of the package: a picture as RGBA, and its bytes. */
declare module 'pngjs' {
  export class PNG {
    constructor(size: { width: number; height: number });
    width: number;
    height: number;
    data: Buffer;
    static readonly sync: { write(png: PNG): Buffer; read(bytes: Buffer): PNG };
  }
}
