import { show } from '#core/base';
import { computed } from '@angular/core';
import { withReading, type Reading } from '#core/judge';
import { measuresOf, measuredAt, withMeasure } from '#core/route';
import { settleMeasured } from '#core/settle';
import type { OpenTrial } from './open-trial';

/** As many replicates as a reading can have. */
const MOST_BARS = 50;

/** What is measured on cells: numbers, left out with a reason or taken back. */
export class Measurements {
  readonly measuredWords = computed(() => {
    const plan = this.desk.plan();
    const record = this.desk.record();
    return plan && record ? settleMeasured(plan, record.readings).words : [];
  });
  readonly measures = computed(() => {
    const record = this.desk.record();
    return record && this.desk.plan() ? measuresOf(record) : [];
  });

  constructor(private readonly desk: OpenTrial) {}

  /** All numbers measured on a cell. */
  measuredAt(cell: number, track: string): number[] {
    const record = this.desk.record();
    return record ? measuredAt(record, cell, track) : [];
  }

  /** Adds a measured number to a cell, as one more replicate. */
  measure(cell: number, track: string, value: number, after?: number): void {
    const print = this.desk.printFor(cell, () => this.measure(cell, track, value, after))?.id;
    if (print === undefined) return;
    const at = { print, cell, track, ...(after !== undefined && { after }) };
    this.desk.change(`measure ${track}`, (r) => withMeasure(r, at, value));
  }

  /** The bars of a level, as many as are printed and one more once each has its load. */
  barsOf(cell: number): { bar: number; reading: Reading | undefined }[] {
    const own = this.loadsOf(cell);
    const highest = Math.max(0, ...own.map((r) => r.replicate));
    const printed = this.desk.trial()?.specimen.params['copies'] ?? 1;
    const count = Math.min(MOST_BARS, Math.max(printed, highest >= printed ? highest + 1 : 0));
    return Array.from({ length: count }, (_, i) => ({
      bar: i + 1,
      reading: own.find((r) => r.replicate === i + 1),
    }));
  }

  /** Keeps the load of a bar, N; undefined takes it out. */
  loadBar(cell: number, bar: number, load: number | undefined): void {
    const print = this.desk.printFor(cell, () => this.loadBar(cell, bar, load))?.id;
    if (print === undefined) return;
    const { fracture } = this.loadsOf(cell).find((r) => r.replicate === bar) ?? {};
    const at = { print, cell, track: 'load', judge: 'me', replicate: bar, ...(fracture && { fracture }) };
    this.desk.change(`load of bar ${bar}`, (r) => ({ ...r, readings: withReading(r.readings, at, load) }));
  }

  /** Keeps the load of the next bar of a level that has none yet, N. */
  loadNext(cell: number, load: number): void {
    const next = this.barsOf(cell).find((b) => b.reading === undefined);
    if (next) this.loadBar(cell, next.bar, load);
  }

  /** Says how a bar broke, or why its load does not count; undefined takes that back. */
  amendBar(cell: number, bar: number, said: Pick<Reading, 'fracture' | 'excluded'>): void {
    const own = this.loadsOf(cell).find((r) => r.replicate === bar);
    if (!own) return;
    const entries = Object.entries({ ...own, ...said }).filter(([, v]) => v !== undefined);
    const amended = Object.fromEntries(entries) as Reading;
    this.desk.change(`bar ${bar}`, (r) => ({ ...r, readings: r.readings.map((q) => (q === own ? amended : q)) }));
  }

  private loadsOf(cell: number): Reading[] {
    return (this.desk.record()?.readings ?? []).filter((r) => r.track === 'load' && r.cells.includes(cell));
  }

  /** Leaves the last number of a cell out of the sums, with the reason; it stays in the record. */
  leaveOut(cell: number, track: string, reason: string): void {
    this.desk.change(`leave out ${track}`, (r) => {
      const at = r.readings.findLastIndex(
        (q) => q.track === track && q.cells.includes(cell) && q.excluded === undefined,
      );
      return at < 0
        ? r
        : { ...r, readings: r.readings.map((q, i) => (i === at ? { ...q, excluded: reason.slice(0, 300) } : q)) };
    });
  }

  /** Numbers of a cell that are left out, with why. */
  leftOutAt(cell: number, track: string): string[] {
    return (this.desk.record()?.readings ?? []).flatMap((r) =>
      r.track === track && r.cells.includes(cell) && r.excluded !== undefined
        ? [`${String(r.value)} (${r.excluded})`]
        : [],
    );
  }

  /** Takes the last number of a cell back. */
  unmeasure(cell: number, track: string): void {
    this.desk.change(`take back ${track}`, (r) => {
      const at = r.readings.findLastIndex((q) => q.track === track && q.cells.includes(cell));
      return at < 0 ? r : { ...r, readings: r.readings.filter((_, i) => i !== at) };
    });
  }

  /** Keeps heights by caliper, mm, each for the cell in which it lies. */
  keepHeights(heights: readonly (readonly [string, number])[], cellAt: (mm: number) => number | undefined): void {
    const measured = heights.flatMap(([track, mm]) => {
      const cell = cellAt(mm) ?? this.desk.rows().at(-1)?.cell;
      const keep = () => this.keepHeights(heights, cellAt);
      const print = cell === undefined ? undefined : this.desk.printFor(cell, keep)?.id;
      return cell === undefined || print === undefined ? [] : [{ print, cell, track, mm }];
    });
    // A height of a print that is not noted waits for it, with the others.
    if (measured.length === 0 || this.desk.unnoted()) return;
    this.desk.change(`height of ${show(measured[0]!.mm, 2)} mm`, (r) =>
      measured.reduce((now, { print, cell, track, mm }) => withMeasure(now, { print, cell, track }, mm), r),
    );
  }
}
