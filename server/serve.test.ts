import { mkdtempSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer } from './serve';

const folder = mkdtempSync(join(tmpdir(), 'steady-'));
writeFileSync(join(folder, 'index.html'), '<!doctype html><title>page</title>');
writeFileSync(join(folder, 'main-ABCDEFGH.js'), '1');
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
  it('says so when the port is taken', async () => {
    await expect(startServer(port, root)).rejects.toMatchObject({ code: 'EADDRINUSE' });
  });
});
