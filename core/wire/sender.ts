import { framed } from './frame';
import { heardIn, type WireSays } from './heard';

/** How lines are sent: how many may be under way, and after how many seconds of silence one is asked for again. */
export interface Manner {
  window: number;
  stall: number;
}

/** Silent so many times, a machine is gone. */
const PATIENCE = 24;
/** A number that no line has: a machine that is sent it says which it wants instead, and so where it stands. */
const NOBODY = 2_000_000_000;
/** An answer that cannot be is believed when it is said so many times in a row: others were late or damaged. */
const BELIEVED = 3;
/** A machine that says so often in a row that it has all, has. */
const SURE = 2;
/** A machine that wants lines again from further back than this beyond the window has forgotten the print. */
const FURTHEST = 8;
/** So many lines may have been sent since the place was kept. */
const SINCE_KEPT = 500;

/** What came between the lines of a file: inserted before a place, counted with what was inserted before. */
export interface Inserted {
  at: number;
  lines: string[];
}

/** Where a print stands, to be kept: with it the print goes on after a reload, and nothing is printed twice. */
export interface Reached {
  /** The number that the machine gave the line before the first; undefined where nothing was sent yet. */
  base?: number | undefined;
  /** Lines that the machine has taken, and lines that were sent. */
  place: number;
  sent: number;
  inserted: Inserted[];
  /** Where it is paused: no line from here on is sent. */
  pausedAt?: number | undefined;
}

/** How sending stands. */
export type Sending =
  { state: 'ready' | 'asking' | 'sending' | 'paused' | 'making sure' | 'done' } | { state: 'failed'; why: string };

/**
 * Sends numbered lines to a machine so that it executes each exactly once and in order, whatever the wire loses, doubles,
 * delays or damages. The machine takes a line only if its number is the next; all that is reckoned here is a guess that its
 * answers correct. Nothing resets its count: a command for that, doubled or late, would have lines done twice.
 *
 * It has no clock and no wire: what it returns is to be written, time is handed in, s.
 */
export class Sender {
  private readonly lines: string[];
  /** Lines before the first of the print. */
  readonly lead: number;
  private base: number | undefined;
  private readonly inserted: Inserted[] = [];
  /** Lines that were acknowledged; lines sent since the machine last said where it is; the most that was ever sent. */
  private taken: number;
  private sent: number;
  private high: number;
  /** The most that is under way or taken for certain: what is put in between goes behind it. */
  private behind = 0;
  private room = 1;
  /** No line from here on is sent: where it was paused. */
  private limit = Infinity;
  private paused = false;
  /** The answer to a line that was asked for again ends with an `ok` that acknowledges nothing. */
  private idle = 0;
  private heardAt = 0;
  private resentAt = -Infinity;
  private resent = -1;
  private silent = 0;
  /** How often in a row it has said that it has all. */
  private sure = 0;
  /** The last answer that was not believed, and how often it came. */
  private doubted = { number: -1, times: 0 };
  private now: Sending = { state: 'ready' };

  /**
   * @param commands lines without comments
   * @param reached where it goes on; left out, it begins
   */
  constructor(
    commands: readonly string[],
    private readonly manner: Manner,
    reached: Reached = { place: 0, sent: 0, inserted: [] },
  ) {
    // A machine that was switched off counts from 1 again, and could want the first lines once more: they do nothing. As many
    // as it can have done beyond what is believed, after one late answer.
    this.lead = 3 * manner.window + 2 * FURTHEST;
    this.lines = [...Array.from({ length: this.lead }, () => 'M105'), ...commands];
    this.base = reached.base;
    for (const { at, lines } of reached.inserted) this.put(at, lines);
    this.taken = this.sent = Math.max(0, Math.min(reached.place, this.lines.length));
    if (reached.pausedAt !== undefined) {
      this.paused = true;
      this.limit = reached.pausedAt;
    }
    this.high = reached.base === undefined ? 0 : reached.sent + SINCE_KEPT;
    this.behind = reached.base === undefined ? 0 : reached.sent;
  }

