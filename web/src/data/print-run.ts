import { computed, inject, Injectable, signal } from '@angular/core';
import type { Subscription } from 'rxjs';
import { sentence, type Progress } from '#core/base';
import {
  commandsOf,
  differencesFrom,
  heardIn,
  INTRODUCE,
  interruptedAt,
  introducedIn,
  parking,
  Sender,
} from '#core/wire';
import type { Device } from '../work/device';
import { PracticeDevice } from '../work/practice-device';
import type { OffTheBed } from '../work/practice.worker';
import type { Port } from '../work/serial-device';
import { Keeper } from './keeper';
import {
  freshly,
  heightsOf,
  jobOf,
  MANNERS,
  parkOf,
  PRACTICE,
  WIRES,
  type Job,
  type Kept,
  type PracticeLike,
  type Under,
  type Via,
} from './run-job';
import { withPrinted } from './run-record';

/** A machine has so many seconds to introduce itself: opening a port restarts many. */
const MEETS = 8;
/** A server is tried again after so many ms. */
const AGAIN = 2000;
/** Every so many ms the place is kept and a silent machine asked. */
const TICK = 500;
const RUN = 'run';
const LINES = 'run-lines';
/** What the nozzle shows is drawn in steps of this share of the height. */
const COURSE = 1 / 400;

/**
 * The print that is under way, one at a time, whichever page is shown. Nothing is sent without the person’s press; where it
 * stands is kept, so that a page that is loaded anew goes on where it was.
 */
@Injectable({ providedIn: 'root' })
export class PrintRun {
  private readonly keeper = inject(Keeper);
  private readonly practice = inject(PRACTICE);
  private readonly wires = inject(WIRES);
  private readonly state = signal<Under | undefined>(undefined);
  /** What is under way, or has just ended and was not put away yet. */
  readonly under = this.state.asReadonly();
  /** Whether something prints now, and can be stopped. */
  readonly active = computed(() => {
    const s = this.state()?.state;
    return s === 'connecting' || s === 'asking' || s === 'printing' || s === 'paused' || s === 'apart';
  });
  /** Whether something prints now and the machine can be told to stop. */
  readonly tellable = computed(() => this.active() && !['asking', 'apart'].includes(this.state()!.state));
  /** Where the person printed last, or is about to. */
  readonly where = signal<Via['kind']>('practice');
  private device: Device | undefined;
  /** What the machine says of itself, and how many answers are still due. */
  private meeting: { lines: string[]; due: number; until: number } | undefined;
  private port: Port | undefined;
  private began = 0;
  /** For how long it did not print since, ms. */
  private idle = 0;
  private preparing: Job | undefined;
  private sender: Sender | undefined;
  private heights: readonly number[] = [];
  /** What the nozzle showed while each cell was printed: how often, and its sum, °C. */
  private shown = new Map<number, { times: number; sum: number }>();
  private back: string[] = [];
  private hears: Subscription | undefined;
  private timer: ReturnType<typeof setInterval> | undefined;
  private readonly begun = performance.now();

  /**
   * Begins to print. Refused while something is under way, and in a tab that only follows: nothing
   * goes to two places at once.
   *
   * @param port the serial port that the person chose, where it goes over one
   */
  start(job: Job, bytes: Uint8Array, port?: Port): boolean {
    if (this.active() || this.state()?.state === 'photographing' || !this.keeper.writes()) return false;
    this.putAway();
    this.port = port;
    this.began = Date.now();
    this.idle = 0;
    this.state.set(freshly(job));
    void this.prepare(job, bytes);
    return true;
  }

  /** A file of many lines is taken apart in steps, so that the page answers meanwhile. */
  private async prepare(job: Job, bytes: Uint8Array): Promise<void> {
    const breath = () => new Promise((resolve) => setTimeout(resolve));
    this.preparing = job;
    await breath();
    const text = new TextDecoder().decode(bytes);
    await breath();
    const commands = commandsOf(text);
    await breath();
    this.keeper.meta(LINES, commands);
    await breath();
    // Stopped before it has begun; another may have been started since.
    if (this.preparing === job && this.state()?.state === 'connecting') this.begin(job, commands, undefined);
  }

