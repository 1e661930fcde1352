import { lineWidthOf } from '#core/settings';
import type { Echo } from './echo';
import { Ground, type Extent } from './ground';
import { ROOM } from './heat';
import { Laying, OPEN, type Laid } from './laid';
import { Spans } from './spans';
import type { LabFaults, Traits } from './traits';

/** Cooling of a line, s, without wind, and how much faster with it. */
const COOLS = 7;
const WIND = 2.2;
/** Of what lies beneath, so much warms the joint; wind chills it by so many °C. */
const WARMS = 0.45;
const CHILLS = 6;
/** A gap of this makes a line hold half as well, mm; so loosely pressed, it holds less, in widths of the nozzle. */
const HALF_GAP = 0.15;
const LOOSE = 0.75;
/** Soft beneath from so far above the glass transition, °C, and wholly so much further. */
const SOFT = 12;
const WHOLLY = 50;
/** An overhang rises by so much a layer, mm, at most so far. */
const RISES = 0.09;
const HIGHEST = 1.2;
/** A print that came loose is pushed about by up to so much on every way, mm. */
const PUSHED = 4;

/** What holds for a whole print: middle of the filament’s temperatures, °C, its water, 0–1, diameter of the nozzle, mm. */
export interface Held {
  middle: number;
  moisture: number;
  nozzle: number;
}

/** What becomes of what comes out: where it lies, on what, how well it holds, and what is to be seen of it. */
export class Deposit {
  private readonly laying = new Laying();
  readonly laid: Laid = this.laying.laid;
  readonly ground: Ground;
  private readonly spans = new Spans(this.laid);
  /** Of the line in hand: how thick it is meant to be, mm, the section that was asked for, mm², its number and its tool. */
  layer = 0.2;
  asked = 0;
  line = 0;
  tool = 0;
  /** Distance laid since the last way, mm; target of the bed, °C; wind of the fan, 0 still, 1 a usual one at full speed. */
  since = 0;
  bed = 0;
  wind = 0;
  /** How far a print that came loose was pushed, mm. */
  private readonly off = { x: 0, y: 0 };

