import { computed, effect, signal, untracked } from '@angular/core';
import { fault, listed, refuse, sentence, show, type Progress } from '#core/base';
import { shotsOf } from '#core/careful';
import { measureOf } from '#core/judge';
import { CALIPER } from '#core/lab';
import { photoRefusal, withPhoto, type Print } from '#core/route';
import type { Keeper } from '../data/keeper';
import { faultsIn } from '../data/run-job';
import { placedCorners } from '../data/run-record';
import type { PrintInHand } from '../work/print-in-hand';
import type { CellCursor } from './cell-cursor';
import type { Measurements } from './measurements';
import type { OpenTrial } from './open-trial';

/** What can be done with a practice print in the hand, besides measuring what the trial measures. */
export type Tool = 'caliper' | 'snap' | 'brush' | 'finger' | 'water';

/** What an instrument found: a sentence, and what is kept of it where something can be. */
export interface Found {
  words: string;
  keep?: { cell: number; track: string; value: number };
}

/** A print that is made anew weighs the same, g; figures that were typed are rounded. */
const WEIGHS = 0.1;

const gaveUp = fault('hand.gave-up', 'instruments', 'they gave up', 'take the print in hand again');
const nothing = 'Nothing is between the jaws there: point at the print itself.';

/**
 * A practice print taken in hand while its trial is read: it is printed anew as it fell, in a worker, and instruments are
 * held to it. They find figures with their error; judging stays with the person.
 */
export class Hand {
  /** How it stands; `wanted` waits for the file. */
  readonly state = signal<'none' | 'wanted' | 'working' | 'held'>('none');
  readonly progress = signal<Progress | undefined>(undefined);
  readonly problem = signal('');
  readonly found = signal<Found | undefined>(undefined);
  /** Whether pointing at the drawing holds a caliper there, and where one was held last, mm, with what it found. */
  readonly pointing = signal(false);
  readonly pointedAt = signal<{ u: number; v: number; words: string } | undefined>(undefined);
  private readonly print = signal<Print | undefined>(undefined);
  private device: PrintInHand | undefined;

  /** The print of the cell in hand, where it is one that can be held. */
  readonly holdable = computed(() => {
    const print = this.desk.printOfCell(this.cursor.spot().cell);
    return print?.bed ? print : undefined;
  });
  /** Whether the print of the cell in hand is the one that is held. */
  readonly held = computed(
    () => this.state() === 'held' && this.print() !== undefined && this.print()?.id === this.holdable()?.id,
  );
  readonly tools = computed((): { id: Tool; label: string }[] => {
    const judged = new Set(this.desk.tracks().map((t) => t.id));
    const measured = new Set(this.bench.measures().map((m) => m.id));
    return [
      ...(this.desk.pushes() ? [] : [{ id: 'caliper' as const, label: 'Caliper' }]),
      ...(judged.has('layer-strength') ? [{ id: 'snap' as const, label: 'Snap it' }] : []),
      ...(['stringing', 'hairs', 'streaks'].some((t) => judged.has(t))
        ? [{ id: 'brush' as const, label: 'Brush' }]
        : []),
      ...(['skin-joint', 'top-skin'].some((t) => judged.has(t)) ? [{ id: 'finger' as const, label: 'Finger' }] : []),
      ...(measured.has('leaks') ? [{ id: 'water' as const, label: 'Water' }] : []),
    ];
  });
  /** Quantities of the trial that an instrument finds. */
  readonly measures = computed(() => this.bench.measures().filter((m) => measureOf(m.id) !== undefined));

  constructor(
    private readonly desk: OpenTrial,
    private readonly cursor: CellCursor,
    private readonly bench: Measurements,
    private readonly keeper: Keeper,
    private readonly taken: () => PrintInHand,
  ) {
    // Printed as soon as its file is there.
    effect(() => {
      const made = this.desk.made();
      const refused = this.desk.refused();
      if (this.state() !== 'wanted') return;
      if (made && this.desk.current()) untracked(() => void this.printAnew());
      else if (refused.length > 0)
        untracked(() => {
          this.state.set('none');
          this.problem.set(refused.join(' '));
        });
    });
    // What was found belongs to the cell that was looked at.
    effect(() => {
      this.cursor.spot();
      untracked(() => this.found.set(undefined));
    });
  }

  take(): void {
    const print = this.holdable();
    if (!print) return;
    this.problem.set('');
    this.found.set(undefined);
    this.pointedAt.set(undefined);
    this.print.set(print);
    if (print.index !== undefined) this.desk.printIndex.set(print.index);
    this.state.set('wanted');
  }

  cancel(): void {
    this.device?.cancel();
    this.state.set('none');
  }

  /** Puts it back: its worker is let go of. */
  close(): void {
    this.device?.close();
    this.device = undefined;
    this.state.set('none');
    this.pointing.set(false);
  }

  private async printAnew(): Promise<void> {
    const [made, trial, print] = [this.desk.made(), this.desk.trial(), this.print()];
    if (!made || !trial || !print?.bed) return;
    this.state.set('working');
    this.device?.close();
    const device = (this.device = this.taken());
    const { seed, lines, mishaps = [] } = print.bed;
    const { mass } = made.report.filament;
    const wrong = faultsIn({ mishaps, context: trial.context, layers: made.inspection.layers, mass });
    const result = await device
      .takeUp({ trial, bytes: made.bytes, today: print.on, seed, lines, wrong }, (p) => this.progress.set(p))
      .catch(() => refuse(gaveUp));
    if (this.device !== device || this.state() !== 'working') return;
    this.progress.set(undefined);
    const anew = result.ok ? result.value : undefined;
    // What weighs otherwise than the print did was planned otherwise.
    const same = anew === undefined || print.took === undefined || Math.abs(anew - print.took.mass) <= WEIGHS;
    if (result.ok && same) {
      this.state.set('held');
      return;
    }
    this.close();
    this.problem.set(
      result.ok
        ? 'The plan was changed since it was printed, so this print cannot be had again. Print it again to take it in hand.'
        : result.faults.map(sentence).join(' '),
    );
  }