  /** Whether it is to stand still, whatever is still under way. */
  get standsStill(): boolean {
    return this.paused;
  }

  get sending(): Sending {
    return this.now;
  }

  /** Lines of the print that the machine has taken, and all that there are. */
  get place(): number {
    return Math.max(0, this.taken - this.lead);
  }

  get total(): number {
    return this.lines.length - this.lead;
  }

  /** The lines that the machine has taken, and the number of the last: for one that has to be told what it did. */
  get done(): { lines: string[]; last: number } {
    return { lines: this.lines.slice(0, this.taken), last: (this.base ?? 0) + this.taken };
  }

  /** Where in the lines of the print the next that nobody has sent stands, and the line there and those before it. */
  get ahead(): readonly string[] {
    return this.lines.slice(this.lead, Math.max(this.lead, this.behind, this.taken));
  }

  /** What is to be kept. */
  get reached(): Reached {
    const inserted = this.inserted.map((i) => ({ ...i, lines: [...i.lines] }));
    const sent = Math.max(this.sent, this.taken);
    return {
      base: this.base,
      place: this.taken,
      sent,
      inserted,
      ...(this.paused && { pausedAt: this.limit }),
    };
  }

  /** The wire is there: asks the machine where it stands. */
  connect(time: number): string[] {
    this.heardAt = time;
    this.silent = 0;
    this.idle = 0;
    if (this.ended) return [];
    this.now = { state: 'asking' };
    return [this.question()];
  }

  private get ended(): boolean {
    return this.now.state === 'failed' || this.now.state === 'done';
  }

  private question(): string {
    return framed(NOBODY, 'M105');
  }

  /** What a machine said; what is to be written now. */
  heard(line: string, time: number): string[] {
    const says = heardIn(line);
    this.heardAt = time;
    if (says.kind !== 'other') this.silent = 0;
    return this.ended ? [] : this.answered(says, time);
  }

  private answered(says: WireSays, time: number): string[] {
    switch (says.kind) {
      case 'halted':
        return this.fail(`the machine has stopped: ${says.why || 'it does not say why'}`);
      case 'start':
        // A greeting may be late; whether it has forgotten the print, it says when it is asked.
        return this.connect(time);
      case 'resend':
        return this.wants(says.number, time);
      case 'wait':
        // It has nothing to do: what is under way was lost.
        return this.waits ? this.ask(time) : this.send();
      case 'ok':
        return this.acknowledged();
      case 'temperature':
        return says.acknowledges ? this.acknowledged() : [];
      default:
        return [];
    }
  }

  private acknowledged(): string[] {
    if (this.now.state === 'asking' || this.now.state === 'making sure') return [];
    if (this.idle > 0) this.idle--;
    else if (this.taken < this.sent) {
      this.taken++;
      this.room = Math.min(this.manner.window, this.room + 1);
    }
    return this.send();
  }

  /** The machine says which line it wants; what it has taken stands before it. */
  private wants(number: number, time: number): string[] {
    this.idle = 1;
    const place = this.base === undefined ? undefined : number - this.base - 1;
    const can =
      place !== undefined &&
      place >= 0 &&
      place <= Math.min(this.high, this.lines.length) &&
      place >= this.taken - this.manner.window - FURTHEST;
    if (!can || place === undefined) return this.doubt(number, time);
    this.doubted.times = 0;
    const asked = this.now.state === 'asking' || this.now.state === 'making sure';
    // Every line under way is answered so: one answer is enough.
    if (!asked && place === this.resent && time - this.resentAt < this.manner.stall / 2) return [];
    this.resent = place;
    this.resentAt = time;
    this.taken = this.sent = place;
    this.behind = Math.max(this.behind, Math.min(place + this.manner.window, this.high));
    this.room = 1;
    if (place === this.lines.length && !this.paused) {
      // Said once it could be a damaged answer.
      if (++this.sure < SURE) {
        this.now = { state: 'making sure' };
        this.heardAt = time;
        return [this.question()];
      }
      this.now = { state: 'done' };
      return [];
    }
    this.sure = 0;
    this.now = { state: this.paused ? 'paused' : 'sending' };
    return this.send();
  }

