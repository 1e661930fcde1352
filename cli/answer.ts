import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { sentence, type Fault, type Job, type Result } from '#core/base';

/** Refused input: each fault is a sentence on standard error, exit 2. */
export class Refused extends Error {
  constructor(readonly faults: Fault[]) {
    super(faults.map(sentence).join('\n'));
  }
}

/** The value of a result, or a refusal. */
export function need<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new Refused(result.faults);
}

/** One fault as a refusal. */
export const refusal = (code: string, at: string, wrong: string, right: string) =>
  new Refused([{ code, at, wrong, right }]);

/** Runs a job; progress goes to standard error when it is a terminal. */
export function run<T>(job: Job<T>): T {
  for (;;) {
    const step = job.next();
    if (step.done) {
      if (process.stderr.isTTY) process.stderr.write('\r\x1b[K');
      return need(step.value);
    }
    const { stage, done, of } = step.value;
    if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${stage} ${Math.round((100 * done) / Math.max(1, of))} %`);
  }
}

/** Bytes of a file that a person named. */
export function readBytes(path: string, most = 500e6): Uint8Array {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(path);
  } catch {
    throw refusal('cli.file', path, 'the file cannot be read', 'name a file that exists');
  }
  if (bytes.length > most)
    throw refusal('cli.size', path, `the file is larger than ${Math.round(most / 1e6)} MB`, 'name a smaller file');
  return bytes;
}

/** A JSON value from a file. */
export function readJson(path: string): unknown {
  return parseJson(new TextDecoder().decode(readBytes(path, 50e6)), path);
}

/** A JSON value from text. */
export function parseJson(text: string, at: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw refusal('cli.json', at, 'this is not JSON', 'see docs/file-formats.md');
  }
}

/** Writes a file whole or not at all. */
export function writeWhole(path: string, content: Uint8Array | string): void {
  const draft = `${path}.${process.pid}.part`;
  try {
    writeFileSync(draft, content);
    renameSync(draft, path);
  } catch {
    rmSync(draft, { force: true });
    throw refusal('cli.write', path, 'the file cannot be written', 'name a folder that exists');
  }
}

/** Makes a folder where it is not there. */
export function makeFolder(path: string): void {
  try {
    mkdirSync(path, { recursive: true });
  } catch {
    throw refusal('cli.folder', path, 'the folder cannot be made', 'name a place that can be written to');
  }
}
