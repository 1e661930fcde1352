import { computed, inject, Injectable, InjectionToken, signal } from '@angular/core';
import type { Subscription } from 'rxjs';
import { sentence, type Progress } from '#core/base';
import { costOf, filamentArea, type Context } from '#core/context';
import type { Reading } from '#core/judge';
import { MOST_PHOTOS, UNTOUCHED, withPhoto, type Photo, type Print, type TrialRecord } from '#core/route';
import { commandsOf, heardIn, interruptedAt, parking, Sender, type Manner, type Reached } from '#core/wire';
import type { Device } from '../work/device';
import { PracticeDevice } from '../work/practice-device';
import type { OffTheBed, Wanted } from '../work/practice.worker';
import { Keeper } from './keeper';

/** What is printed: a file that passed the check, for which trial, on what, and how it is to be photographed. */
export interface Job {
  trial: string;
  /** Which print, of a trial by print. */
  index: number;
  byPrint: boolean;
  title: string;
  /** What was planned, as `printedPlan` tells it. */
  plan: string;
  context: Context;
  /** As fast as it can, or as long as it takes. */
  fast: boolean;
  today: string;
  /** Seconds of each layer by its height, mm, as planned. */
  layers: { z: number; time: number }[];
  wanted: Wanted[];
  /** Which cell lies from what height up to which, mm; empty where cells lie beside one another. */
  bands: { cell: number; from: number; to: number }[];
}

/** How a print that is under way stands: heights mm, temperatures °C, times s. */
export interface Under extends Job {
  state: 'connecting' | 'printing' | 'paused' | 'photographing' | 'done' | 'stopped' | 'failed';
  why: string | undefined;
  place: number;
  total: number;
  z: number;
  nozzle: number | undefined;
  target: number | undefined;
  bed: number | undefined;
  bedTarget: number | undefined;
  marks: Mark[];
}

/** A height at which the person saw it fail while it printed, mm, in which cell, and what was noted. */
export interface Mark {
  z: number;
  cell: number;
  note: string;
}

/** What of a trial decides what lies where on the bed, as text. */
export const printedPlan = ({ trial }: Pick<TrialRecord, 'trial'>): string =>
  JSON.stringify([trial.axes, trial.specimen, trial.frozen]);

/** A device that a print can be sent to, and what lies on its bed afterwards, where it is the practice printer. */
export type PracticeLike = Device & Pick<PracticeDevice, 'develop' | 'pace'>;

/** A print of which nothing is known yet. */
const freshly = (job: Job): Under => ({
  ...job,
  state: 'connecting',
  why: undefined,
  place: 0,
  total: 0,
  z: 0,
  nozzle: undefined,
  target: undefined,
  bed: undefined,
  bedTarget: undefined,
  marks: [],
});

/** What is kept of a print that is under way. */
interface Kept {
  job: Job;
  reached: Reached;
  shown: [number, { times: number; sum: number }][];
  /** Lines that lead back where it is paused. */
  back: string[];
  marks: Mark[];
}

/** How the practice printer is switched on; another way where there are no workers. */
export const PRACTICE = new InjectionToken<
  (job: Job, done: { lines: readonly string[]; last: number } | undefined) => PracticeLike
>('practice printer', {
  factory: () => (job, done) => new PracticeDevice(job.context, job.today, job.fast, done),
});

/** Lines under way, and seconds of silence after which a line is asked for again. */
const MANNER: Manner = { window: 48, stall: 4 };
/** Every so many ms the place is kept and a silent machine asked. */
const TICK = 500;
const RUN = 'run';
const LINES = 'run-lines';

/**
 * The print that is under way, one at a time, whichever page is shown. Nothing is sent without the person’s press; where it
 * stands is kept, so that a page that is loaded anew goes on where it was.
 */
