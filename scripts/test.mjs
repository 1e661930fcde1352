// Everything that must hold before a change lands. The last line counts the tests: `N passed, N failed`.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { bin, installPackages, needChromium, root } from './prepare.mjs';

installPackages();
const chromium = needChromium();
const results = join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

let passed = 0;
let failed = 0;
/** What failed, said once more at the end, where it is not lost among what passed. */
const failures = [];
/** What passed only when it was tried again. */
const unsteady = [];
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
  else {
    failed++;
    failures.push(`${name}\n${Buffer.concat(said).toString().slice(0, 2000)}`);
  }
}

/** Runs gates one after the other. */
async function lane(...gates) {
  for (const [name, command, args] of gates) await gate(name, bin(command), args);
}

/**
 * A test runner that leaves a JSON report, read to the tests passed and the failures in words. A run that is bad
 * without a failed test (an error outside the tests, no report) counts as one failure.
 */
function suite(name, command, args, report, read) {
  const good = step(name, command, args);
  const path = join(results, report);
  const { well, ill } = existsSync(path) ? read(JSON.parse(readFileSync(path, 'utf8'))) : { well: 0, ill: [] };
  if (!good && ill.length === 0) ill.push('the run itself: see what it printed');
  passed += well;
  failed += ill.length;
  failures.push(...ill.map((f) => `${name}: ${f}`));
}

/** A suite that could not be loaded has no test to count, but a message. */
function readVitest(r) {
  const ill = [];
  for (const file of r.testResults) {
    const place = relative(root, file.name);
    const bad = file.assertionResults.filter((t) => t.status === 'failed');
    ill.push(...bad.map((t) => `${place} › ${t.fullName}\n${t.failureMessages.join('\n').slice(0, 2000)}`));
    if (file.status === 'failed' && bad.length === 0) ill.push(`${place}\n${String(file.message).slice(0, 2000)}`);
  }
  return { well: r.numPassedTests, ill };
}

function readPlaywright(r) {
  const specs = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specs)];
  const all = r.suites.flatMap(specs);
  const words = (s) => {
    const said = s.tests.flatMap((t) => t.results).flatMap((x) => x.errors.map((e) => e.message ?? ''));
    return `${s.file}:${s.line} › ${s.title}\n${stripVTControlCharacters(said.join('\n')).slice(0, 2000)}`;
  };
  unsteady.push(...all.filter((s) => s.tests.some((t) => t.status === 'flaky')).map(words));
  return { well: r.stats.expected + r.stats.flaky, ill: all.filter((s) => !s.ok).map(words) };
}

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
  readVitest,
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
  readVitest,
);
await gate('build', process.execPath, ['scripts/build.mjs']);
suite('end to end', bin('playwright'), ['test'], 'e2e.json', readPlaywright);

for (const u of unsteady) console.log(`\nUNSTEADY, passed the second time: ${u}`);
for (const f of failures) console.log(`\nFAILED ${f}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
