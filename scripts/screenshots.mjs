// Takes the current picture of each main view from the demo data into docs/screenshots (or the folder given).
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildServer, buildWeb, installPackages, needChromium, root } from './prepare.mjs';

installPackages();
const executablePath = needChromium();
if (!process.env.NO_BUILD) buildWeb();
buildServer();
const { chromium } = await import('@playwright/test');

const folder = resolve(process.argv[2] ?? join(root, 'docs/screenshots'));
const only = process.argv.slice(3);
mkdirSync(folder, { recursive: true });
const port = 4391;
const server = spawn(process.execPath, [join(root, 'dist/server/index.js')], {
  env: { ...process.env, PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((done) => server.stdout.once('data', done));

const browser = await chromium.launch({
  executablePath,
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});

const heron = 'heron-marsh-petg';
const made = (page) => page.getByText('(estimate)').waitFor({ state: 'attached', timeout: 60_000 });
const toolpath = async (page) => {
  await made(page);
  await page.getByRole('button', { name: 'Look at the toolpath' }).click();
  await page.getByText('Point at a move').waitFor();
};
const views = {
  'first-start': { empty: true, path: '/start' },
  route: { path: `/pair/${heron}` },
  stop: {
    path: `/pair/${heron}/stop/retraction`,
    ready: (page) => page.getByText('estimating').first().waitFor({ state: 'detached', timeout: 90_000 }),
  },
  plan: { path: '/trial/demo-osprey-temperature?stage=plan', ready: made },
  print: { path: '/trial/demo-osprey-temperature?stage=print', ready: made },
  toolpath: {
    path: '/trial/demo-heron-temperature?stage=print',
    ready: toolpath,
  },
  checks: { path: `/pair/${heron}/checks` },
  tiles: { path: '/trial/demo-heron-flow?stage=plan', ready: made },
  map: { path: '/trial/demo-heron-fence?stage=settle', ready: made },
  labels: { path: '/trial/demo-heron-flow/labels' },
  'toolpath-patterns': { path: '/trial/demo-check-cube?stage=print', ready: toolpath },
  read: { path: '/trial/demo-plover-temperature?stage=read', ready: made },
  settle: { path: '/trial/demo-heron-temperature?stage=settle', ready: made },
  'settle-night': { path: '/trial/demo-heron-temperature?stage=settle', ready: made, night: true },
  'tune-sheet': { path: `/pair/${heron}/tune` },
  shelf: { path: '/shelf' },
  printer: { path: '/shelf/printer/heron' },
  'read-phone': { path: '/trial/demo-plover-temperature?stage=read', ready: made, size: { width: 390, height: 844 } },
};

try {
  for (const [name, view] of Object.entries(views)) {
    if (only.length > 0 && !only.includes(name)) continue;
    const context = await browser.newContext({ viewport: view.size ?? { width: 1280, height: 800 } });
    const page = await context.newPage();
    page.on('console', (m) => m.type() === 'error' && console.error(`${name}: ${m.text()}`));
    page.on('pageerror', (e) => console.error(`${name}: ${e.message}`));
    await page.goto(`http://localhost:${port}/start`);
    if (!view.empty) {
      await page.getByRole('button', { name: 'Use the demo pairs' }).click();
      await page.waitForURL(/\/pair\//);
      if (view.night) await page.getByRole('button', { name: 'Night shift' }).click();
      await page.evaluate((path) => {
        history.pushState(null, '', path);
        dispatchEvent(new PopStateEvent('popstate'));
      }, view.path);
    }
    await view.ready?.(page);
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(900);
    const wide = await page.evaluate(() => document.documentElement.scrollWidth > innerWidth);
    if (wide) console.error(`${name}: scrolls sideways`);
    await page.screenshot({ path: join(folder, `${name}.png`) });
    console.log(name);
    await context.close();
  }
} finally {
  await browser.close();
  server.kill();
}
