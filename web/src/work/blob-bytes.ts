import type { Bytes } from '#core/base';

const WINDOW = 1 << 23;

// Only workers have it, and the page’s types do not know of it.
const { FileReaderSync } = globalThis as unknown as {
  FileReaderSync: new () => { readAsArrayBuffer(blob: Blob): ArrayBuffer };
};

/** A file read part by part, in a worker only: no more than a window of it lies in memory. */
export class BlobBytes implements Bytes {
  readonly length: number;
  private readonly reader = new FileReaderSync();
  private window = new Uint8Array();
  private from = 0;

  constructor(private readonly blob: Blob) {
    this.length = blob.size;
  }

  subarray(from: number, to: number): Uint8Array {
    if (from < this.from || to > this.from + this.window.length) {
      this.from = from;
      const end = Math.min(this.length, Math.max(to, from + WINDOW));
      this.window = new Uint8Array(this.reader.readAsArrayBuffer(this.blob.slice(from, end)));
    }
    return this.window.subarray(from - this.from, to - this.from);
  }
}
