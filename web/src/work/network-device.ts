import { Subject } from 'rxjs';
import * as z from 'zod';
import type { Device } from './device';
import { Lines } from './lines';

/** What a server says of the printer behind it. */
const hereSchema = z.strictObject({ kind: z.literal('steady-tune/device'), name: z.string().min(1).max(60) });

/** The name of the printer that the server of this page leads to; undefined where it leads to none. */
export async function networkPrinter(): Promise<string | undefined> {
  try {
    const answer = await fetch('/device', { headers: { accept: 'application/json' } });
    if (!answer.ok || !answer.headers.get('content-type')?.includes('json')) return undefined;
    const said = hereSchema.safeParse(await answer.json());
    return said.success ? said.data.name : undefined;
  } catch {
    // Without a server there is none.
    return undefined;
  }
}

/** A printer that the server of this page leads to, over a WebSocket. */
export class NetworkDevice implements Device {
  readonly kind = 'network';
  private readonly said = new Subject<readonly string[]>();
  readonly lines$ = this.said.asObservable();
  private readonly lines = new Lines();
  private socket: WebSocket | undefined;

  connect(): Promise<void> {
    const socket = new WebSocket(new URL('/device', location.href.replace(/^http/, 'ws')));
    this.socket = socket;
    return new Promise((open, failed) => {
      socket.onopen = () => open();
      socket.onmessage = ({ data }) => {
        const lines = typeof data === 'string' ? this.lines.take(data) : [];
        if (lines.length > 0) this.said.next(lines);
      };
      socket.onclose = ({ reason }) => {
        const broke = new Error(reason || 'the connection broke');
        failed(broke);
        // Who hears no more is not told.
        if (this.said.observed) this.said.error(broke);
      };
    });
  }

  write(text: string): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(text);
  }

  close(): void {
    if (this.socket) this.socket.onclose = null;
    this.socket?.close();
    this.said.complete();
  }
}