@Injectable({ providedIn: 'root' })
export class PrintRun {
  private readonly keeper = inject(Keeper);
  private readonly practice = inject(PRACTICE);
  private readonly state = signal<Under | undefined>(undefined);
  /** What is under way, or has just ended and was not put away yet. */
  readonly under = this.state.asReadonly();
  /** Whether something prints now, and can be stopped. */
  readonly active = computed(() => {
    const s = this.state()?.state;
    return s === 'connecting' || s === 'printing' || s === 'paused';
  });
  private device: PracticeLike | undefined;
  private sender: Sender | undefined;
  private heights: readonly number[] = [];
  /** What the nozzle showed while each cell was printed: how often, and its sum, °C. */
  private shown = new Map<number, { times: number; sum: number }>();
  private back: string[] = [];
  private hears: Subscription | undefined;
  private timer: ReturnType<typeof setInterval> | undefined;
  private readonly begun = performance.now();

  /**
   * Begins to print on the practice printer. Refused while something is under way, and in a tab that only follows: nothing
   * goes to two places at once.
   */
  start(job: Job, bytes: Uint8Array): boolean {
    if (this.active() || this.state()?.state === 'photographing' || !this.keeper.writes()) return false;
    this.putAway();
    this.state.set(freshly(job));
    void this.prepare(job, bytes);
    return true;
  }

  /** A file of many lines is taken apart in steps, so that the page answers meanwhile. */
  private async prepare(job: Job, bytes: Uint8Array): Promise<void> {
    const breath = () => new Promise((resolve) => setTimeout(resolve));
    await breath();
    const text = new TextDecoder().decode(bytes);
    await breath();
    const commands = commandsOf(text);
    await breath();
    this.keeper.meta(LINES, commands);
    await breath();
    // Stopped before it has begun.
    if (this.state()?.state === 'connecting') this.begin(job, commands, undefined);
  }

  /** Goes on with what was under way when the page was left; to be called once it is open. */
  async recall(): Promise<void> {
    if (this.state() || !this.keeper.writes()) return;
    const kept = (await this.keeper.recall(RUN)) as Kept | undefined;
    const lines = (await this.keeper.recall(LINES)) as string[] | undefined;
    if (!kept || !Array.isArray(lines) || this.state()) return;
    this.begin(kept.job, lines, kept);
  }

  private begin(job: Job, commands: string[], kept: Kept | undefined): void {
    const reached = kept?.reached;
    this.back = kept?.back ?? [];
    this.shown = new Map(kept?.shown ?? []);
    const sender = new Sender(commands, MANNER, reached);
    this.sender = sender;
    this.heights = heightsOf(commands);
    this.state.set({ ...freshly(job), place: sender.place, total: sender.total, marks: kept?.marks ?? [] });
    const device = this.practice(job, reached && reached.place > 0 ? sender.done : undefined);
    this.device = device;
    this.hears = device.lines$.subscribe({
      next: (lines) => this.heard(lines),
      error: () => this.end('failed', 'the connection broke'),
    });
    void device.connect().then(
      () => {
        this.write(sender.connect(this.now));
      },
      () => this.end('failed', 'the printer cannot be reached'),
    );
    this.timer = setInterval(() => this.tick(), TICK);
    this.keep();
  }

  private get now(): number {
    return (performance.now() - this.begun) / 1000;
  }

  private write(frames: readonly string[]): void {
    if (frames.length > 0) this.device?.write(frames.join('\n') + '\n');
  }

  private heard(lines: readonly string[]): void {
    const { sender } = this;
    if (!sender) return;
    const frames: string[] = [];
    for (const line of lines) {
      const says = heardIn(line);
      if (says.kind === 'temperature') {
        const { nozzle, target, bed, bedTarget } = says;
        this.change({ nozzle, target, bed, bedTarget });
        this.measure(nozzle);
      }
      frames.push(...sender.heard(line, this.now));
    }
    this.write(frames);
    this.follow();
  }

  /** What the nozzle shows belongs to the cell at the height reached. */
  private measure(nozzle: number): void {
    const under = this.state();
    if (!under || under.state !== 'printing') return;
    const band = under.bands.find((b) => under.z > b.from + 1e-6 && under.z <= b.to + 1e-6);
    if (!band) return;
    const own = this.shown.get(band.cell) ?? { times: 0, sum: 0 };
    this.shown.set(band.cell, { times: own.times + 1, sum: own.sum + nozzle });
  }