  /** Goes on with what was under way when the page was left; to be called once it is open. */
  async recall(): Promise<void> {
    if (this.state() || !this.keeper.writes()) return;
    const kept = (await this.keeper.recall(RUN)) as Kept | undefined;
    const lines = (await this.keeper.recall(LINES)) as string[] | undefined;
    if (!kept || !Array.isArray(lines) || this.state()) return;
    this.began = kept.began ?? Date.now();
    // What went by while no page was open was no printing that was seen.
    this.idle = (kept.idle ?? 0) + Date.now() - (kept.at ?? Date.now());
    // What was kept before there were other wires went to the practice printer.
    const job: Job = { ...kept.job, via: kept.job.via ?? { kind: 'practice' } };
    // A port that was allowed once is given again without being asked for.
    const ports = job.via.kind === 'serial' ? await this.wires.ports?.getPorts() : undefined;
    this.port = ports?.length === 1 ? ports[0] : undefined;
    this.begin(job, lines, kept);
  }

  private begin(job: Job, commands: string[], kept: Kept | undefined): void {
    const reached = kept?.reached;
    this.back = kept?.back ?? [];
    this.shown = new Map(kept?.shown ?? []);
    const sender = new Sender(commands, MANNERS[job.via.kind], reached);
    this.sender = sender;
    this.heights = heightsOf(commands);
    const fresh = freshly(job);
    const { place, total } = sender;
    const { marks = [], met = fresh.met, heat = [] } = kept ?? {};
    this.state.set({ ...fresh, place, total, marks, met, heat });
    this.timer = setInterval(() => this.tick(), TICK);
    this.open();
    this.keep();
  }

  /** Opens the wire, for the first time or again. */
  private open(): void {
    const [under, { sender }] = [this.state(), this];
    if (!under || !sender) return;
    const device = this.wireOf(under, sender);
    if (!device) {
      this.change({ state: 'apart', why: 'the port is to be chosen again' });
      return;
    }
    this.hears?.unsubscribe();
    const before = Promise.resolve(this.device?.close());
    this.device = device;
    this.hears = device.lines$.subscribe({ next: (lines) => this.heard(lines), error: (e) => this.broke(e) });
    // A port that is still being let go of cannot be opened.
    void before
      .then(() => device.connect())
      .then(
        () => {
          // Stopped meanwhile: nothing is sent any more.
          if (!this.active() || this.device !== device) return;
          this.change({ state: 'connecting', why: undefined });
          // It is asked who it is before it is sent anything to do; where it prints already, only where it stands.
          if (sender.reached.base === undefined) this.meet();
          else this.write(sender.connect(this.now));
        },
        (e: unknown) => this.broke(e, 'the printer cannot be reached'),
      );
  }

  private wireOf({ via, ...job }: Under, sender: Sender): Device | undefined {
    switch (via.kind) {
      case 'practice':
        return this.practice({ via, ...job }, sender.reached.place > 0 ? sender.done : undefined);
      case 'network':
        return this.wires.network();
      case 'serial':
        return this.port && this.wires.serial(this.port, via.baud);
    }
  }

  /** The wire broke: what is under way may go on by itself, and is gone on with once it is there again. */
  private broke(error: unknown, otherwise = 'the connection broke'): void {
    const [under, { device }] = [this.state(), this];
    if (!under || !this.active()) return;
    const why = error instanceof Error && error.message ? error.message : otherwise;
    if (under.via.kind === 'practice' || under.state === 'asking' || (this.meeting && under.place === 0)) {
      this.end('failed', under.via.kind === 'practice' ? otherwise : why);
      return;
    }
    this.change({ state: 'apart', why });
    this.keep();
    if (under.via.kind === 'network')
      setTimeout(() => {
        if (this.state()?.state === 'apart' && this.device === device) this.open();
      }, AGAIN);
  }

  /** Connects again by the person’s press: a port has to be chosen by hand. */
  async connectAgain(): Promise<void> {
    if (this.state()?.state !== 'apart') return;
    if (this.state()?.via.kind === 'serial') this.port = await this.wires.ports?.requestPort().catch(() => this.port);
    this.open();
  }

