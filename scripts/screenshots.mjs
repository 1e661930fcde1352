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
const server = spawn(process.execPath, [join(root, 'dist/server/index.js'), '--lan'], {
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
    '--use-gl=angle',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
  ],
});

const heron = 'heron-marsh-petg';
const made = (page) => page.getByText(/\(estimate/).waitFor({ state: 'attached', timeout: 60_000 });
/** The sample files taken in. */
const samples = async (page) => {
  await page.getByRole('button', { name: 'Take the sample files' }).click();
  await page.getByText('two-colour-knob').waitFor();
};
/** A print on the practice printer, stopped on its way at this share, or whole and read. */
const practised = (share) => async (page) => {
  await made(page);
  await page.getByRole('button', { name: 'Print on the practice printer' }).click();
  if (share < 1) {
    await page.waitForFunction(
      (share) => (document.querySelector('st-run-panel progress')?.value ?? 0) >= 100 * share,
      share,
      { timeout: 60_000 },
    );
    await page.getByRole('button', { name: 'As slow as a printer' }).click();
    return;
  }
  await page.getByRole('heading', { name: /^Printed on .*practice printer/ }).waitFor({ timeout: 120_000 });
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Read' }).click();
  await page.getByRole('button', { name: /^Photos \(/ }).click();
  await page.locator('.p-drawer .stage img').evaluate((img) => img.decode());
};
/** A settled value with what was hidden behind it. */
const hidden = async (page) => {
  await made(page);
  await page.getByRole('button', { name: 'Show what was hidden' }).click();
  await page.getByText(/Printed beside the best|you are within it/).waitFor({ timeout: 60_000 });
  await page.getByText(/good is|wants at least/).waitFor();
};
const views = {
  'first-start': { empty: true, path: '/start' },
  route: { path: `/pair/${heron}` },
  plan: { path: '/trial/demo-osprey-temperature?stage=plan', ready: made },
  print: { path: '/trial/demo-osprey-temperature?stage=print', ready: practised(0.4) },
  tiles: { path: '/trial/demo-heron-flow?stage=plan', ready: made },
  map: { path: '/trial/demo-heron-fence?stage=settle', ready: made },
  read: { path: '/trial/demo-plover-temperature?stage=read', ready: made },
  settle: { path: '/trial/demo-heron-temperature?stage=settle', ready: hidden },
  'tune-sheet': { path: `/pair/${heron}/tune` },
  values: { path: `/pair/${heron}/values` },
  shelf: { path: '/shelf' },
  pairs: {
    path: '/trial/demo-heron-temperature?stage=read',
    ready: async (page) => {
      await made(page);
      await page.getByRole('button', { name: 'Which is better?' }).click();
      for (const key of ['ArrowRight', 'ArrowLeft', 'ArrowRight']) await page.keyboard.press(key);
    },
  },
  photo: { path: '/trial/demo-heron-fence?stage=print', ready: practised(1) },
  wrong: {
    path: `/pair/${heron}/wrong`,
    ready: async (page) => {
      await page.getByRole('button', { name: 'strings and hairs' }).click();
      await page.getByText('estimating').first().waitFor({ state: 'detached', timeout: 90_000 });
    },
  },
  file: {
    path: '/files',
    ready: async (page) => {
      await samples(page);
      await page.getByRole('link', { name: 'bracket-30.gcode' }).click();
      await page.getByText('50 layers').waitFor();
    },
  },
  part: {
    path: '/files',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Take the sample parts' }).click();
      await page.getByRole('link', { name: 'dew-shield-clip.stl' }).click();
      await page.getByText(/One print: \d/).waitFor({ timeout: 60_000 });
      await page.getByRole('button', { name: 'from beneath' }).click();
      await page.getByRole('button', { name: 'by hand' }).click();
      await page.waitForTimeout(600);
    },
  },
  carry: {
    path: '/files',
    ready: async (page) => {
      await samples(page);
      await page.getByRole('link', { name: 'three-clips.gcode' }).click();
      await page.getByRole('combobox', { name: 'What to vary in the file' }).click();
      await page.getByRole('option', { name: 'flow', exact: true }).click();
      await page.getByRole('button', { name: 'Plan the sweep' }).click();
      await made(page);
    },
  },
  compare: {
    path: '/files',
    ready: async (page) => {
      await samples(page);
      for (const k of [10, 20, 30, 40]) await page.getByRole('checkbox', { name: `Compare bracket-${k}` }).check();
      await page.getByRole('link', { name: 'Compare 4 files' }).click();
      await page.getByText('are still read for it').waitFor({ state: 'detached', timeout: 60_000 });
      await page.getByRole('button', { name: 'Lay them over one another' }).click();
      await page.getByText(/^layer \d+ of 50/).waitFor({ timeout: 30_000 });
      await page.getByRole('combobox', { name: 'What was varied' }).click();
      await page.getByRole('option', { name: 'infill density' }).click();
      // The rows and what is laid over one another do not both fit: the lower half shows more, and no half of a heading.
      await page.locator('st-layer-overlay canvas').evaluate((c) => c.scrollIntoView({ block: 'end' }));
      await page.mouse.move(1100, 150);
      await page.mouse.wheel(0, 22);
      await page.waitForTimeout(1500);
    },
  },
  phone: {
    path: '/trial/demo-plover-temperature?stage=read',
    ready: made,
    // A second page of this machine needs no code; it gets the sheet that is open on the first.
    then: async (page) => {
      const phone = await page.context().newPage();
      await phone.setViewportSize({ width: 390, height: 780 });
      await phone.goto(`http://localhost:${port}/phone`);
      await phone.getByRole('group', { name: 'Cells' }).waitFor();
      return phone;
    },
  },
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
    const shown = (await view.then?.(page)) ?? page;
    await shown.waitForTimeout(200);
    await shown.screenshot({ path: join(folder, `${name}.png`) });
    console.log(name);
    await context.close();
  }
} finally {
  await browser.close();
  server.kill();
}