  /** Shows how the sender stands. */
  private follow(): void {
    const { sender } = this;
    const under = this.state();
    if (!sender || !under || !this.active()) return;
    const { sending } = sender;
    this.change({
      place: sender.place,
      total: sender.total,
      z: this.heights[Math.min(this.heights.length, sender.place) - 1] ?? 0,
      state: sending.state === 'paused' ? 'paused' : sending.state === 'asking' ? 'connecting' : 'printing',
    });
    if (sending.state === 'failed') this.end('failed', sending.why);
    if (sending.state === 'done') void this.develop();
  }

  private change(by: Partial<Under>): void {
    this.state.update((u) => u && { ...u, ...by });
  }

  private tick(): void {
    if (!this.active()) return;
    this.write(this.sender?.tick(this.now) ?? []);
    this.follow();
    this.keep();
  }

  private keep(): void {
    const under = this.state();
    if (!under || !this.sender) return;
    const { trial, index, byPrint, title, plan, context, fast, today, layers, wanted, bands } = under;
    const job: Job = { trial, index, byPrint, title, plan, context, fast, today, layers, wanted, bands };
    const kept: Kept = {
      job,
      reached: this.sender.reached,
      shown: [...this.shown],
      back: this.back,
      marks: under.marks,
    };
    this.keeper.meta(RUN, kept);
  }

  /** Lifts the head, parks it beside the print, and waits. */
  pause(): void {
    const under = this.state();
    // Pressed twice, it leads back to where it printed, not to where it is parked.
    if (!under || !this.sender || this.sender.standsStill) return;
    const { printer } = under.context;
    const ways = parking(interruptedAt(this.sender.ahead), printer.height, parkOf(under.context));
    this.back = ways?.back ?? [];
    this.write(this.sender.pause(ways?.away ?? []));
    this.follow();
    this.keep();
  }

  /** Leads back and goes on. */
  goOn(): void {
    this.write(this.sender?.resume(this.back, this.now) ?? []);
    this.back = [];
    this.follow();
    this.keep();
  }

  /** Stops at once, with all heaters off. */
  stop(): void {
    if (!this.active()) return;
    this.device?.write('\nM112\n');
    // What it showed last stays, but nothing is aimed at any more.
    this.change({ target: 0, bedTarget: 0 });
    this.end('stopped', undefined);
  }

  /** It fails here: a height becomes a reading of this print, whatever becomes of the rest of it. */
  mark(cell: number, note: string): void {
    const under = this.state();
    if (!under || !this.active()) return;
    this.change({ marks: [...under.marks, { z: under.z, cell, note: note.trim().slice(0, 2000) }] });
    this.keep();
  }

  /** The last mark is taken back. */
  unmark(): void {
    this.change({ marks: this.state()?.marks.slice(0, -1) ?? [] });
    this.keep();
  }

  pace(fast: boolean): void {
    this.device?.pace(fast);
    this.change({ fast });
    this.keep();
  }

  private end(state: 'stopped' | 'failed', why: string | undefined): void {
    this.change({ state, why });
    clearInterval(this.timer);
    this.keeper.meta(RUN, undefined);
    this.keeper.meta(LINES, undefined);
  }

  /** Weighs and photographs what lies on the bed, whole or stopped, and hands it over. */
  async develop(): Promise<void> {
    const under = this.state();
    const { device } = this;
    if (!under || !device || under.state === 'photographing') return;
    clearInterval(this.timer);
    this.change({ state: 'photographing', place: under.place });
    const of = (p: Progress) => this.change({ why: `${p.stage}, ${Math.round((100 * p.done) / Math.max(1, p.of))} %` });
    const seed = Math.floor(2 ** 32 * Math.random());
    try {
      const bed = await device.develop(seed, under.wanted, of);
      if (!bed.ok) {
        this.end('failed', bed.faults.map(sentence).join(' '));
        return;
      }
      const why = this.note(under, bed.value);
      this.keeper.meta(RUN, undefined);
      this.keeper.meta(LINES, undefined);
      this.change(why === undefined ? { state: 'done', why } : { state: 'failed', why });
      // What lay on the bed is kept; the printer is switched off.
      if (why === undefined) device.close();
    } catch {
      this.end('failed', 'the practice printer gave up');
    }
  }