  private meet(): void {
    this.meeting = { lines: [], due: INTRODUCE.length, until: this.now + MEETS };
    this.write(INTRODUCE);
  }

  /** A machine that is met says who it is; one that starts meanwhile has heard nothing. */
  private introduces(lines: readonly string[]): void {
    const { meeting } = this;
    if (!meeting) return;
    for (const line of lines) {
      const says = heardIn(line);
      if (says.kind === 'start') {
        this.meet();
        return;
      }
      if (says.kind === 'halted') {
        this.end('failed', `the machine has stopped: ${says.why || 'it does not say why'}`);
        return;
      }
      meeting.lines.push(line);
      if (says.kind === 'ok') meeting.due--;
    }
    if (meeting.due <= 0) this.met(meeting.lines);
  }

  /** It has said who it is, or will not. Where it is another than was thought, the person is asked. */
  private met(lines: readonly string[]): void {
    const under = this.state();
    this.meeting = undefined;
    if (!under || !this.sender) return;
    const said = introducedIn(lines);
    const met = { practice: under.via.kind === 'practice' || said.practice, firmware: said.firmware };
    const differences = differencesFrom(under.context.printer, said);
    this.change({ met, differences });
    if (differences.length > 0) this.change({ state: 'asking' });
    else this.write(this.sender.connect(this.now));
    this.keep();
  }

  /** It is another machine than was thought: nothing was sent to it, and nothing is. */
  refuse(): void {
    if (this.state()?.state !== 'asking') return;
    this.end('stopped', undefined);
    this.putAway();
  }

  /** It is printed all the same, whatever the machine says of itself. */
  accept(): void {
    if (this.state()?.state !== 'asking') return;
    this.change({ state: 'connecting' });
    this.write(this.sender?.connect(this.now) ?? []);
  }

  private get now(): number {
    return (performance.now() - this.begun) / 1000;
  }

  private write(frames: readonly string[]): void {
    if (frames.length > 0) this.device?.write(frames.join('\n') + '\n');
  }

  private heard(lines: readonly string[]): void {
    const { sender } = this;
    if (!sender || !this.active()) return;
    if (this.meeting) {
      this.introduces(lines);
      return;
    }
    if (this.state()?.state === 'asking') return;
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
    const last = under.heat.at(-1);
    // While it climbs the course is followed as finely as it can be drawn.
    if (under.place > 0 && under.target !== undefined && (!last || under.z > last.z + COURSE * this.highest()))
      this.change({ heat: [...under.heat, { z: under.z, shown: nozzle, target: under.target }] });
    const band = under.bands.find((b) => under.z > b.from + 1e-6 && under.z <= b.to + 1e-6);
    if (!band) return;
    const own = this.shown.get(band.cell) ?? { times: 0, sum: 0 };
    this.shown.set(band.cell, { times: own.times + 1, sum: own.sum + nozzle });
  }

  private highest(): number {
    return this.state()?.layers.at(-1)?.z ?? 0;
  }

  /** Shows how the sender stands. */
  private follow(): void {
    const { sender } = this;
    const under = this.state();
    if (!sender || !under || !this.active() || this.meeting) return;
    if (under.state === 'asking' || under.state === 'apart') return;
    const { sending } = sender;
    this.change({
      place: sender.place,
      total: sender.total,
      z: this.heights[Math.min(this.heights.length, sender.place) - 1] ?? 0,
      state: sending.state === 'paused' ? 'paused' : sending.state === 'asking' ? 'connecting' : 'printing',
    });
    if (sending.state === 'failed') this.end('failed', sending.why);
    if (sending.state === 'done') {
      if (under.met.practice) void this.develop();
      else this.finish();
    }
  }

  private change(by: Partial<Under>): void {
    this.state.update((u) => u && { ...u, ...by });
  }

  private tick(): void {
    const state = this.state()?.state;
    if (state !== 'printing') this.idle += TICK;
    if (!this.active() || state === 'asking' || state === 'apart') return;
    if (this.meeting) {
      if (this.now > this.meeting.until) this.met(this.meeting.lines);
      return;
    }
    this.write(this.sender?.tick(this.now) ?? []);
    this.follow();
    this.keep();
  }

