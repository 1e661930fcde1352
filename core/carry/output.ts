/** Bytes that grow as they are written. */
export class Output {
  private buffer: Uint8Array<ArrayBuffer>;
  private at = 0;

  constructor(expected: number) {
    this.buffer = new Uint8Array(Math.max(1024, expected));
  }

  bytes(source: Uint8Array, from: number, to: number): void {
    this.room(to - from);
    this.buffer.set(source.subarray(from, to), this.at);
    this.at += to - from;
  }

  /** Text of single-byte letters, as it was read. */
  text(text: string): void {
    this.room(text.length);
    for (let i = 0; i < text.length; i++) this.buffer[this.at++] = text.charCodeAt(i);
  }

  result(): Uint8Array<ArrayBuffer> {
    return this.buffer.slice(0, this.at);
  }

  private room(more: number): void {
    if (this.at + more <= this.buffer.length) return;
    const larger = new Uint8Array(Math.max(this.at + more, this.buffer.length * 1.5));
    larger.set(this.buffer);
    this.buffer = larger;
  }
}
