import { crc32, done, fault, fromBase64, fromUtf8, refuse, toBase64, utf8, type Result } from '#core/base';
import type { Trial } from './schema';

const MARK = '@trial';
const WIDTH = 70;
const MOST = 1 << 20;

/** The trial as comment lines (without semicolon) of at most 76 columns, without notes or prices, with a checksum. */
export function headerOf(trial: Trial): string[] {
  const { filament, others } = trial.context;
  const plain = (f: typeof filament) => ({ ...f, pricePerKg: 0, batch: '', brand: '' });
  const bare: Trial = {
    ...trial,
    context: { ...trial.context, filament: plain(filament), ...(others && { others: others.map(plain) }) },
  };
  const bytes = utf8(JSON.stringify(bare));
  const text = toBase64(bytes);
  const lines: string[] = [];
  for (let i = 0; i < text.length; i += WIDTH) lines.push(text.slice(i, i + WIDTH));
  return ['Steady Tune trial file', `${MARK} ${crc32(bytes).toString(16)} ${lines.length}`, ...lines];
}

/** The trial value carried by the first lines of a G-code file; not yet checked against the schema. */
export function trialInHeader(bytes: Uint8Array): Result<unknown> {
  const wrong = (what: string) =>
    refuse(fault('trial.header', 'file', what, 'open a file made by Steady Tune, unchanged in its first lines'));
  const text = fromUtf8(bytes.subarray(0, Math.min(bytes.length, MOST)));
  const lines = text.split(/\r?\n/);
  const at = lines.findIndex((line) => line.startsWith(`; ${MARK} `));
  if (at < 0 || at > 20) return wrong('it carries no trial');
  const [, , sum, count] = lines[at]!.split(' ');
  const body = lines.slice(at + 1, at + 1 + Number(count)).map((line) => line.replace(/^;\s*/, ''));
  const raw = fromBase64(body.join(''));
  if (!raw || crc32(raw).toString(16) !== sum) return wrong('the trial in its first lines is damaged');
  try {
    return done(JSON.parse(fromUtf8(raw)));
  } catch {
    return wrong('the trial in its first lines is damaged');
  }
}
