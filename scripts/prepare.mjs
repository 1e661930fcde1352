// Runs before any package is installed, so it is plain JavaScript without dependencies.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { chromiumPath } from './chromium.mjs';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const cache = join(root, 'node_modules', '.cache', 'steady-tune');
const stamp = (name) => join(cache, name);

const hashOf = (paths) => {
  const hash = createHash('sha256');
  for (const path of paths) hash.update(path).update(readFileSync(join(root, path)));
  return hash.digest('hex');
};

const remembered = (name) => (existsSync(stamp(name)) ? readFileSync(stamp(name), 'utf8') : '');
const remember = (name, value) => {
  mkdirSync(cache, { recursive: true });
  writeFileSync(stamp(name), value);
};

function filesBelow(folder, found = []) {
  for (const entry of readdirSync(join(root, folder), { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) filesBelow(path, found);
    else if (!/\.(test|spec|bench|prove)\.ts$/.test(entry.name)) found.push(path);
  }
  return found.sort();
}

/** Runs a program with its output on ours; stops this process when it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (result.status !== 0) {
    if (options.soft) return false;
    process.exit(result.status ?? 1);
  }
  return true;
}

export const bin = (name) => join(root, 'node_modules', '.bin', name);

/** Installs packages when they are missing or the lock file has changed. */
export function installPackages() {
  const wanted = hashOf(['package.json', 'package-lock.json']);
  if (existsSync(join(root, 'node_modules')) && remembered('packages') === wanted) return;
  console.error('Installing packages …');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { stdio: ['ignore', 2, 2] });
  remember('packages', wanted);
}

/** Runs `build` when any file below the folders, or a named file, has changed since it last ran. */
export function whenStale(name, folders, files, outputs, build) {
  const sources = [...folders.flatMap((f) => filesBelow(f)), ...files];
  const wanted = hashOf(sources);
  if (remembered(name) === wanted && outputs.every((o) => existsSync(join(root, o)))) return false;
  build();
  remember(name, wanted);
  return true;
}

const bundle = (entry, out) =>
  run(
    bin('esbuild'),
    [
      entry,
      '--bundle',
      '--platform=node',
      '--target=node20',
      '--format=esm',
      '--packages=external',
      '--log-level=warning',
      `--outfile=${out}`,
    ],
    { stdio: ['ignore', 2, 2] },
  );

/** Builds the pages. */
export const buildWeb = () =>
  whenStale(
    'web',
    ['core', 'web'],
    ['angular.json', 'package-lock.json', 'scripts/demo-photos.ts'],
    ['dist/web/index.html'],
    () => {
      console.error('Building the pages …');
      run(bin('ng'), ['build', '--no-progress'], {
        env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
        stdio: ['ignore', 2, 2],
      });
      bundle('scripts/demo-photos.ts', 'dist/demo/photos.js');
      run(process.execPath, ['dist/demo/photos.js', 'dist/web/demo'], { stdio: ['ignore', 2, 2] });
      compress('dist/web');
    },
  );

/** Text of at least so many bytes is kept compressed, too. */
const WORTH = 1024;

/** Lays compressed twins beside the built texts: they are made once, and a browser loads a third of it. */
function compress(folder) {
  for (const entry of readdirSync(join(root, folder), { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !/\.(js|css|html|svg|json|gcode|txt)$/.test(entry.name)) continue;
    const path = join(entry.parentPath, entry.name);
    const bytes = readFileSync(path);
    if (bytes.length < WORTH) continue;
    writeFileSync(`${path}.br`, brotliCompressSync(bytes));
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
  }
}

/** Builds the server. */
export const buildServer = () =>
  whenStale('server', ['core', 'server'], ['package-lock.json'], ['dist/server/index.js'], () =>
    bundle('server/index.ts', 'dist/server/index.js'),
  );

/** Builds the command line. */
export const buildCli = () =>
  whenStale('cli', ['core', 'cli'], ['package-lock.json'], ['dist/cli/main.js'], () =>
    bundle('cli/main.ts', 'dist/cli/main.js'),
  );

/** Builds the benchmarks as the product is built: a loader that compiles on the way slows what it compiles. */
export const buildBench = () => bundle('scripts/bench.ts', 'dist/bench/bench.js');

/** Finds Chromium, installing Debian's package when that can be done. */
export function needChromium() {
  const found = chromiumPath();
  if (found) return found;
  const isRoot = typeof process.getuid === 'function' && process.getuid() === 0;
  if (isRoot && existsSync('/usr/bin/apt-get')) {
    console.error('Installing Chromium for the tests …');
    const quiet = { stdio: ['ignore', 'ignore', 2], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
    for (const args of [
      ['update', '-qq'],
      ['install', '-y', '-qq', '--no-install-recommends', 'chromium-headless-shell'],
      ['install', '-y', '-qq', '--no-install-recommends', 'chromium'],
    ]) {
      try {
        execFileSync('apt-get', args, quiet);
      } catch {
        // The other package may be there; what is missing is said below.
      }
      const path = chromiumPath();
      if (path) return path;
    }
  }
  console.error(
    'The end-to-end tests need Chromium. Install it (Debian: apt-get install chromium) or set CHROMIUM to its path.',
  );
  process.exit(1);
}
