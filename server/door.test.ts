import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { afterEach, describe, expect, it } from 'vitest';
import { Door } from './door';
import { application } from './serve';

const folder = mkdtempSync(join(tmpdir(), 'steady-'));
writeFileSync(join(folder, 'index.html'), '<!doctype html><title>page</title>');
writeFileSync(join(folder, 'main-ABCDEFGH.js'), '1');
const root = pathToFileURL(folder + '/');
const open: Server[] = [];

/** A served application whose requests are this machine's only where they say so. */
async function served() {
  const door = new Door(
    (request) => request.headers['x-test-here'] === '1',
    (request) => String(request.headers['x-test-from'] ?? 'one'),
  );
  const server = createServer(application(root, { door, address: 'http://192.0.2.7:4310' }));
  open.push(server);
  await new Promise<void>((ready) => server.listen(0, 'localhost', ready));
  const base = `http://localhost:${(server.address() as AddressInfo).port}`;
  const get = (path: string, headers: Record<string, string> = {}) =>
    fetch(base + path, { headers, redirect: 'manual' });
  const knock = (code: string, headers: Record<string, string> = {}) =>
    fetch(`${base}/door`, { method: 'POST', body: new URLSearchParams({ code }), redirect: 'manual', headers });
  return { door, get, knock, base };
}
const wrong = (code: string) => (code === '000000' ? '111111' : '000000');

describe('the door', () => {
  afterEach(() => open.splice(0).forEach((s) => (s.closeAllConnections(), s.close())));

  it('serves a stranger nothing but the page that asks for the code', async () => {
    const { get } = await served();
    for (const path of ['/', '/main-ABCDEFGH.js', '/relay/door', '/relay/phone', '/trial/x', '/index.html']) {
      const r = await get(path);
      expect(r.status, path).toBe(401);
      const text = await r.text();
      expect(text).toContain('Code');
      expect(text).not.toContain('<title>page</title>');
    }
    const here = { 'x-test-here': '1' };
    expect(await (await get('/', here)).text()).toContain('<title>page</title>');
  });
  it('lets one phone in by the code, which is then used up', async () => {
    const { door, get, knock } = await served();
    const { code } = door;
    const r = await knock(code);
    expect(r.status).toBe(303);
    expect(r.headers.get('location')).toBe('/phone');
    const cookie = r.headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly; SameSite=Strict/);
    const own = { cookie: cookie.split(';')[0]! };
    expect(await (await get('/phone', own)).text()).toContain('<title>page</title>');
    // What is the desk's alone stays so.
    expect((await get('/relay/door', own)).status).toBe(403);
    expect((await get('/relay/desk', own)).status).toBe(403);
    expect((await knock(code)).status).toBe(door.code === code ? 303 : 401);
  });
  it('closes to whoever gave five wrong codes, for the right one too, and to nobody else', async () => {
    const { door, knock, get } = await served();
    for (let k = 0; k < 4; k++) expect(await (await knock(wrong(door.code))).text()).toMatch(/(4|3|2|1) (tries|try)/);
    expect((await knock(wrong(door.code))).status).toBe(403);
    expect((await knock(door.code)).status).toBe(403);
    expect((await get('/')).status).toBe(403);
    expect((await get('/', { 'x-test-here': '1' })).status).toBe(200);
    expect((await knock(door.code, { 'x-test-from': 'two' })).status).toBe(303);
  });
  it('closes to all after thirty, and is opened again by the desk with a new code', async () => {
    const { door, knock, base } = await served();
    for (let k = 0; k < 30; k++) await knock(wrong(door.code), { 'x-test-from': `address ${Math.floor(k / 4)}` });
    expect(door.closed).toBe(true);
    expect((await knock(door.code, { 'x-test-from': 'new' })).status).toBe(403);
    const { code } = door;
    const open = (headers: Record<string, string>) => fetch(`${base}/relay/door/open`, { method: 'POST', headers });
    // Not by a phone, nor by a page of another site.
    expect((await open({ 'x-steady-tune': '1' })).status).toBe(403);
    expect((await open({ 'x-test-here': '1' })).status).toBe(403);
    expect((await open({ 'x-test-here': '1', 'x-steady-tune': '1' })).status).toBe(200);
    expect(door.code).not.toBe(code);
    expect((await knock(door.code)).status).toBe(303);
  });
  it('takes no made-up session', async () => {
    const { get } = await served();
    expect((await get('/', { cookie: `steady-tune-phone=${'a'.repeat(64)}` })).status).toBe(401);
  });
});