  /** An answer that cannot be: it is asked again, and believed when it is said several times in a row. */
  private doubt(number: number, time: number): string[] {
    if (this.doubted.number !== number) this.doubted = { number, times: 0 };
    if (++this.doubted.times < BELIEVED) {
      this.now = { state: 'asking' };
      this.heardAt = time;
      return [this.question()];
    }
    this.doubted.times = 0;
    if (this.base === undefined || (this.taken === 0 && this.inserted.length === 0)) {
      // Nothing was taken yet: it counts from there.
      this.base = number - 1;
      this.taken = this.sent = 0;
      this.high = 0;
      this.now = { state: this.paused ? 'paused' : 'sending' };
      return this.send();
    }
    return this.fail('the machine does not know this print: it was switched off, or has printed something else');
  }

  private send(): string[] {
    const { state } = this.now;
    if ((state !== 'sending' && state !== 'paused') || this.base === undefined) return [];
    const frames: string[] = [];
    const to = Math.min(this.lines.length, this.limit);
    while (this.sent < to && this.sent - this.taken < this.room) {
      frames.push(framed(this.base + 1 + this.sent, this.lines[this.sent]!));
      this.sent++;
    }
    this.high = Math.max(this.high, this.sent);
    this.behind = Math.max(this.behind, this.sent);
    // All seems taken: whether it is, the machine says itself.
    if (state === 'sending' && this.taken >= this.lines.length && frames.length === 0) {
      this.now = { state: 'making sure' };
      return [this.question()];
    }
    return frames;
  }

  private ask(time: number): string[] {
    if (time - this.resentAt < this.manner.stall / 2) return [];
    this.resentAt = time;
    this.resent = -1;
    return [this.question()];
  }

  /** Whether an answer is due. */
  private get waits(): boolean {
    const { state } = this.now;
    if (state === 'asking' || state === 'making sure') return true;
    return (state === 'sending' || state === 'paused') && this.taken < Math.min(this.limit, this.lines.length);
  }

  /** Time goes by: after a silence it is asked again, and after many the machine is gone. */
  tick(time: number): string[] {
    if (!this.waits || time - this.heardAt < this.manner.stall) return [];
    if (++this.silent > PATIENCE) return this.fail('the machine does not answer');
    this.heardAt = time;
    this.resentAt = -Infinity;
    return this.ask(time);
  }

  /** Sends nothing more until it goes on; what is under way is taken. Lines that lift and park go in before the next. */
  pause(lines: readonly string[] = []): string[] {
    if (this.ended || this.paused) return [];
    const at = Math.min(this.lines.length, Math.max(this.behind, this.taken, this.lead));
    this.put(at, lines);
    this.limit = at + lines.length;
    this.paused = true;
    // While it is still asked where it stands, it pauses once that is known.
    if (this.now.state !== 'sending') return [];
    this.now = { state: 'paused' };
    return this.send();
  }

  /** Goes on, with lines that lead back before the next. */
  resume(lines: readonly string[], time: number): string[] {
    if (!this.paused) return [];
    this.put(Math.min(this.limit, this.lines.length), lines);
    this.limit = Infinity;
    this.paused = false;
    if (this.now.state !== 'paused') return [];
    this.now = { state: 'sending' };
    this.heardAt = time;
    return this.send();
  }

  private put(at: number, lines: readonly string[]): void {
    if (lines.length === 0) return;
    this.lines.splice(at, 0, ...lines);
    this.inserted.push({ at, lines: [...lines] });
  }

  private fail(why: string): string[] {
    this.now = { state: 'failed', why };
    return [];
  }
}
