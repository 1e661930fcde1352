import type { Request, Response } from 'express';

/** A listener that has not taken in so many bytes is stalled; after so long without taking any it is dropped. */
const MOST_WAITING = 6 * 2 ** 20;
const STALLED_AFTER = 30_000;
const BEAT = 20_000;
/** So many may listen at once; the one that came first goes. */
const MOST_LISTENERS = 20;

/** Those who listen to server-sent events. What is sent is JSON on one line, so that nothing in it can pass for an event. */
export class Listeners {
  private readonly all = new Map<Response, { since: number; sent: number }>();

  /**
   * @param left called when one has gone
   * @param beat ms between signs of life
   */
  constructor(
    private readonly left: () => void = () => undefined,
    private readonly beat = BEAT,
  ) {}

  get size(): number {
    return this.all.size;
  }

  /** Lets a request listen until it goes, or is dropped. */
  add(request: Request, response: Response): void {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
    });
    response.write(': here\n\n');
    this.all.set(response, { since: Date.now(), sent: 0 });
    const beat = setInterval(() => this.write(response, ': here\n\n'), this.beat);
    request.on('close', () => {
      clearInterval(beat);
      if (this.all.delete(response)) this.left();
    });
    for (const first of this.all.keys()) if (this.all.size > MOST_LISTENERS) this.drop(first);
  }

  /** Sends an event to all. */
  send(event: string, value: unknown): void {
    const text = `event: ${event}\ndata: ${JSON.stringify(value)}\n\n`;
    for (const r of [...this.all.keys()]) this.write(r, text);
  }

  private write(to: Response, text: string): void {
    const own = this.all.get(to);
    if (!own) return;
    const now = Date.now();
    // What it takes in is counted from when nothing waited last.
    if (to.writableLength === 0) own.since = now;
    if (to.writableLength + text.length > MOST_WAITING || now - own.since > STALLED_AFTER) this.drop(to);
    else to.write(text);
  }

  private drop(which: Response): void {
    if (this.all.delete(which)) this.left();
    which.destroy();
  }
}