describe('the relay', () => {
  afterEach(() => open.splice(0).forEach((s) => (s.closeAllConnections(), s.close())));

  it('passes the sheet to the phone and what it says to the desk, and keeps nothing', async () => {
    const { door, knock, base } = await served();
    const cookie = (await knock(door.code)).headers.get('set-cookie')!.split(';')[0]!;
    const here = { 'x-test-here': '1' };
    const marked = { 'x-steady-tune': '1', 'content-type': 'application/json' };
    const say = (body: string, headers: Record<string, string>) =>
      fetch(`${base}/relay/say`, { method: 'POST', body, headers });
    // Without a desk there is nobody to hear it.
    expect((await say('{}', { ...marked, cookie })).status).toBe(503);
    const heardOf = (headers: Record<string, string>) =>
      fetch(`${base}/relay/heard`, { method: 'POST', body: '{"id":"a","state":"kept"}', headers });
    const desk = (await fetch(`${base}/relay/desk`, { headers: here })).body!.getReader();
    const heard = async (reader: ReadableStreamDefaultReader<Uint8Array>, until: string) => {
      let text = '';
      while (!text.includes(until)) text += new TextDecoder().decode((await reader.read()).value);
      return text;
    };
    const phone = (await fetch(`${base}/relay/phone`, { headers: { cookie } })).body!.getReader();
    await heard(desk, 'event: hello');
    expect((await say('{"kind":"score"}', { ...marked, cookie })).status).toBe(202);
    expect(await heard(desk, '"score"')).toContain('event: say\ndata: {"kind":"score"}');
    const publish = (headers: Record<string, string>) =>
      fetch(`${base}/relay/sheet`, { method: 'POST', body: '{"sheet":1}', headers });
    // A phone cannot pass for the desk, nor a foreign page for either.
    expect((await publish({ ...marked, cookie })).status).toBe(403);
    expect((await publish({ ...here, 'content-type': 'application/json' })).status).toBe(403);
    expect((await publish({ ...marked, ...here })).status).toBe(204);
    expect(await heard(phone, '"sheet"')).toContain('event: sheet\ndata: {"sheet":1}');
    // The desk's answer goes to the phone, and nobody else can give it.
    expect((await heardOf({ ...marked, cookie })).status).toBe(403);
    expect((await heardOf({ ...marked, ...here })).status).toBe(204);
    expect(await heard(phone, '"kept"')).toContain('event: heard\ndata: {"id":"a","state":"kept"}');
    const told = (await (await fetch(`${base}/relay/door`, { headers: here })).json()) as Record<string, unknown>;
    expect(told).toMatchObject({ address: 'http://192.0.2.7:4310', code: door.code, closed: false });
    expect(String(told['svg'])).toContain('<svg');
    await Promise.all([desk.cancel(), phone.cancel()]);
  });
});

