import { crc32, done, fault, fromBase64, fromUtf8, refuse, toBase64, utf8, type Result } from '#core/base';
import type { Trial } from './schema';

const MARK = '@trial';
const WIDTH = 70;
const MOST = 1 << 20;

/** The trial as comment lines (without semicolon) of at most 76 columns, without notes or prices, with a checksum. */
export function carriedLines(trial: Trial): string[] {
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
  return [`${MARK} ${crc32(bytes).toString(16)} ${lines.length}`, ...lines];
}

/** The trial value that a G-code file of ours carries in its last lines (older ones: in the first); not yet checked. */
export function carriedTrial(bytes: Uint8Array): Result<unknown> {
  const wrong = (what: string) =>
    refuse(fault('trial.carried', 'file', what, 'open a file made by Steady Tune, whole and unchanged'));
  const ends = [bytes.subarray(-MOST), bytes.subarray(0, MOST)];
  for (const end of ends) {
    const lines = fromUtf8(end).split(/\r?\n/);
    const at = lines.findIndex((line) => line.startsWith(`; ${MARK} `));
    if (at < 0) continue;
    const [, , sum, count] = lines[at]!.split(' ');
    const body = lines.slice(at + 1, at + 1 + Number(count)).map((line) => line.replace(/^;\s*/, ''));
    const raw = fromBase64(body.join(''));
    if (!raw || crc32(raw).toString(16) !== sum) return wrong('the trial in it is damaged');
    try {
      return done(JSON.parse(fromUtf8(raw)));
    } catch {
      return wrong('the trial in it is damaged');
    }
  }
  return wrong('it carries no trial');
}
