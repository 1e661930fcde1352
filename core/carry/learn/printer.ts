import { freshPrinter, type Context } from '#core/context';
import type { Firmware } from '#core/firmware';
import { linesIn, textOf, Walker } from '../walk';
import type { LaidLines } from './laid-lines';

/** What stands before the first line that prints and after the last; how E is counted. */
export function codesOf(bytes: Uint8Array, firmware: Firmware): { start: string; end: string; absolute: boolean } {
  const walker = new Walker(firmware);
  let absolute = false;
  const start: string[] = [];
  let end: string[] = [];
  let printed = false;
  for (const { from, to } of linesIn(bytes)) {
    const text = textOf(bytes, from, to).replace(/;.*$/, '').trim();
    const step = walker.step(text);
    if (step.kind === 'print') {
      if (!printed) absolute = walker.absoluteE;
      printed = true;
      end = [];
    } else if (text && !/[^\x20-\x7e]/.test(text)) {
      // Moves of the part itself belong to neither.
      if (!printed && !/^G[0123]\b/.test(step.code) && step.code !== 'M82' && step.code !== 'M83') start.push(text);
      else if (printed && !/^G[0123]\b/.test(step.code) && step.code !== 'G92') end.push(text);
    }
  }
  return { start: start.slice(0, 60).join('\n'), end: end.slice(-60).join('\n'), absolute };
}

/** A printer that a file could be for: the one that is known, or a fresh one grown to what is printed. */
export function printerFrom(
  look: LaidLines,
  firmware: Firmware,
  codes: ReturnType<typeof codesOf>,
  like: Context['printer'] | undefined,
): Context['printer'] {
  const base = like ?? freshPrinter('learnt', 'Learnt printer');
  const [x0, y0, x1, y1, z] = look.bounds as [number, number, number, number, number];
  const bed = base.bed;
  // Around the centre, as beds that are round mostly count.
  const grown =
    like || bed.shape === 'round' || x0 < 0 || y0 < 0
      ? bed
      : {
          ...bed,
          width: Math.max(bed.width, Math.ceil(x1 / 10) * 10),
          depth: Math.max(bed.depth, Math.ceil(y1 / 10) * 10),
        };
  return {
    ...base,
    bed: grown,
    height: Math.max(base.height, Math.ceil(z / 10) * 10),
    firmware,
    extrusion: codes.absolute ? 'absolute' : 'relative',
    tools: Math.max(base.tools, Math.min(8, look.tools)),
    ...(codes.start.includes('G28') && !like && { startCode: codes.start }),
    ...(/S0\b/.test(codes.end) && !like && { endCode: codes.end }),
  };
}
