// Ratios against a floor measured in the same run, since machines are noisy. Nothing here is asserted.
import { benchChoosing } from './bench-choosing';
import { benchEngine } from './bench-engine';
import { spawn } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { finish, must } from '#core/base';
import { check } from '#core/check';
import { demoPairs } from '#core/demo';
import { dialects, GcodeWriter, readGcode } from '#core/gcode';
import { inspect } from '#core/inspect';
import { make } from '#core/make';
import { limitsOf, Timer } from '#core/motion';
import type { Chunk } from '#core/moves';
import { freshTrial, planned } from '#core/trial';
import { toolpath } from '#core/toolpath';

const rows: { kernel: string; time: string; floor: string; ratio: string; target: string }[] = [];

/** Median time of several runs, ms, after warming up. */
function time(work: () => void, runs = 9): number {
  for (let i = 0; i < 3; i++) work();
  const times = Array.from({ length: runs }, () => {
    const from = performance.now();
    work();
    return performance.now() - from;
  }).sort((a, b) => a - b);
  return times[Math.floor(runs / 2)]!;
}

function row(kernel: string, ms: number, floor: number, target: string): void {
  rows.push({
    kernel,
    time: `${ms.toFixed(1)} ms`,
    floor: `${floor.toFixed(2)} ms`,
    ratio: `${(ms / floor).toFixed(1)}×`,
    target,
  });
}

const pair = demoPairs[0]!;
const trial = freshTrial('temperature-tower', 'nozzle-temperature', pair.context, pair.baseline);
const plan = must(planned(trial));
const chunks: Chunk[] = [];
must(finish(toolpath(plan, (c) => chunks.push(c))));
const writerOptions = { dialect: dialects.marlin, extrusion: 'relative' as const };
const write = () => {
  const writer = new GcodeWriter(writerOptions);
  for (const c of chunks) writer.write(c);
  return writer.finish();
};
const bytes = write();
const moves = chunks.reduce((n, c) => n + c.moves.n, 0);
console.log(`eight-band tower: ${moves} moves, ${(bytes.length / 1e6).toFixed(2)} MB`);

const many = 24;
const big = new Uint8Array(bytes.length * many);
for (let i = 0; i < many; i++) big.set(bytes, i * bytes.length);

const newlines = time(() => {
  let n = 0;
  for (let i = 0; i < big.length; i++) if (big[i] === 10) n++;
  if (n === 0) throw new Error();
});
const reading = time(() => readGcode(big, () => undefined), 5);
row(
  `read G-code (${(big.length / 1e6 / (reading / 1000)).toFixed(0)} MB/s) / count newlines`,
  reading,
  newlines,
  '≤ 3.0×',
);

const copying = time(() => {
  const out = new Uint8Array(bytes.length);
  for (let i = 0; i < bytes.length; i++) out[i] = bytes[i]!;
});
const writing = time(write);
row('write G-code / copy the bytes', writing, copying, '≤ 3.5×');

const timer = new Timer(limitsOf(pair.context.printer));
const readBack: Chunk[] = [];
readGcode(bytes, (c) => readBack.push(c));
const roots = time(() => {
  let sum = 0;
  for (let i = 0; i < moves; i++) sum += Math.sqrt(i + 0.5);
  if (sum === 0) throw new Error();
}, 31);
row(
  'time planner / a square root a segment',
  time(() => {
    for (const c of readBack) timer.run(c);
  }, 31),
  roots,
  '≤ 15×',
);
row(
  'tower, trial → bytes / format the same moves',
  time(() => {
    const writer = new GcodeWriter(writerOptions);
    finish(toolpath(plan, (c) => writer.write(c)));
    writer.finish();
  }, 5),
  writing,
  '≤ 6×',
);
row(
  'safety check / format',
  time(() => void finish(check(bytes, { ...pair.context, lifted: [] })), 5),
  writing,
  '',
);
row(
  'read back with planner and heater / format',
  time(() => void finish(inspect(bytes, pair.context, plan)), 5),
  writing,
  '',
);
row(
  'make, whole: file checked and read back / format',
  time(() => void finish(make(trial)), 5),
  writing,
  '',
);

const before = process.memoryUsage().arrayBuffers + process.memoryUsage().heapUsed;
let most = before;
readGcode(big, () => (most = Math.max(most, process.memoryUsage().arrayBuffers + process.memoryUsage().heapUsed)));
rows.push({
  kernel: 'memory of reading, beyond the file',
  time: `${((most - before) / 1e6).toFixed(1)} MB`,
  floor: `${(big.length / 1e6).toFixed(1)} MB`,
  ratio: `${((most - before) / big.length).toFixed(2)}×`,
  target: '≤ 1.0×',
});
console.table(rows);
benchEngine();
benchChoosing();

const folder = 'dist/web';
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
    `bundle: first load ${kb(sum(files.filter((f) => page.includes(f))))}; worker ${kb(sum(files.filter((f) => f.startsWith('worker'))))}; all ${kb(sum(files))}`,
  );
  await inBrowser();
}

/** From the edit of a level to the redrawn sheet, and from a key to the painted score, in Chromium. */
async function inBrowser(): Promise<void> {
  const executablePath = process.env['CHROMIUM'] ?? '/usr/bin/chromium';
  if (!existsSync(executablePath)) return;
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
    await page.goto('http://localhost:4393/start');
    await page.getByRole('button', { name: 'Use the demo pairs' }).click();
    await page.waitForURL(/pair/);
    await page.goto('http://localhost:4393/trial/demo-osprey-temperature?stage=plan');
    await page.getByText('(estimate)').waitFor();
    await page.evaluate(() => {
      const w = window as unknown as { long: number[] };
      w.long = [];
      new PerformanceObserver((l) => w.long.push(...l.getEntries().map((e) => e.duration))).observe({
        entryTypes: ['longtask'],
      });
    });
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
    const median = (list: number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!.toFixed(0);
    const long = await page.evaluate(() => (window as unknown as { long?: number[] }).long ?? []);
    console.log(
      `edit of a level → redrawn sheet: median ${median(edits)} ms (${edits.map((e) => e.toFixed(0)).join(', ')}); key → painted score: median ${median(keys)} ms (${keys.map((e) => e.toFixed(0)).join(', ')})`,
    );
    if (long.length > 0) console.log(`long tasks of the main thread: ${long.map((l) => l.toFixed(0)).join(', ')} ms`);
  } finally {
    await browser.close();
    server.kill();
  }
}
