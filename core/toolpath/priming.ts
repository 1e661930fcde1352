import type { Context } from '#core/context';
import type { Box } from '#core/geometry';
import { GcodeReader, readingFor } from '#core/gcode';
import { roleNumber } from '#core/moves';
import { lineArea, type Settings } from '#core/settings';
import type { Path } from './path';

/** Less than this pushed on the bed primes nothing, mm of filament. */
const LEAST_PRIMED = 2;

/** Whether a file is to prime the nozzle: as it is set, and unless the start code pushes filament by itself. */
export function isToPrime(s: Settings, start: readonly string[], context: Context): boolean {
  if (s.priming !== 'unless the start code primes') return s.priming === 'always';
  let pushed = 0;
  const reader = new GcodeReader(({ moves }) => {
    for (let i = 0; i < moves.n; i++) pushed += moves.e[i]!;
  }, readingFor(context));
  reader.push(Uint8Array.from(start.join('\n') + '\n', (c) => c.charCodeAt(0) & 0x7f));
  reader.end();
  return pushed < LEAST_PRIMED;
}

/**
 * The priming line: along a strip, and half the way back beside it.
 *
 * @param s the trial's settings without any level
 * @param pair how the pair draws back, and so how the last file did
 */
export function primingPath(strip: Box, s: Settings, pair: Settings): Path {
  const [w, lying] = [s.lineWidth, strip.x1 - strip.x0 > strip.y1 - strip.y0];
  const near = lying ? strip.y0 + w / 2 : strip.x0 + w / 2;
  const [from, to] = lying ? [strip.x0, strip.x1] : [strip.y0, strip.y1];
  const at = (along: number, across: number) => (lying ? { x: along, y: across } : { x: across, y: along });
  const points = [at(from, near), at(to, near), at(to, near + w), at((from + to) / 2, near + w)];
  return {
    points,
    roles: points.slice(1).map(() => roleNumber.prime),
    area: lineArea(w, s.firstLayerHeight, s.lineVolume),
    width: w,
    height: s.firstLayerHeight,
    cell: -1,
    // It is left without drawing back: the first line of the part takes what hangs, and the filament passes the gear once.
    settings: { ...s, retractionDistance: 0, retractionSpeed: pair.retractionSpeed, unretractExtra: 0 },
    fixed: true,
  };
}
