/** Where a print is interrupted: position mm, speed mm/min, and how it counts filament. */
export interface Interrupted {
  x: number | undefined;
  y: number | undefined;
  z: number | undefined;
  speed: number | undefined;
  relative: boolean;
  /** What the extruder’s own count says, mm, where it does not count from line to line. */
  e: number;
}

/** Filament drawn back while the head is parked, mm, at mm/min; lifted by mm. */
const BACK = 1;
const BACK_SPEED = 1800;
const LIFT = 10;
const LIFT_SPEED = 600;
const WAY_SPEED = 6000;

const wordOf = (line: string, letter: string): number | undefined => {
  const found = new RegExp(`${letter}(-?(?:\\d+\\.?\\d*|\\.\\d+))`).exec(line)?.[1];
  return found === undefined ? undefined : Number(found);
};

/** Where the lines that were sent leave the head: the last of every word, looked for from the end. */
export function interruptedAt(lines: readonly string[]): Interrupted {
  const at: Interrupted = { x: undefined, y: undefined, z: undefined, speed: undefined, relative: false, e: 0 };
  let [mode, e] = [false, false];
  for (let i = lines.length - 1; i >= 0; i--) {
    const line = lines[i]!;
    const move = /^G0*[01]\b/.test(line);
    if (!mode && /^M8[23]\b/.test(line)) {
      at.relative = line.startsWith('M83');
      mode = true;
    }
    if (!e && (move || /^G92\b/.test(line))) {
      const word = wordOf(line, 'E');
      if (word !== undefined) {
        at.e = word;
        e = true;
      }
    }
    if (!move) continue;
    at.x ??= wordOf(line, 'X');
    at.y ??= wordOf(line, 'Y');
    at.z ??= wordOf(line, 'Z');
    at.speed ??= wordOf(line, 'F');
    if (mode && at.x !== undefined && at.y !== undefined && at.z !== undefined && at.speed !== undefined) break;
  }
  return at;
}

/**
 * Lines that park the head above the print and away from it, and lines that lead back and push forward what was drawn back.
 * Undefined where the head’s place is not known: then it stays where it is.
 *
 * @param most the highest that the head gets, mm; @param to where it parks, mm
 */
export function parking(
  at: Interrupted,
  most: number,
  to: { x: number; y: number },
): { away: string[]; back: string[] } | undefined {
  const { x, y, z } = at;
  if (x === undefined || y === undefined || z === undefined) return undefined;
  const e = (by: number) => (at.relative ? by : at.e + by).toFixed(5);
  const up = Math.min(most, z + LIFT);
  return {
    away: [
      `G1 E${e(-BACK)} F${BACK_SPEED}`,
      `G1 Z${up.toFixed(3)} F${LIFT_SPEED}`,
      `G1 X${to.x.toFixed(2)} Y${to.y.toFixed(2)} F${WAY_SPEED}`,
    ],
    back: [
      `G1 X${x} Y${y} F${WAY_SPEED}`,
      `G1 Z${z} F${LIFT_SPEED}`,
      `G1 E${at.relative ? BACK.toFixed(5) : at.e.toFixed(5)} F${BACK_SPEED}`,
      ...(at.speed === undefined ? [] : [`G1 F${at.speed}`]),
    ],
  };
}
