// What the pages weigh, and how long a person waits for them in Chromium. Nothing here is asserted.
import { spawn } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { Browser, Page } from '@playwright/test';
import { chromiumPath } from './chromium.mjs';

const folder = 'dist/web';

/** Prints sizes of the bundle and the times of docs/bench.md. */
export async function benchPages(): Promise<void> {
  if (existsSync(folder)) {
    const files = readdirSync(folder).filter((f) => /\.(js|css)$/.test(f));
    const page = readFileSync(join(folder, 'index.html'), 'utf8');
    const size = (f: string) => ({
      raw: statSync(join(folder, f)).size,
      gzip: gzipSync(readFileSync(join(folder, f))).length,
    });
    const sum = (list: string[]) =>
      list.map(size).reduce((a, b) => ({ raw: a.raw + b.raw, gzip: a.gzip + b.gzip }), { raw: 0, gzip: 0 });
    const kb = (s: { raw: number; gzip: number }) =>
      `${(s.raw / 1e3).toFixed(0)} kB raw, ${(s.gzip / 1e3).toFixed(0)} kB gzip`;
    console.log(
      `bundle: first load ${kb(sum(firstLoad(files, page)))}; worker ${kb(sum(files.filter((f) => f.startsWith('worker'))))}; all ${kb(sum(files))}`,
    );
    await inBrowser();
  }
}

/** What the page names, and what that imports at once; the page itself names the first few only. */
function firstLoad(files: readonly string[], page: string): string[] {
  const found = new Set(files.filter((f) => page.includes(f)));
  for (const f of found)
    for (const [, name] of readFileSync(join(folder, f), 'utf8').matchAll(/(?:from|import)\s*"\.\/([\w-]+\.js)"/g))
      found.add(name!);
  return [...found];
}

/** The tasks of the page over 50 ms since they were last asked for, ms. */
const longTasks = (page: Page): Promise<number[]> =>
  page.evaluate(() => (window as unknown as { long: number[] }).long.splice(0));

/** From an empty browser once through the views: what each first visit costs the page in one piece. */
async function firstVisits(page: Page): Promise<void> {
  const rows: { visit: string; 'tasks over 50 ms': string }[] = [];
  const seen = async (visit: string) => {
    await page.waitForTimeout(900);
    rows.push({ visit, 'tasks over 50 ms': (await longTasks(page)).map((l) => l.toFixed(0)).join(', ') });
  };
  await page.goto('http://localhost:4393/start');
  await seen('start');
  await page.getByRole('button', { name: 'Use the demo pairs' }).click();
  await page.waitForURL(/pair/);
  await seen('demo taken');
  for (const name of ['Tune sheet', 'Files', 'Shelf', 'Values']) {
    await page.getByRole('link', { name, exact: true }).first().click();
    await seen(name);
  }
  for (const id of ['demo-osprey-temperature', 'demo-plover-temperature', 'demo-heron-temperature']) {
    await page.goto(`http://localhost:4393/trial/${id}?stage=plan`);
    await page.getByText('(estimate').waitFor();
    await seen(`${id}, loaded`);
    for (const stage of ['Print', 'Read', 'Settle']) {
      await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: stage }).click();
      await seen(`${id}, ${stage}`);
    }
  }
  console.table(rows);
}

/** From opening the empty browser to the first button that can be pressed, ms: as it is, and on a quarter of the machine. */
async function firstLoads(browser: Browser): Promise<void> {
  const loaded = async (rate: number): Promise<number> => {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    const session = await context.newCDPSession(page);
    await session.send('Emulation.setCPUThrottlingRate', { rate });
    const from = performance.now();
    await page.goto('http://localhost:4393/');
    await page.getByRole('button', { name: 'Use the demo pairs' }).waitFor();
    const ms = performance.now() - from;
    await context.close();
    return ms;
  };
  const all = async (rate: number) => {
    const seen: number[] = [];
    for (let k = 0; k < 5; k++) seen.push(await loaded(rate));
    return `${middle(seen)} ms`;
  };
  console.log(`first load: ${await all(1)}; with the processor throttled to a quarter ${await all(4)}`);
}

