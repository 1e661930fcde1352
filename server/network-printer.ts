import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import type { RequestHandler } from 'express';
import { WebSocketServer, type WebSocket } from 'ws';
import { demoPairs } from '#core/demo';
import { ownTraits, PracticeFirmware } from '#core/lab';
import { fromHere } from './door';
import { namesOf, refusal } from './hosts';

/** Every so many ms the machine goes on. */
const TURN = 40;
/** As fast as it can it goes so many seconds of its own further in a turn, in steps of so many. */
const LEAP = 2;
const WORKS = 20;
/** A line is never so long, nor is what waits to be sent, bytes. */
const MOST_MESSAGE = 1 << 16;
const MOST_WAITING = 1 << 20;
/** A client that answers nothing for so many ms is gone, whatever its socket says. */
const BEATS = 5000;

/** A practice printer that stands behind the server, as a printer on the network would: one, whoever asks. */
export class NetworkPrinter {
  readonly name: string;
  private readonly machine: PracticeFirmware;
  private client: WebSocket | undefined;
  private alive = true;
  private before = performance.now();
  private readonly timers: NodeJS.Timeout[];
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: MOST_MESSAGE });

  /**
   * @param id of a printer of the demo
   * @param fast as fast as it can, or as long as it takes
   * @param today day of the print, as 2026-05-31
   * @param beats ms between two questions whether a client is still there
   * @throws Error where there is no such printer
   */
  constructor(
    id: string,
    private readonly fast: boolean,
    today: string,
    beats = BEATS,
  ) {
    const pair = demoPairs.find((p) => p.context.printer.id === id);
    if (!pair) {
      const known = demoPairs.map((p) => p.context.printer.id).join(', ');
      throw new Error(`there is no practice printer “${id}”; there are ${known}`);
    }
    const { printer } = pair.context;
    this.name = printer.name;
    this.machine = new PracticeFirmware(printer, ownTraits(pair.context, today).printer);
    this.timers = [setInterval(() => this.turn(), TURN), setInterval(() => this.beat(), beats)];
    for (const timer of this.timers) timer.unref();
  }

  /** Lines that it has taken, in order. */
  get executed(): readonly string[] {
    return this.machine.executed;
  }

  /** Tells a page that is open on this machine that there is a printer, and its name. */
  readonly here: RequestHandler = (request, response) => {
    if (!fromHere(request)) {
      response.status(204).end();
      return;
    }
    response.setHeader('Cache-Control', 'no-store');
    response.json({ kind: 'steady-tune/device', name: this.name });
  };

  /** Lets pages that are open on this machine come in over a WebSocket: no other machine or site, and one at a time. */
  attach(server: Server): void {
    const names = namesOf(undefined);
    server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      // A socket that breaks while it is answered is gone.
      socket.on('error', () => socket.destroy());
      const path = (request.url ?? '').split('?')[0];
      // A page alone opens this: it always says from where.
      const mayNot = !fromHere(request) || refusal(request.headers, names, true) !== undefined;
      if (path !== '/device' || mayNot) {
        socket.end(`HTTP/1.1 ${path === '/device' ? '403 Forbidden' : '404 Not Found'}\r\nConnection: close\r\n\r\n`);
        return;
      }
      this.sockets.handleUpgrade(request, socket, head, (client) => this.take(client));
    });
    server.on('close', () => this.close());
  }

  close(): void {
    for (const timer of this.timers) clearInterval(timer);
    this.client?.terminate();
    this.sockets.close();
  }

  private take(client: WebSocket): void {
    client.on('error', () => client.terminate());
    if (this.client) {
      client.close(1013, 'the printer is in use by another page');
      return;
    }
    this.client = client;
    this.alive = true;
    client.on('pong', () => (this.alive = true));
    client.on('close', () => {
      if (this.client === client) this.client = undefined;
    });
    client.on('message', (data, binary) => {
      if (binary) client.close(1003, 'lines of text are wanted');
      else this.machine.receive((data as Buffer).toString('utf8'));
    });
  }

  private turn(): void {
    const now = performance.now();
    if (this.fast) {
      do this.machine.pass(this.machine.standing.idle ? 0.05 : LEAP);
      while (!this.machine.standing.idle && performance.now() - now < WORKS);
    } else this.machine.pass(Math.min(1, (now - this.before) / 1000));
    this.before = now;
    const lines = this.machine.hear();
    const { client } = this;
    if (lines.length === 0 || !client || client.readyState !== client.OPEN) return;
    // Who does not listen is not waited for.
    if (client.bufferedAmount > MOST_WAITING) client.terminate();
    else client.send(lines.join('\n') + '\n');
  }

  private beat(): void {
    if (!this.client) return;
    if (!this.alive) {
      this.client.terminate();
      this.client = undefined;
      return;
    }
    this.alive = false;
    this.client.ping();
  }
}
