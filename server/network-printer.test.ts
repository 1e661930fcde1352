import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { afterEach, describe, expect, it } from 'vitest';
import WebSocket from 'ws';
import { Sender } from '#core/wire';
import { NetworkPrinter } from './network-printer';
import { application } from './serve';

const folder = mkdtempSync(join(tmpdir(), 'steady-device-'));
writeFileSync(join(folder, 'index.html'), '<!doctype html><title>page</title>');
const root = pathToFileURL(folder + '/');
const open: Server[] = [];

async function served(printer?: NetworkPrinter) {
  const server = createServer(application(root, undefined, printer));
  printer?.attach(server);
  open.push(server);
  await new Promise<void>((ready) => server.listen(0, 'localhost', ready));
  const { port } = server.address() as AddressInfo;
  const base = `http://localhost:${port}`;
  const socket = (options: WebSocket.ClientOptions = {}, path = '/device') =>
    new WebSocket(`ws://localhost:${port}${path}`, { origin: base, ...options });
  return { base, port, socket };
}
const printer = (beats?: number) => new NetworkPrinter('heron', true, '2026-11-29', beats);
const opened = (s: WebSocket) => new Promise<void>((ready, failed) => s.once('open', ready).once('error', failed));
const closed = (s: WebSocket) =>
  new Promise<{ code: number; why: string }>((ready) => {
    s.on('error', () => undefined);
    s.once('close', (code, why) => ready({ code, why: why.toString() }));
  });
const until = async (what: () => boolean, most = 20_000) => {
  const end = performance.now() + most;
  while (!what() && performance.now() < end) await new Promise((r) => setTimeout(r, 10));
  expect(what()).toBe(true);
};

/** Sends a print over a socket, as a page does; `lose` breaks it after so many lines taken. */
async function sends(sender: Sender, socket: WebSocket, lose = Infinity): Promise<void> {
  await opened(socket);
  const clock = () => performance.now() / 1000;
  const write = (frames: string[]) => frames.length > 0 && socket.send(frames.join('\n') + '\n');
  write(sender.connect(clock()));
  await new Promise<void>((end) => {
    const tick = setInterval(() => write(sender.tick(clock())), 200);
    const stop = () => {
      clearInterval(tick);
      socket.terminate();
      end();
    };
    socket.on('message', (data) => {
      for (const line of String(data).split('\n')) if (line) write(sender.heard(line, clock()));
      if (sender.place >= lose || sender.sending.state === 'done' || sender.sending.state === 'failed') stop();
    });
  });
}

describe('the printer behind the server', () => {
  afterEach(() => open.splice(0).forEach((s) => (s.closeAllConnections(), s.close())));

  it('is told of where there is one, and not where there is none', async () => {
    const without = await served();
    expect((await fetch(`${without.base}/device`)).status).toBe(204);
    const { base } = await served(printer());
    const answer = await fetch(`${base}/device`);
    expect(answer.headers.get('content-type')).toContain('application/json');
    expect(await answer.json()).toEqual({ kind: 'steady-tune/device', name: 'Heron' });
  });
  it('is one of the demo’s, or none', () => {
    expect(() => new NetworkPrinter('crane', true, '2026-11-29')).toThrow(
      /no practice printer “crane”; there are heron/,
    );
  });
  it('takes a print line by line, each once, though the wire breaks in between', async () => {
    const machine = printer();
    const { socket } = await served(machine);
    const lines = [
      'G28',
      'M83',
      ...Array.from({ length: 300 }, (_, i) => `G1 X${20 + (i % 90)} Y${20 + (i % 50)} F12000`),
    ];
    const sender = new Sender(lines, { window: 16, stall: 1 });
    for (const lose of [40, 150, Infinity]) {
      const one = socket();
      await sends(sender, one, lose);
      await new Promise((r) => setTimeout(r, 60));
    }
    expect(sender.sending.state).toBe('done');
    expect(machine.executed.filter((l) => l !== 'M105')).toEqual(lines);
  }, 30_000);
  it('is for one page at a time, and for the next when that is gone', async () => {
    const { socket } = await served(printer());
    const first = socket();
    await opened(first);
    const second = await closed(socket());
    expect(second).toEqual({ code: 1013, why: 'the printer is in use by another page' });
    first.terminate();
    await new Promise((r) => setTimeout(r, 100));
    const third = socket();
    await opened(third);
    third.send('M115\n');
    let said = '';
    third.on('message', (data) => (said += String(data)));
    await until(() => said.includes('(practice)'));
    third.terminate();
  });
  it('lets no other site, no other name and no other path in', async () => {
    const machine = printer();
    const { base, port, socket } = await served(machine);
    const refused = async (s: WebSocket) => {
      let message = '';
      s.once('error', (e) => (message = e.message));
      await new Promise((r) => s.once('close', r));
      return message;
    };
    expect(await refused(socket({ origin: 'http://evil.example' }))).toContain('403');
    expect(await refused(socket({ origin: `http://localhost:${port + 1}` }))).toContain('403');
    // What says no origin is no page.
    expect(await refused(new WebSocket(`ws://localhost:${port}/device`))).toContain('403');
    expect(
      await refused(socket({ origin: `http://evil.example:${port}`, headers: { host: `evil.example:${port}` } })),
    ).toContain('403');
    expect(await refused(socket({}, '/elsewhere'))).toContain('404');
    expect(machine.executed).toEqual([]);
    expect((await fetch(base)).status).toBe(200);
  });
  it('outlives noise: bytes, giants, floods', async () => {
    const machine = printer();
    const { socket } = await served(machine);
    const bytes = socket();
    const gone = closed(bytes);
    await opened(bytes);
    bytes.send(Buffer.from([0, 255, 1]));
    expect((await gone).code).toBe(1003);
    const giant = socket();
    const ended = closed(giant);
    await opened(giant);
    giant.send('x'.repeat(1 << 17));
    expect((await ended).code).toBe(1009);
    await new Promise((r) => setTimeout(r, 50));
    const flood = socket();
    await opened(flood);
    for (let i = 0; i < 400; i++) flood.send('N1 G1 X1*0\n'.repeat(200));
    let said = '';
    flood.on('message', (data) => (said = String(data)));
    await until(() => said.includes('Resend'));
    flood.terminate();
    await new Promise((r) => setTimeout(r, 50));
    // And prints as before.
    const sender = new Sender(['G28', 'G1 X10 Y10 F6000'], { window: 16, stall: 0.5 });
    await sends(sender, socket());
    expect(sender.sending.state).toBe('done');
    expect(machine.executed.filter((l) => l !== 'M105')).toEqual(['G28', 'G1 X10 Y10 F6000']);
  }, 30_000);
  it('notices a page that is gone though its socket stands', async () => {
    const { socket } = await served(printer(60));
    // It answers no question whether it is there.
    const dead = socket({ autoPong: false });
    await opened(dead);
    await closed(dead);
    const next = socket();
    await opened(next);
    await new Promise((r) => setTimeout(r, 300));
    expect(next.readyState).toBe(WebSocket.OPEN);
    next.terminate();
  });
});
