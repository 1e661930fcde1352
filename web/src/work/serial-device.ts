import { Subject } from 'rxjs';
import type { Device } from './device';
import { Lines } from './lines';

/** A serial port as the browser gives it, as far as it is used here. */
export interface Port {
  readonly readable: ReadableStream<Uint8Array> | null;
  readonly writable: WritableStream<Uint8Array> | null;
  open(options: { baudRate: number; bufferSize?: number }): Promise<void>;
  close(): Promise<void>;
}

/** The browser’s serial ports. */
export interface Serial {
  requestPort(): Promise<Port>;
  getPorts(): Promise<Port[]>;
}

/** The serial ports of this browser; undefined where it has none. */
export const serialOf = (navigator: Navigator): Serial | undefined => (navigator as { serial?: Serial }).serial;

/** Speeds that open firmware is built for, bit/s, the usual one first. */
export const bauds = [115_200, 250_000, 57_600, 500_000, 1_000_000] as const;

/** A printer on the browser’s serial port. */
export class SerialDevice implements Device {
  readonly kind = 'serial';
  private readonly said = new Subject<readonly string[]>();
  readonly lines$ = this.said.asObservable();
  private readonly lines = new Lines();
  private reader: ReadableStreamDefaultReader<Uint8Array> | undefined;
  private writer: WritableStreamDefaultWriter<Uint8Array> | undefined;
  private closed = false;

  constructor(
    private readonly port: Port,
    private readonly baudRate: number,
  ) {}

  async connect(): Promise<void> {
    await this.port.open({ baudRate: this.baudRate, bufferSize: 4096 });
    this.writer = this.port.writable!.getWriter();
    this.reader = this.port.readable!.getReader();
    void this.read(this.reader);
  }

  private async read(reader: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
    const text = new TextDecoder();
    try {
      for (;;) {
        const { value, done } = await reader.read();
        if (done) break;
        const lines = this.lines.take(text.decode(value, { stream: true }));
        if (lines.length > 0) this.said.next(lines);
      }
    } catch {
      // A cable that is pulled out ends the reading as an error; what follows is the same.
    }
    if (!this.closed) this.said.error(new Error('the cable was pulled out, or the printer was switched off'));
  }

  write(text: string): void {
    // A wire that broke is told of by the reading.
    void this.writer?.write(new TextEncoder().encode(text)).catch(() => undefined);
  }

  close(): Promise<void> {
    this.closed = true;
    this.said.complete();
    return this.release();
  }

  private async release(): Promise<void> {
    // What is still to be written goes out first: it may be what stops the machine.
    await this.writer?.close().catch(() => undefined);
    this.writer?.releaseLock();
    await this.reader?.cancel().catch(() => undefined);
    this.reader?.releaseLock();
    await this.port.close().catch(() => undefined);
  }
}
