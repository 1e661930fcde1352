import { chromium } from '@playwright/test';
import { spawn } from 'node:child_process';
import { pathToFileURL } from 'node:url';
const s = spawn(process.execPath, ['dist/server/index.js'], {
  env: { ...process.env, PORT: '4399' },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((r) => s.stdout.once('data', r));
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const page = await b.newPage({ viewport: { width: 1280, height: 800 } });
page.on('pageerror', (e) => console.log('PAGE ERROR', e.message));
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()));
try {
  await page.goto('http://localhost:4399/start');
  await page.getByRole('button', { name: 'Use the demo pairs' }).click();
  await page.waitForURL(/pair/);
  const mod = await import(pathToFileURL(process.argv[2]).href);
  await mod.default(page, 'http://localhost:4399', b);
} catch (e) {
  console.log(String(e).slice(0, 900));
  await page.screenshot({ path: '/tmp/shots/failed.png' });
} finally {
  await b.close();
  s.kill();
}