/** How long the progress of a long making stands still at most, and how soon it stops when it is told to, ms. */
async function stopping(page: Page): Promise<void> {
  await page.goto('http://localhost:4393/trial/demo-osprey-temperature?stage=plan');
  await page.getByText('(estimate').waitFor();
  for (const [label, value] of [
    ['in steps of', '2'],
    ['band height', '12'],
  ] as const) {
    await page.getByLabel(label, { exact: true }).fill(value);
    await page.keyboard.press('Tab');
  }
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  await page.getByRole('progressbar', { name: 'Making the file' }).waitFor();
  const { still, told } = await page.evaluate(async () => {
    const bar = () => document.querySelector('[aria-label="Making the file"]')?.getAttribute('aria-valuenow');
    const frame = () => new Promise(requestAnimationFrame);
    let [still, at, since] = [0, bar(), performance.now()];
    const end = performance.now() + 400;
    while (performance.now() < end && bar() !== undefined) {
      await frame();
      still = Math.max(still, performance.now() - since);
      if (bar() !== at) [at, since] = [bar(), performance.now()];
    }
    const button = Array.from(document.querySelectorAll('button')).find((b) => b.textContent?.trim() === 'Cancel');
    const from = performance.now();
    button?.click();
    while (button && !document.body.textContent!.includes('The making was cancelled.')) await frame();
    return { still, told: button ? performance.now() - from : undefined };
  });
  console.log(
    `a long making: its progress stood still for ${still.toFixed(0)} ms at most; ${told === undefined ? 'it was done before it could be cancelled' : `cancelled ${told.toFixed(0)} ms after the press`}`,
  );
}

const middle = (list: readonly number[]): string =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!.toFixed(0);

/** From the edit of a level to the redrawn sheet, and from a key to the painted score, in Chromium. */
async function inBrowser(): Promise<void> {
  const executablePath = chromiumPath();
  if (!executablePath) return;
  const { chromium } = await import('@playwright/test');
  const server = spawn(process.execPath, ['dist/server/index.js'], {
    env: { ...process.env, PORT: '4393' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((ready) => server.stdout.once('data', ready));
  const browser = await chromium.launch({
    executablePath,
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // The loader that runs this script names functions with a helper that a page does not have.
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.addInitScript(() => {
      const w = window as unknown as { long: number[] };
      w.long = [];
      new PerformanceObserver((l) => w.long.push(...l.getEntries().map((e) => e.duration))).observe({
        type: 'longtask',
        buffered: true,
      });
    });
    await firstVisits(page);
    await page.goto('http://localhost:4393/trial/demo-osprey-temperature?stage=plan');
    await page.getByText('(estimate)').waitFor();
    await longTasks(page);
    const edits: number[] = [];
    for (const v of ['265', '260', '255', '265', '260']) {
      edits.push(
        await page.evaluate(async (value) => {
          const input = document.querySelector<HTMLInputElement>('#from')!;
          input.focus();
          input.value = value;
          input.dispatchEvent(new Event('input'));
          const from = performance.now();
          input.blur();
          for (;;) {
            await new Promise(requestAnimationFrame);
            if (document.querySelector('[aria-label^="planned"] .cell')?.textContent?.trim() === value)
              return performance.now() - from;
          }
        }, v),
      );
      await page.waitForTimeout(1500);
    }
    await page.goto('http://localhost:4393/trial/demo-plover-temperature?stage=read');
    await page.getByText('(estimate)').waitFor();
    const keys: number[] = [];
    for (let i = 0; i < 4; i++) {
      keys.push(
        await page.evaluate(async () => {
          const dots = () => document.querySelectorAll('.dot').length;
          const n = dots();
          const from = performance.now();
          document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '3', bubbles: true }));
          while (dots() === n) await new Promise(requestAnimationFrame);
          return performance.now() - from;
        }),
      );
      await page.waitForTimeout(300);
    }
    const long = await longTasks(page);
    console.log(
      `edit of a level → redrawn sheet: median ${middle(edits)} ms (${edits.map((e) => e.toFixed(0)).join(', ')}); key → painted score: median ${middle(keys)} ms (${keys.map((e) => e.toFixed(0)).join(', ')})`,
    );
    if (long.length > 0) console.log(`tasks over 50 ms meanwhile: ${long.map((l) => l.toFixed(0)).join(', ')} ms`);
    await stopping(page);
    await firstLoads(browser);
  } finally {
    await browser.close();
    server.kill();
  }
}