  private keep(): void {
    const under = this.state();
    if (!under || !this.sender) return;
    const job = jobOf(under);
    const kept: Kept = {
      job,
      reached: this.sender.reached,
      shown: [...this.shown],
      back: this.back,
      marks: under.marks,
      met: under.met,
      heat: under.heat,
      began: this.began,
      idle: this.idle,
      at: Date.now(),
    };
    this.keeper.meta(RUN, kept);
  }

  /** Lifts the head, parks it beside the print, and waits. */
  pause(): void {
    const under = this.state();
    // Pressed twice, it leads back to where it printed, not to where it is parked.
    if (!under || !this.sender || this.sender.standsStill || this.meeting) return;
    if (under.state === 'asking' || under.state === 'apart') return;
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
    if (this.state()?.state === 'asking') {
      this.refuse();
      return;
    }
    if (this.state()?.state === 'apart') {
      this.end('failed', 'the wire is broken, and the printer cannot be told: switch it off by hand');
      return;
    }
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
    if (this.device instanceof PracticeDevice) this.device.pace(fast);
    this.change({ fast });
    this.keep();
  }

  private end(state: 'stopped' | 'failed' | 'done', why: string | undefined): void {
    this.meeting = undefined;
    this.change({ state, why });
    clearInterval(this.timer);
    this.keeper.meta(RUN, undefined);
    this.keeper.meta(LINES, undefined);
  }

  /** Weighs and photographs what lies on the bed, whole or stopped, and hands it over. */
  async develop(): Promise<void> {
    const [under, { sender }] = [this.state(), this];
    if (!under || !sender || under.state === 'photographing' || under.state === 'done') return;
    clearInterval(this.timer);
    this.change({ state: 'photographing', place: under.place });
    const of = (p: Progress) => this.change({ why: `${p.stage}, ${Math.round((100 * p.done) / Math.max(1, p.of))} %` });
    const seed = Math.floor(2 ** 32 * Math.random());
    try {
      const device = await this.bedOf(under, sender);
      const bed = await device.develop(seed, under.wanted, of);
      if (!bed.ok) {
        this.end('failed', bed.faults.map(sentence).join(' '));
        return;
      }
      const why = this.note(under, { ...bed.value, seed });
      this.keeper.meta(RUN, undefined);
      this.keeper.meta(LINES, undefined);
      this.change(why === undefined ? { state: 'done', why } : { state: 'failed', why });
      // What lay on the bed is kept; the printer is switched off.
      if (why === undefined) {
        device.close();
        this.device?.close();
      }
    } catch {
      this.end('failed', 'the practice printer gave up');
    }
  }

  /** What lies on the bed of a practice printer: that of the page, or, of one elsewhere, what the same lines make here. */
  private async bedOf(under: Under, sender: Sender): Promise<PracticeLike> {
    if (under.via.kind === 'practice' && this.device) return this.device as PracticeLike;
    const own = this.practice({ ...under, via: { kind: 'practice' } }, sender.done);
    await own.connect();
    return own;
  }

  /** A real print is done: what it took is noted, what lies on the bed is the person’s to look at. */
  finish(): void {
    const under = this.state();
    if (!under || under.state === 'done') return;
    const share = under.total > 0 ? under.place / under.total : 1;
    const time = Math.max(0, Date.now() - this.began - this.idle) / 1000;
    const why = this.note(under, { mass: share * under.mass, time, photos: [] });
    this.end(why === undefined ? 'done' : 'failed', why);
    if (why === undefined) this.device?.close();
  }

  /** Notes the print with its trial, with its photographs; why it cannot be, where it cannot. */
  private note(job: Under, bed: OffTheBed & { seed?: number }): string | undefined {
    const before = this.keeper.find('records', job.trial);
    if (!before) return 'it is printed, but its trial is no longer here; put the trial back, and print it again';
    const { record, photos } = withPrinted(before, job, this.shown, bed);
    for (const { hash, jpeg } of photos) this.keeper.putPhoto(hash, jpeg);
    return this.keeper.change(before, record, job.met.practice ? 'printed on the practice printer' : 'printed')
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
