import type { PracticeFirmware } from '#core/lab';
import type { Port } from '../work/serial-device';

/** A serial port with a machine at its far end, and a cable that a test can pull out. */
export class FakePort implements Port {
  readable: ReadableStream<Uint8Array> | null = null;
  writable: WritableStream<Uint8Array> | null = null;
  opened: { baudRate: number }[] = [];
  private controller: ReadableStreamDefaultController<Uint8Array> | undefined;
  private timer: ReturnType<typeof setInterval> | undefined;
  private plugged = true;
  /** For so many ms after it is opened the machine starts: it hears nothing, and greets at the end. */
  starts = 0;
  private deaf = false;

  /**
   * @param says what the machine says, as it is to be heard
   * @param pieces characters that arrive at a time: lines come apart on a wire
   */
  constructor(
    public machine: PracticeFirmware,
    private readonly says: (line: string) => string = (line) => line,
    private readonly pieces = 7,
  ) {}

  open(options: { baudRate: number }): Promise<void> {
    if (!this.plugged) return Promise.reject(new Error('the port is gone'));
    this.opened.push(options);
    const text = new TextDecoder();
    this.readable = new ReadableStream({ start: (c) => void (this.controller = c) });
    this.writable = new WritableStream({
      write: (bytes) => {
        if (!this.plugged) throw new Error('the port is gone');
        if (!this.deaf) this.machine.receive(text.decode(bytes, { stream: true }));
      },
    });
    if (this.starts > 0) {
      this.deaf = true;
      this.machine.hear();
      setTimeout(() => {
        this.deaf = false;
        this.machine.restart();
      }, this.starts);
    }
    this.timer = setInterval(() => {
      this.machine.pass(2);
      const said = this.machine
        .hear()
        .map((line) => this.says(line) + '\r\n')
        .join('');
      const bytes = new TextEncoder().encode(said);
      for (let i = 0; i < bytes.length; i += this.pieces) this.controller?.enqueue(bytes.slice(i, i + this.pieces));
    }, 5);
    return Promise.resolve();
  }

  close(): Promise<void> {
    clearInterval(this.timer);
    this.controller = undefined;
    return Promise.resolve();
  }

  /** The cable is pulled out. */
  pull(): void {
    this.plugged = false;
    clearInterval(this.timer);
    this.controller?.error(new Error('the device has been lost'));
    this.controller = undefined;
  }

  /** And put in again. */
  plug(): void {
    this.plugged = true;
  }
}