  constructor(
    extent: Extent,
    private readonly echo: Echo,
    private readonly traits: Traits,
    private readonly faults: LabFaults,
    private readonly held: Held,
  ) {
    const { x0, y0, x1, y1 } = extent;
    const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2];
    const half = { x: Math.max(1, (x1 - x0) / 2), y: Math.max(1, (y1 - y0) / 2) };
    const { tiltX, tiltY, bowl, nozzleHeight } = traits.printer;
    const bed = (x: number, y: number) => {
      const u = (x - cx) / half.x;
      const v = (y - cy) / half.y;
      return tiltX * u + tiltY * v + bowl * ((u * u + v * v) / 2 - 0.5) - nozzleHeight;
    };
    this.ground = new Ground(extent, bed, ROOM);
  }

  /** The nozzle leaves: what it laid ends here. */
  lift(): void {
    this.spans.end(false);
  }

  /** Pushes a loose print, by shares of what it can be pushed. */
  drift(x: number, y: number): void {
    this.off.x += PUSHED * x;
    this.off.y += PUSHED * y;
  }

  /**
   * Lays one piece.
   *
   * @param section what came out for each mm, mm²; @param share of what melts, 0–1
   * @param melt °C; @param time s; @param old share of the colour before
   */
  lay(
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    z: number,
    length: number,
    section: number,
    share: number,
    melt: number,
    time: number,
    old: number,
  ): void {
    const { ground, laid, layer, asked, wind } = this;
    const { filament: f } = this.traits;
    const { middle, moisture, nozzle } = this.held;
    // Near the bed it is warm.
    const around = ROOM + Math.max(0, this.bed - ROOM) * 0.7 * Math.exp(-z / 20);
    const flatWidth = section > 0 ? lineWidthOf(section, layer) : 0;
    const natural = Math.sqrt((4 * asked) / Math.PI);
    const lies = section > 0.15 * asked;
    const cools = COOLS / (1 + WIND * wind);
    ground.lay(x0, y0, x1, y1, z, layer, Math.max(flatWidth, 0.1), natural, time, melt, around, cools, lies);
    const known = ground.holds + ground.sinks + ground.frees;
    // Beside what holds it, what lies deeper is an overhang; alone, it is a gap that the line sinks through.
    const held = known > 0 ? (ground.holds > 0 ? ground.holds : ground.sinks) / known : 1;
    const free = known > 0 && ground.frees === known;
    const room = ground.holds > 0 ? Math.max(0.02, ground.thickness) : layer;
    const width = free ? Math.sqrt((4 * section) / Math.PI) * f.swells : section > 0 ? widthIn(section, room) : 0;
    const i = this.laying.next();
    const lost = this.faults.losesSteps;
    const steps = lost !== undefined && z >= lost.at;
    const dx = this.off.x + (steps ? lost.x : 0);
    const dy = this.off.y + (steps ? lost.y : 0);
    laid.x0[i] = x0 + dx;
    laid.y0[i] = y0 + dy;
    laid.x1[i] = x1 + dx;
    laid.y1[i] = y1 + dy;
    laid.z[i] = z;
    laid.height[i] = free ? width : room;
    laid.layer[i] = layer;
    laid.width[i] = width;
    laid.area[i] = section;
    laid.asked[i] = asked;
    laid.melt[i] = melt;
    laid.beneath[i] = ground.beneath;
    laid.held[i] = held;
    const gap = ground.holds > 0 ? 0 : ground.gap;
    laid.gap[i] = gap;
    laid.time[i] = time;
    laid.tool[i] = this.tool;
    laid.line[i] = this.line;
    laid.after[i] = this.since;
    laid.bleed[i] = old;
    laid.echo[i] = this.echo.across(x1 - x0, y1 - y0);
    this.since += length;
    // Heat of both sides of the joint: a layer laid on what is still warm welds at a lower temperature.
    const joint = melt + WARMS * (ground.beneath - around) - CHILLS * wind;
    laid.weld[i] = free
      ? 0
      : (1 / (1 + Math.exp(-(joint - f.weldsAt) / f.weldWidth)) / (1 + (laid.gap[i]! / HALF_GAP) ** 2)) *
        Math.min(1, (section / asked) ** 2) *
        // Too thick for its section it is hardly pressed on.
        Math.min(1, (section / room / nozzle / LOOSE) ** 2);
    const soft = Math.min(1, Math.max(0, (ground.beneath - f.glass - SOFT) / WHOLLY));
    laid.soft[i] = soft;
    const hot = (melt - middle) / 30;
    const slow = Math.max(-1, Math.min(1, 1 - share * 2.2));
    laid.gloss[i] = Math.min(1, Math.max(0, f.gloss + 0.22 * hot + 0.14 * slow - 0.1 * wind));
    const torn = Math.max(0, 0.92 - section / asked) * 2;
    // Lines that do not wet one another stand apart.
    const apart = free ? 0 : Math.max(0, 0.7 - laid.weld[i]!);
    const bubbles = 0.5 * moisture * Math.max(0, 0.4 + hot);
    laid.rough[i] = Math.min(1, torn + bubbles + 0.7 * apart + 0.5 * laid.soft[i]!);
    laid.sag[i] = 0;
    laid.curl[i] = ground.curl;
    const open = known > 0 ? ground.edges / known : 0;
    // What overhangs shrinks from its upper side as it cools, and rises: the more, the hotter it stays.
    if (open > OPEN && !free) {
      const hotter = Math.exp((melt - middle) / 40) / (1 + 3 * wind);
      const up = Math.min(
        HIGHEST,
        ground.curl * 0.93 + RISES * Math.min(1, open * 1.4) * hotter * (0.5 + laid.soft[i]!),
      );
      ground.lift(x0, y0, x1, y1, flatWidth, up);
      laid.curl[i] = up;
      laid.sag[i] = 0.25 * layer * open * open * hotter * 2;
    }
    const sags = (f.sags * Math.exp((melt - middle) / 28)) / (1 + 3.2 * wind);
    this.spans.lay(i, length, ground.freeHead, ground.freeTail, { sags, width });
  }
}

/** A line in a gap of its own height: its width, mm; in one so low that it is a film it spreads as far as it must. */
const widthIn = (section: number, height: number): number => Math.max(Math.sqrt(section), lineWidthOf(section, height));