  /** Holds a caliper where the drawing was pointed at, mm. */
  async caliperAt(u: number, v: number): Promise<void> {
    const held = await this.device?.caliper(u, v);
    if (!held) return;
    const ways = [
      held.x === undefined ? '' : `${show(held.x, 2)} mm across`,
      held.y === undefined ? '' : `${show(held.y, 2)} mm front to back`,
    ].filter((w) => w);
    const off = `, ± ${CALIPER} mm`;
    const where =
      this.desk.plan()?.built.drawing.view === 'above' ? `${show(u, 1)}, ${show(v, 1)} mm` : `${show(v, 1)} mm up`;
    this.found.set({ words: ways.length > 0 ? `Caliper at ${where}: ${listed(ways)}${off}.` : nothing });
    const first = held.x ?? held.y;
    this.pointedAt.set(first === undefined ? undefined : { u, v, words: `${show(first, 2)} mm` });
  }

  async use(tool: Tool): Promise<void> {
    this.pointing.set(tool === 'caliper' && !this.pointing());
    if (tool === 'caliper') {
      this.found.set(
        this.pointing() ? { words: 'Point at the drawing of the specimen where the jaws are to close.' } : undefined,
      );
      return;
    }
    const { cell } = this.cursor.spot();
    const label = this.labelOf(cell);
    switch (tool) {
      case 'snap': {
        const snapped = (await this.device?.snap()) ?? [];
        const [first, ...others] = snapped.map((s) => `${this.labelOf(s.cell)} at ${s.load} N`);
        this.found.set({
          words: first
            ? `Bent until it breaks: it snaps first in ${first}${others.length > 0 ? `, then ${listed(others.slice(0, 3))}` : ''}.`
            : 'Nothing of it stands that could be snapped.',
        });
        return;
      }
      case 'brush':
        await this.brush(cell, label);
        return;
      case 'finger': {
        const felt = await this.device?.finger(cell);
        const words = {
          groove: 'the fingertip falls into a groove',
          flush: 'nothing is felt: it is flush',
          ridge: 'the fingertip catches on a ridge',
        };
        this.found.set({ words: `${label}: ${felt ? words[felt] : 'there is no skin to feel'}.` });
        return;
      }
      case 'water': {
        const drips = await this.device?.drips(cell);
        this.found.set(
          drips === undefined
            ? { words: `${label}: nothing is there to be filled.` }
            : {
                words: `${label}: ${drips ? 'it drips' : 'it is still dry outside'} after ten minutes.`,
                keep: { cell, track: 'leaks', value: drips ? 1 : 0 },
              },
        );
      }
    }
  }

  /** Measures what the trial measures, on the cell in hand. */
  async measure(id: string): Promise<void> {
    const m = measureOf(id);
    const { cell } = this.cursor.spot();
    const value = await this.device?.measure(cell, id);
    if (!m) return;
    const shown = m.unit === 'yes/no' ? (value === 1 ? 'yes' : 'no') : `${value} ${m.unit}`.trim();
    const off = m.error > 0 ? `, ± ${show(m.error, 2)}` : '';
    this.found.set(
      value === undefined
        ? { words: `${this.labelOf(cell)}: ${m.label} cannot be measured on what lies there.` }
        : { words: `${this.labelOf(cell)}: ${m.label} ${shown}${off}.`, keep: { cell, track: id, value } },
    );
  }

  /** Keeps what was found as a reading of its cell. */
  keep(): void {
    const keep = this.found()?.keep;
    if (!keep) return;
    if (keep.track === 'load') this.bench.loadNext(keep.cell, keep.value);
    else this.bench.measure(keep.cell, keep.track, keep.value);
    this.found.set({ words: 'Kept.' });
  }

  private async brush(cell: number, label: string): Promise<void> {
    const strands = await this.device?.brush(cell);
    const [print, plan] = [this.print(), this.desk.plan()];
    if (!strands || !print?.bed || !plan) return;
    const { gone, stay } = strands;
    const words = `${label}: ${gone === 1 ? '1 hair comes' : `${gone} hairs come`} off, ${stay === 1 ? '1 stays' : `${stay} stay`}, fused.`;
    this.found.set({ words: `${words} It is photographed anew …` });
    const shots = shotsOf(plan).slice(0, 1);
    const taken = await this.device?.brushed(print.bed.seed, shots, () => undefined);
    const [photo] = taken?.ok ? taken.value : [];
    if (!photo) return;
    const record = this.desk.record();
    const why = record && photoRefusal(record, print.id, photo.hash);
    if (record && why === undefined) {
      this.keeper.putPhoto(photo.hash, photo.jpeg);
      const { hash, width, height, corners } = photo;
      this.desk.change('brush it', (r) =>
        withPhoto(r, {
          hash,
          print: print.id,
          name: 'practice, brushed',
          width,
          height,
          corners: placedCorners(corners),
        }),
      );
    }
    this.found.set({
      words: why === undefined ? `${words} A photograph of it is with the others.` : `${words} No photograph: ${why}.`,
    });
  }

  private labelOf(cell: number): string {
    return this.desk.rows().find((r) => r.cell === cell)?.label ?? '';
  }
}
