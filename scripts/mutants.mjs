// Breaks one bound of the safety rules at a time, and asks whether a test notices. A bound is a figure or a comparison.
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ts from 'typescript';
import { bin, root } from './prepare.mjs';

const targets = [
  ...readdirSync(join(root, 'core/check/rules')).map((f) => `core/check/rules/${f}`),
  'core/check/standing.ts',
].filter((f) => f.endsWith('.ts') && !f.endsWith('index.ts') && !f.endsWith('rule.ts'));
const tests = ['one-command', 'bounds', 'rules', 'attacks', 'check'].map((t) => `core/check/${t}.test.ts`);

const opposite = {
  [ts.SyntaxKind.LessThanToken]: '>=',
  [ts.SyntaxKind.LessThanEqualsToken]: '>',
  [ts.SyntaxKind.GreaterThanToken]: '<=',
  [ts.SyntaxKind.GreaterThanEqualsToken]: '<',
};

/** Half of a count, or of what is left out, is none: such a mutant does what the line did. */
function isCount(node) {
  const { parent } = node;
  if (node.text !== '0' || !ts.isBinaryExpression(parent)) return false;
  if (parent.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken) return true;
  const other = parent.left === node ? parent.right : parent.left;
  return (
    ts.isPropertyAccessExpression(other) &&
    ['size', 'length'].includes(other.name.text) &&
    !/step|way/.test(other.getText())
  );
}

/** Every mutant of a file: where, and what stands there instead. */
function mutantsOf(file) {
  const text = readFileSync(join(root, file), 'utf8');
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const found = [];
  const put = (node, by) => {
    const { line } = source.getLineAndCharacterOfPosition(node.getStart());
    found.push({ file, line: line + 1, from: node.getStart(), to: node.end, was: node.getText(), by });
  };
  const visit = (node) => {
    if (ts.isBinaryExpression(node) && opposite[node.operatorToken.kind])
      put(node.operatorToken, opposite[node.operatorToken.kind]);
    if (
      ts.isNumericLiteral(node) &&
      !isCount(node) &&
      !ts.isElementAccessExpression(node.parent) &&
      !ts.isCallExpression(node.parent)
    ) {
      const value = Number(node.text);
      // 0 is mostly “none”: a little more is another bound.
      for (const by of value === 0 ? [0.5] : [value * 1.5, value / 1.5]) put(node, String(by));
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

/** @returns the mutants that no test noticed */
export function mutants(most = Infinity, seed = 16) {
  let s = seed;
  const random = () => (s = (s * 48_271) % 2_147_483_647) / 2_147_483_647;
  const all = targets.flatMap(mutantsOf);
  const some = all
    .map((m) => ({ m, at: random() }))
    .sort((a, b) => a.at - b.at)
    .slice(0, most)
    .map(({ m }) => m);
  const place = mkdtempSync(join(tmpdir(), 'steady-mutants-'));
  try {
    for (const name of ['core', 'package.json', 'vitest.config.ts', 'tsconfig.node.json', 'web/public/samples'])
      cpSync(join(root, name), join(place, name), { recursive: true });
    symlinkSync(join(root, 'node_modules'), join(place, 'node_modules'));
    const fails = () =>
      spawnSync(bin('vitest'), ['run', '--bail', '1', ...tests], { cwd: place, stdio: 'ignore' }).status !== 0;
    if (fails()) throw new Error('the tests fail before anything is broken');
    return some.filter((m, k) => {
      const path = join(place, m.file);
      const text = readFileSync(path, 'utf8');
      writeFileSync(path, text.slice(0, m.from) + m.by + text.slice(m.to));
      const killed = fails();
      writeFileSync(path, text);
      console.log(`${k + 1}/${some.length} ${killed ? 'killed  ' : 'SURVIVED'} ${m.file}:${m.line} ${m.was} → ${m.by}`);
      return !killed;
    });
  } finally {
    rmSync(place, { recursive: true, force: true });
  }
}

if (process.argv[1]?.endsWith('mutants.mjs')) {
  const left = mutants(Number(process.argv[2] ?? Infinity));
  console.log(`${left.length} survived`);
  process.exit(left.length > 0 ? 1 : 0);
}
