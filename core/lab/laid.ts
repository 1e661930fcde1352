/** A line with more than this share of its width in the air overhangs. */
export const OPEN = 0.12;

const figures = [
  'x0',
  'y0',
  'x1',
  'y1',
  'z',
  'height',
  'layer',
  'width',
  'area',
  'asked',
  'melt',
  'beneath',
  'held',
  'gap',
  'sag',
  'curl',
  'weld',
  'soft',
  'gloss',
  'rough',
  'bleed',
  'echo',
  'time',
  'after',
] as const;

type Figure = (typeof figures)[number];

/**
 * Pieces of line as they lie, in the order in which they were laid, as a structure of arrays. Ends `x0 y0 x1 y1` in the
 * coordinates of the file, the height of the nozzle `z`, thickness `height` and what the `layer` was to have, `width`, mm; the section that came out `area` and the one that the file asked for
 * `asked`, mm²; temperature of the melt and of what it was laid on, °C; `held` the share of its width that lies on
 * something, `gap` what it sank to reach it, `sag` and `curl`, mm; `weld` to what lies beneath, `soft` how soft that still
 * was, `gloss`, `rough` and `bleed` of the colour before, 0–1; `echo` the amplitude of its wave, mm; `time`, s, and the
 * distance laid `after` the last way, mm. `tool` and
 * `line` of the file are those of the move.
 */
export type Laid = { n: number; tool: Uint8Array; line: Uint32Array } & Record<Figure, Float32Array>;

/** Room for pieces that grows by itself. */
export class Laying {
  readonly laid: Laid = {
    n: 0,
    tool: new Uint8Array(0),
    line: new Uint32Array(0),
    ...(Object.fromEntries(figures.map((f) => [f, new Float32Array(0)])) as Record<Figure, Float32Array>),
  };
  private room = 0;

  /** Makes room for one more piece and gives its index. */
  next(): number {
    if (this.laid.n === this.room) this.grow();
    return this.laid.n++;
  }

  private grow(): void {
    const { laid } = this;
    this.room = Math.max(4096, Math.ceil(this.room * 1.6));
    const grown = <A extends Float32Array | Uint8Array | Uint32Array>(old: A, fresh: A): A => {
      fresh.set(old as never);
      return fresh;
    };
    for (const f of figures) laid[f] = grown(laid[f], new Float32Array(this.room));
    laid.tool = grown(laid.tool, new Uint8Array(this.room));
    laid.line = grown(laid.line, new Uint32Array(this.room));
  }
}

/** A hair or streak between two places, mm: what the nozzle drew out on a way. */
export interface Strand {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  z: number;
  thickness: number;
  time: number;
  /** It hangs in a hollow of the body. */
  inside: boolean;
}

/** A lump: where, and how much of it, mm and mm³. */
export interface Blob {
  x: number;
  y: number;
  z: number;
  volume: number;
  time: number;
}
