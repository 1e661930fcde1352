// Everything that must hold before a change lands. The last line counts the tests: `N passed, N failed`.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { bin, installPackages, needChromium, root } from './prepare.mjs';

installPackages();
const chromium = needChromium();
const results = join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

let passed = 0;
let failed = 0;
const env = { ...process.env, CHROMIUM: chromium, NG_CLI_ANALYTICS: 'false', CI: process.env.CI ?? '' };

function step(name, command, args) {
  const from = Date.now();
  console.log(`\n— ${name}`);
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', env });
  console.log(`— ${name}: ${status === 0 ? 'good' : 'FAILED'} (${Math.round((Date.now() - from) / 1000)} s)`);
  return status === 0;
}

/** A check without a count of its own counts as one. It says its piece when it is done, so that two can run at once. */
async function gate(name, command, args) {
  const from = Date.now();
  const child = spawn(command, args, { cwd: root, env });
  const said = [];
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (d) => said.push(d));
  const status = await new Promise((resolve) => child.on('close', resolve).on('error', () => resolve(1)));
  console.log(`\n— ${name}: ${status === 0 ? 'good' : 'FAILED'} (${Math.round((Date.now() - from) / 1000)} s)`);
  process.stdout.write(Buffer.concat(said));
  if (status === 0) passed++;
  else failed++;
}

/** Runs gates one after the other. */
async function lane(...gates) {
  for (const [name, command, args] of gates) await gate(name, bin(command), args);
}

/** A test runner that leaves a JSON report; a run that leaves none counts as one failure. */
function suite(name, command, args, report, count) {
  const good = step(name, command, args);
  const path = join(results, report);
  const [p, f] = existsSync(path) ? count(JSON.parse(readFileSync(path, 'utf8'))) : [0, good ? 0 : 1];
  passed += p;
  failed += f;
  if (!good && f === 0) failed++;
}

const vitestCount = (r) => [r.numPassedTests, r.numFailedTests];

await Promise.all([
  lane(['format', 'prettier', ['--check', '--log-level', 'warn', '.']], ['lint', 'eslint', ['.']]),
  lane(
    ['types: core', 'tsc', ['-p', 'core/tsconfig.json']],
    ['types: node', 'tsc', ['-p', 'tsconfig.node.json']],
    ['types: workers', 'tsc', ['-p', 'web/tsconfig.worker.json']],
  ),
]);
suite(
  'unit tests',
  bin('vitest'),
  ['run', '--reporter=default', '--reporter=json', '--outputFile.json=test-results/unit.json'],
  'unit.json',
  vitestCount,
);
suite(
  'component tests',
  bin('ng'),
  [
    'test',
    '--no-watch',
    '--no-progress',
    '--reporters=default',
    '--reporters=json',
    '--output-file=test-results/web.json',
  ],
  'web.json',
  vitestCount,
);
await gate('build', process.execPath, ['scripts/build.mjs']);
suite('end to end', bin('playwright'), ['test'], 'e2e.json', (r) => [
  r.stats.expected + r.stats.flaky,
  r.stats.unexpected,
]);

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