  /** Notes the print with its trial, with its photographs; why it cannot be, where it cannot. */
  private note(job: Under, { mass, time, photos }: OffTheBed): string | undefined {
    const record = this.keeper.find('records', job.trial);
    if (!record) return 'it is printed, but its trial is no longer here; put the trial back, and print it again';
    // What was read off the bed belongs to the plan that was printed.
    const changed = job.plan === printedPlan(record) ? '' : 'the plan was changed while it printed';
    const { filament } = job.context;
    const length = (mass / filament.density / filamentArea(filament)) * 1000;
    const print: Print = {
      id: crypto.randomUUID(),
      on: job.today,
      conditions: { firmware: 'practice printer', room: '', drying: '', note: changed },
      practice: true,
      took: { time, mass, cost: costOf(filament, length) },
      ...(job.byPrint && { index: job.index }),
      ...(this.shown.size > 0 && {
        heated: [...this.shown].map(([cell, { times, sum }]) => ({ cell, nozzle: Number((sum / times).toFixed(1)) })),
      }),
    };
    // What failed while it was watched is evidence as if it were measured afterwards.
    const failed = job.marks.map(({ z, cell, note }, k): Reading => ({
      print: print.id,
      cells: [cell],
      track: 'height-fails',
      value: z,
      judge: 'me',
      replicate: k + 1,
      ...(note !== '' && { note }),
    }));
    let next = { ...record, prints: [...record.prints, print], readings: [...record.readings, ...failed] };
    const room = MOST_PHOTOS - (record.photos?.length ?? 0);
    for (const { name, jpeg, hash, width, height, corners } of photos.slice(0, Math.max(0, room))) {
      this.keeper.putPhoto(hash, jpeg);
      const placed = corners.length === 4 ? (corners.map((c) => c.map(within)) as Photo['corners']) : UNTOUCHED;
      next = withPhoto(next, { hash, print: print.id, name: `practice, ${name}`, width, height, corners: placed });
    }
    return this.keeper.change(record, next, 'printed on the practice printer')
      ? undefined
      : 'it is printed, but this browser cannot keep it; see the shield at the top';
  }

  /** What has ended is put away, and the printer switched off. */
  putAway(): void {
    if (this.active()) return;
    clearInterval(this.timer);
    this.hears?.unsubscribe();
    this.device?.close();
    this.device = undefined;
    this.sender = undefined;
    this.state.set(undefined);
  }
}

const within = (v: number): number => Math.min(1, Math.max(0, v));

/** The height at which something was laid last when each line of a file is done, mm: lifts on a way do not count. */
function heightsOf(commands: readonly string[]): number[] {
  let [z, laid] = [0, 0];
  return commands.map((line) => {
    if (line.startsWith('G1') || line.startsWith('G0')) {
      const at = line.indexOf('Z');
      const value = at > 0 ? Number.parseFloat(line.slice(at + 1)) : NaN;
      if (Number.isFinite(value)) z = value;
      if (line.includes('E') && !line.includes('E-') && (line.includes('X') || line.includes('Y'))) laid = z;
    }
    return laid;
  });
}

/** Where the head waits: at the left of the bed’s middle, where it is within reach of every bed. */
function parkOf({ printer }: Context): { x: number; y: number } {
  const { bed } = printer;
  if (bed.shape === 'round') return { x: -0.6 * (bed.diameter / 2), y: 0 };
  const [x0, y0] = bed.origin === 'centre' ? [-bed.width / 2, -bed.depth / 2] : [0, 0];
  return { x: x0 + 0.15 * bed.width, y: y0 + 0.85 * bed.depth };
}
