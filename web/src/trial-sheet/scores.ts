import { computed, signal, type WritableSignal } from '@angular/core';
import { withBand, withReading, type Reading } from '#core/judge';
import { withNote } from '#core/route';
import { stepOn, type Spot } from './sheet-model';
import type { OpenTrial } from './open-trial';
import type { CellCursor } from './cell-cursor';

/** What is judged: what stands on each cell and track, and what is said of it. */
export class Scores {
  /** Who reads, and for the which time. */
  readonly judge = signal('me');
  readonly replicate: WritableSignal<number>;
  readonly brushed: WritableSignal<boolean>;
  /**
   * What stands on each cell and track, the last one said. While reading, only what this person said this time: another's
   * score would sway it.
   */
  private readonly standing = computed(() => {
    const [reads, judge, replicate, brushed] = [
      this.desk.stage() === 'read',
      this.judge(),
      this.replicate(),
      this.brushed(),
    ];
    const twice = new Set(this.desk.tracks().flatMap((t) => (t.brush === true ? [t.id] : [])));
    const all = new Map<string, Reading>();
    for (const r of this.desk.record()?.readings ?? []) {
      const after = r.brushed ?? false;
      const own = reads
        ? r.judge === judge && r.replicate === replicate && after === (brushed && twice.has(r.track))
        : !after;
      if (own) for (const cell of r.cells) all.set(`${r.print} ${cell} ${r.track}`, r);
    }
    return all;
  });

  constructor(
    private readonly desk: OpenTrial,
    private readonly cursor: CellCursor,
  ) {
    this.replicate = desk.ofTrial<number>(() => 1);
    this.brushed = desk.ofTrial<boolean>(() => false);
  }

  readingAt(cell: number, track: string): Reading | undefined {
    const print = this.desk.printOfCell(cell);
    return print && this.standing().get(`${print.id} ${cell} ${track}`);
  }

  /** Whether a track is read twice, before and after brushing. */
  brushes(track: string): boolean {
    return this.desk.tracks().some((t) => t.id === track && t.brush === true);
  }

  /** Says a reading at the spot and steps on. */
  say(value: Reading['value']): void {
    const at = this.cursor.spot();
    const band = this.cursor.band();
    if (band.length > 1 && band.includes(at.cell)) {
      this.putBand(at.track, band, value);
      this.cursor.band.set([]);
      const last = this.desk.rows().findLast((r) => band.includes(r.cell))!;
      this.cursor.spot.set(stepOn(this.desk.rows(), this.desk.tracks(), { ...at, cell: last.cell }));
      return;
    }
    this.put(at, value);
    this.cursor.spot.set(stepOn(this.desk.rows(), this.desk.tracks(), at));
  }

  /** One reading over a band of cells. */
  private putBand(track: string, cells: readonly number[], value: Reading['value']): void {
    const print = this.desk.printFor(cells[0]!, () => this.putBand(track, cells, value));
    if (!print) return;
    const label = this.desk.tracks().find((t) => t.id === track)?.label ?? track;
    this.desk.change(`${label} of ${cells.length} cells: ${value}`, (r) => ({
      ...r,
      readings: withBand(r.readings, { print: print.id, track, ...this.reader(track) }, cells, value),
    }));
  }

  /** Who reads, the which time, and whether after brushing. */
  private reader(track: string): Pick<Reading, 'judge' | 'replicate' | 'brushed'> {
    return {
      judge: this.judge(),
      replicate: this.replicate(),
      ...(this.brushed() && this.brushes(track) && { brushed: true }),
    };
  }

  /** The score at the spot does not count, with the reason; it stays in the record. */
  exclude(reason: string): void {
    const at = this.cursor.spot();
    const here = this.readingAt(at.cell, at.track);
    if (!here) return;
    this.desk.change('leave out a score', (r) => ({
      ...r,
      readings: r.readings.map((q) => (q === here ? { ...q, excluded: reason.slice(0, 300) } : q)),
    }));
  }

  /** The score at the spot counts again. */
  include(): void {
    const at = this.cursor.spot();
    const here = this.readingAt(at.cell, at.track);
    this.desk.change('count a score again', (r) => ({
      ...r,
      readings: r.readings.map((q) => {
        if (q !== here) return q;
        const { excluded: _, ...rest } = q;
        return rest;
      }),
    }));
  }

  /** Takes the reading at the spot out. */
  clear(): void {
    this.put(this.cursor.spot(), undefined);
  }

  private put(at: Spot, value: Reading['value'] | undefined): void {
    const print = this.desk.printFor(at.cell, () => this.put(at, value));
    if (!print) return;
    const label = this.desk.tracks().find((t) => t.id === at.track)?.label ?? at.track;
    const row = this.desk.rows().find((r) => r.cell === at.cell);
    const words = value === undefined ? `clear ${label} of ${row?.label}` : `${label} of ${row?.label}: ${value}`;
    const note = this.readingAt(at.cell, at.track)?.note;
    this.desk.change(words, (r) => ({
      ...r,
      readings: withReading(
        r.readings,
        {
          print: print.id,
          track: at.track,
          ...this.reader(at.track),
          cell: at.cell,
          ...(note !== undefined && { note }),
        },
        value,
      ),
    }));
  }

  /** What was noted of a cell as a whole. */
  cellNoteAt(cell: number): string | undefined {
    const print = this.desk.printOfCell(cell);
    return this.desk.record()?.notes?.find((n) => n.print === print?.id && n.cell === cell)?.text;
  }

  /** Puts a note on the reading at the spot; where nothing is read yet, on the cell as a whole. */
  note(text: string): void {
    const { cell, track } = this.cursor.spot();
    const print = this.desk.printFor(cell, () => this.note(text))?.id;
    if (print === undefined) return;
    const reading = this.readingAt(cell, track);
    this.desk.change('note', (r) => withNote(r, { print, cell, reading }, text));
  }
}
