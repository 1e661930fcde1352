import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
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
  const door = new Door((request) => request.headers['x-test-here'] === '1');
  const server = createServer(application(root, { door, address: 'http://192.0.2.7:4310' }));
  open.push(server);
  await new Promise<void>((ready) => server.listen(0, 'localhost', ready));
  const base = `http://localhost:${(server.address() as AddressInfo).port}`;
  const get = (path: string, headers: Record<string, string> = {}) =>
    fetch(base + path, { headers, redirect: 'manual' });
  const knock = (code: string) =>
    fetch(`${base}/door`, { method: 'POST', body: new URLSearchParams({ code }), redirect: 'manual' });
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
  it('closes after five wrong codes, for the right one too', async () => {
    const { door, knock, get } = await served();
    for (let k = 0; k < 4; k++) expect(await (await knock(wrong(door.code))).text()).toContain(`${4 - k} tries`);
    expect((await knock(wrong(door.code))).status).toBe(403);
    expect((await knock(door.code)).status).toBe(403);
    expect((await get('/')).status).toBe(403);
    expect((await get('/', { 'x-test-here': '1' })).status).toBe(200);
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
    const desk = (await fetch(`${base}/relay/desk`, { headers: here })).body!.getReader();
    const heard = async (reader: ReadableStreamDefaultReader<Uint8Array>, until: string) => {
      let text = '';
      while (!text.includes(until)) text += new TextDecoder().decode((await reader.read()).value);
      return text;
    };
    const phone = (await fetch(`${base}/relay/phone`, { headers: { cookie } })).body!.getReader();
    await heard(desk, 'event: hello');
    expect((await say('{"kind":"score"}', { ...marked, cookie })).status).toBe(204);
    expect(await heard(desk, '"score"')).toContain('event: say\ndata: {"kind":"score"}');
    const publish = (headers: Record<string, string>) =>
      fetch(`${base}/relay/sheet`, { method: 'POST', body: '{"sheet":1}', headers });
    // A phone cannot pass for the desk, nor a foreign page for either.
    expect((await publish({ ...marked, cookie })).status).toBe(403);
    expect((await publish({ ...here, 'content-type': 'application/json' })).status).toBe(403);
    expect((await publish({ ...marked, ...here })).status).toBe(204);
    expect(await heard(phone, '"sheet"')).toContain('event: sheet\ndata: {"sheet":1}');
    const told = (await (await fetch(`${base}/relay/door`, { headers: here })).json()) as Record<string, unknown>;
    expect(told).toMatchObject({ address: 'http://192.0.2.7:4310', code: door.code, closed: false });
    expect(String(told['svg'])).toContain('<svg');
    await Promise.all([desk.cancel(), phone.cancel()]);
  });
});