describe('an attack', () => {
  afterEach(() => open.splice(0).forEach((s) => (s.closeAllConnections(), s.close())));
  const here = { 'x-test-here': '1' };
  /** A request as bytes, such as no browser sends; gives what came back. */
  const raw = (base: string, text: string): Promise<string> =>
    new Promise((done) => {
      const socket = connect(Number(new URL(base).port), 'localhost', () => socket.write(text));
      let said = '';
      socket.on('data', (d) => {
        said += d.toString();
        if (said.includes('\r\n\r\n')) socket.end();
      });
      socket.on('close', () => done(said));
      socket.on('error', () => done(said));
    });

  it('under a foreign name that resolves to this machine gets nothing', async () => {
    const { base } = await served();
    const { port } = new URL(base);
    const ask = (host: string, path = '/relay/door') =>
      raw(base, `GET ${path} HTTP/1.1\r\nHost: ${host}\r\nX-Test-Here: 1\r\nConnection: close\r\n\r\n`);
    for (const host of ['evil.example', `evil.example:${port}`, 'localhost.evil.example', '']) {
      const said = await ask(host);
      expect(said, host).toMatch(/^HTTP\/1.1 4(21|00)/);
      expect(said).not.toMatch(/\d{6}/);
    }
    const named = [hostname(), `${hostname()}.local:4310`].filter((h) => !h.startsWith('.'));
    for (const host of [`localhost:${port}`, `127.0.0.1:${port}`, `[::1]:${port}`, '192.0.2.7:4310', ...named])
      expect(await ask(host), host).toMatch(/^HTTP\/1.1 200/);
  });
  it('from a page of another site is not counted, nor answered', async () => {
    const { door, knock, get, base } = await served();
    const evil = { origin: 'http://evil.example' };
    for (let k = 0; k < 40; k++) expect((await knock(wrong(door.code), evil)).status).toBe(403);
    expect(door.closed).toBe(false);
    expect((await knock(door.code)).status).toBe(303);
    for (const headers of [
      { ...here, ...evil },
      { ...here, 'sec-fetch-site': 'cross-site' },
    ])
      expect((await get('/relay/door', headers as Record<string, string>)).status).toBe(403);
    // A link on another page may open ours.
    const link = 'Sec-Fetch-Site: cross-site\r\nSec-Fetch-Mode: navigate\r\nX-Test-Here: 1\r\nConnection: close';
    expect(await raw(base, `GET / HTTP/1.1\r\nHost: localhost\r\n${link}\r\n\r\n`)).toMatch(/^HTTP\/1.1 200/);
  });
  it('with what is no request gets one sentence, without trace or path', async () => {
    const { base, get } = await served();
    const post = (path: string, body: string) =>
      fetch(base + path, {
        method: 'POST',
        body,
        headers: { ...here, 'x-steady-tune': '1', 'content-type': 'application/json' },
      });
    const answers = [
      await get('/%E0%A4%A', here),
      await post('/relay/sheet', '{"sheet":'),
      await post('/relay/sheet', '"a text alone"'),
      await post('/relay/heard', JSON.stringify({ long: 'x'.repeat(20_000) })),
      await post('/relay/sheet', JSON.stringify({ long: 'x'.repeat(5_000_000) })),
    ];
    for (const r of answers) {
      expect(r.status).toBeGreaterThanOrEqual(400);
      expect(r.status).toBeLessThan(500);
      const text = await r.text();
      expect(text.length).toBeLessThan(60);
      expect(text).not.toMatch(/at |node_modules|\/|Error/);
    }
    expect(await raw(base, 'NONSENSE\r\n\r\n')).toMatch(/^HTTP\/1.1 400/);
  });
  it('that puts line breaks into what is passed on forges no event', async () => {
    const { base } = await served();
    const marked = { ...here, 'x-steady-tune': '1', 'content-type': 'application/json' };
    const desk = (await fetch(`${base}/relay/desk`, { headers: here })).body!.getReader();
    await desk.read();
    // A bare CR between values is white space in JSON, and the end of a line in a stream of events.
    const forged = '{"a":1,\r\revent: hello\rdata: {}\r\r"b":2}';
    expect((await fetch(`${base}/relay/say`, { method: 'POST', body: forged, headers: marked })).status).toBe(400);
    const body = '{"a":1,\r\r"text":"x\\r\\revent: hello\\rdata: 1"}';
    expect((await fetch(`${base}/relay/say`, { method: 'POST', body, headers: marked })).status).toBe(202);
    let text = '';
    while (!text.includes('event: say')) text += new TextDecoder().decode((await desk.read()).value);
    expect(text).not.toContain('\r');
    expect(text.split('\n').filter((l) => l.startsWith('event: hello'))).toEqual([]);
    await desk.cancel();
  });
  it('by a listener that takes nothing in does not fill the memory: it is dropped', async () => {
    const { base, door } = await served();
    const cookie = (
      await fetch(`${base}/door`, {
        method: 'POST',
        body: new URLSearchParams({ code: door.code }),
        redirect: 'manual',
      })
    ).headers
      .get('set-cookie')!
      .split(';')[0]!;
    const { hostname, port } = new URL(base);
    const stalled = connect(Number(port), hostname);
    await new Promise<void>((go) => stalled.once('connect', () => go()));
    stalled.write(`GET /relay/phone HTTP/1.1\r\nHost: localhost\r\nCookie: ${cookie}\r\n\r\n`);
    stalled.pause();
    const told = async () =>
      ((await (await fetch(`${base}/relay/door`, { headers: here })).json()) as { phones: number }).phones;
    await expect.poll(told).toBe(1);
    const sheet = JSON.stringify({ sheet: 'x'.repeat(3_000_000) });
    const marked = { ...here, 'x-steady-tune': '1', 'content-type': 'application/json' };
    const before = process.memoryUsage().external;
    for (let k = 0; k < 12 && (await told()) > 0; k++)
      await fetch(`${base}/relay/sheet`, { method: 'POST', body: sheet, headers: marked });
    expect(await told()).toBe(0);
    expect(process.memoryUsage().external - before).toBeLessThan(60e6);
    stalled.destroy();
  });
});
