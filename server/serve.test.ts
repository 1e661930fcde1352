import { spawnSync } from 'node:child_process';
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

describe('starting', () => {
  const run = (env: Record<string, string>) =>
    spawnSync(process.execPath, ['--import', 'tsx', 'server/index.ts'], {
      env: { ...process.env, ...env },
      encoding: 'utf8',
      timeout: 30_000,
    });
  it('says what a port must be', () => {
    for (const PORT of ['abc', '0', '65536', '-1', '4310.5', '']) {
      const { stderr, status } = run({ PORT });
      expect(stderr, PORT).toContain(`PORT is “${PORT}”; give a whole number from 1 to 65535`);
      expect(status).toBe(1);
    }
  });
  it('says so where the pages are not built', async () => {
    const empty = pathToFileURL(mkdtempSync(join(tmpdir(), 'steady-')) + '/');
    await expect(startServer(0, empty)).rejects.toThrow('the pages are not built; run npm start');
  });
});
