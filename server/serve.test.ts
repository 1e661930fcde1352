import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { request, type IncomingHttpHeaders } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { brotliCompressSync, brotliDecompressSync, gunzipSync, gzipSync } from 'node:zlib';
import { afterAll, describe, expect, it } from 'vitest';
import { portOf } from './port';
import { startServer } from './serve';

const folder = mkdtempSync(join(tmpdir(), 'steady-'));
writeFileSync(join(folder, 'index.html'), '<!doctype html><title>page</title>');
writeFileSync(join(folder, 'main-ABCDEFGH.js'), '1');
const script = 'const answer = 42;\n'.repeat(200);
writeFileSync(join(folder, 'big-ABCDEFGH.js'), script);
writeFileSync(join(folder, 'big-ABCDEFGH.js.br'), brotliCompressSync(script));
writeFileSync(join(folder, 'big-ABCDEFGH.js.gz'), gzipSync(script));
const root = pathToFileURL(folder + '/');
const server = await startServer(0, root);
const port = (server.address() as AddressInfo).port;
const get = (path: string) => fetch(`http://localhost:${port}${path}`);

describe('the server', () => {
  afterAll(() => void server.close());
  it('serves the page at every place, under a strict policy', async () => {
    for (const path of ['/', '/trial/x', '/pair/a/stop/b']) {
      const r = await get(path);
      expect(r.status).toBe(200);
      expect(await r.text()).toContain('<title>page</title>');
      const policy = r.headers.get('content-security-policy')!;
      expect(policy).toContain("default-src 'self'");
      expect(policy).not.toContain('unsafe-eval');
      expect(/script-src[^;]*unsafe-inline/.test(policy)).toBe(false);
    }
  });
  it('lets hashed files be kept for good, and others be asked for again', async () => {
    expect((await get('/main-ABCDEFGH.js')).headers.get('cache-control')).toContain('immutable');
    expect((await get('/')).headers.get('cache-control')).toBe('no-cache');
  });
  it('answers a file that is not there, and nothing outside its folder', async () => {
    expect((await get('/nothing.js')).status).toBe(404);
    expect((await get('/..%2f..%2fetc%2fpasswd.txt')).status).toBeGreaterThanOrEqual(400);
  });
  it.each([
    ['br, gzip', 'br'],
    ['gzip, deflate', 'gzip'],
    ['identity', null],
  ])('serves what was compressed when it was built, where the browser takes %s', async (taken, encoding) => {
    // The plain client shows what goes over the line.
    const { headers, body } = await new Promise<{ headers: IncomingHttpHeaders; body: Buffer }>((resolve, reject) => {
      request({ port, path: '/big-ABCDEFGH.js', headers: { 'accept-encoding': taken } }, (response) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.on('end', () => resolve({ headers: response.headers, body: Buffer.concat(parts) }));
      })
        .on('error', reject)
        .end();
    });
    expect(headers['content-encoding'] ?? null).toBe(encoding);
    expect(headers['content-type']).toMatch(/^text\/javascript/);
    expect(headers['vary']).toContain('Accept-Encoding');
    expect(headers['cache-control']).toContain('immutable');
    const text = encoding === 'br' ? brotliDecompressSync(body) : encoding === 'gzip' ? gunzipSync(body) : body;
    expect(text.toString()).toBe(script);
    if (encoding) expect(body.length).toBeLessThan(0.2 * script.length);
  });
  it('gives no twin away as a page of its own, and answers a page’s path as before', async () => {
    expect((await get('/big-ABCDEFGH.js.br')).status).toBe(404);
    const small = await get('/main-ABCDEFGH.js');
    expect(small.headers.get('content-encoding')).toBeNull();
    expect(await small.text()).toBe('1');
  });
  it('says so when the port is taken', async () => {
    await expect(startServer(port, root)).rejects.toMatchObject({ code: 'EADDRINUSE' });
  });
});

describe('starting', () => {
  it('says what a port must be', () => {
    for (const wrong of ['abc', '0', '65536', '-1', '4310.5', '']) expect(portOf(wrong), wrong).toBeNaN();
    expect([portOf('1'), portOf('65535')]).toEqual([1, 65_535]);
    const { stderr, status } = spawnSync(process.execPath, ['--import', 'tsx', 'server/index.ts'], {
      env: { ...process.env, PORT: '65536' },
      encoding: 'utf8',
      timeout: 30_000,
    });
    expect(stderr).toContain('PORT is “65536”; give a whole number from 1 to 65535');
    expect(status).toBe(1);
  });
  it('says so where the pages are not built', async () => {
    const empty = pathToFileURL(mkdtempSync(join(tmpdir(), 'steady-')) + '/');
    await expect(startServer(0, empty)).rejects.toThrow('the pages are not built; run npm start');
  });
});
