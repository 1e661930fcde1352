/** What a machine says, as far as it matters to who sends: temperatures °C, positions mm. */
export type WireSays =
  | { kind: 'ok' }
  | { kind: 'resend'; number: number }
  | { kind: 'busy' }
  | { kind: 'wait' }
  | { kind: 'start' }
  | { kind: 'halted'; why: string }
  | { kind: 'temperature'; nozzle: number; target: number; bed?: number; bedTarget?: number; acknowledges: boolean }
  | { kind: 'position'; x: number; y: number; z: number }
  | { kind: 'other'; text: string };

const nozzle = /\bT0?:\s*(-?\d+(?:\.\d+)?)\s*\/\s*(-?\d+(?:\.\d+)?)/;
const bed = /\bB:\s*(-?\d+(?:\.\d+)?)\s*\/\s*(-?\d+(?:\.\d+)?)/;
const position = /^X:\s*(-?\d+(?:\.\d+)?)\s+Y:\s*(-?\d+(?:\.\d+)?)\s+Z:\s*(-?\d+(?:\.\d+)?)/;

/** Reads one line that a machine said. What nobody knows is `other`; nothing throws. */
export function heardIn(line: string): WireSays {
  const text = line.trim();
  const heat = nozzle.exec(text);
  if (heat) {
    const plate = bed.exec(text);
    return {
      kind: 'temperature',
      nozzle: Number(heat[1]),
      target: Number(heat[2]),
      ...(plate && { bed: Number(plate[1]), bedTarget: Number(plate[2]) }),
      acknowledges: /^ok\b/i.test(text),
    };
  }
  if (/^ok\b/i.test(text)) return { kind: 'ok' };
  const again = /^(?:resend|rs)\s*:?\s*N?(\d{1,10})\b/i.exec(text);
  if (again) return { kind: 'resend', number: Number(again[1]) };
  if (/busy/i.test(text) && /^(?:echo:)?\s*busy/i.test(text)) return { kind: 'busy' };
  if (/^wait\b/i.test(text)) return { kind: 'wait' };
  if (/^start\b/i.test(text)) return { kind: 'start' };
  if (/^!!/.test(text) || /^error:.*(?:halted|kill|stopped)/i.test(text))
    return { kind: 'halted', why: text.replace(/^(?:!!|error:)\s*/i, '').slice(0, 200) };
  const at = position.exec(text);
  if (at) return { kind: 'position', x: Number(at[1]), y: Number(at[2]), z: Number(at[3]) };
  return { kind: 'other', text: text.slice(0, 300) };
}
