import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { show } from '#core/base';
import { readingAt, type Reading } from '#core/judge';
import { heard, measuresOf, printOfCell, type TrialRecord } from '#core/route';
import { planned } from '#core/trial';
import { blinded, rowsOf, tracksOf, type Spot } from '../trial-sheet/sheet-model';
import { PhoneBox } from './phone-box';

/** The sheet open on the desk as a phone knows it: with what was said here, by the desk’s own model. */
@Injectable()
export class PhoneSheet {
  private readonly box = inject(PhoneBox);
  /** The sheet as the desk shows it. */
  private readonly shown = signal<{ record: TrialRecord; heard: readonly string[] } | undefined>(undefined);
  /** The sheet with what was said here and is not on the desk yet. */
  readonly record = computed(() => {
    const shown = this.shown();
    if (!shown) return undefined;
    return this.box.waiting().reduce((record, said) => {
      if (said.kind === 'photo' || said.record !== record.id || shown.heard.includes(said.id)) return record;
      const next = heard(record, said);
      return next.ok ? next.value.record : record;
    }, shown.record);
  });
  readonly spot = signal<Spot>({ cell: 0, track: '' });
  readonly judge = signal('me');
  readonly plan = computed(() => {
    const r = this.record();
    const result = r && planned(r.trial);
    return result?.ok ? result.value : undefined;
  });
  /** Scores, pairs, or what is measured. */
  readonly chosen = signal<'scores' | 'pairs' | 'measures'>('scores');
  /** The one chosen; what is only measured has no scores. */
  readonly way = computed(() => {
    const ways = this.ways();
    return (ways.find((w) => w.id === this.chosen()) ?? ways[0])?.id ?? 'scores';
  });
  readonly rows = computed(() => {
    const plan = this.plan();
    const confirming = this.record()?.confirms !== undefined && this.record()?.settledOn === undefined;
    const rows = plan ? rowsOf(plan) : [];
    return confirming || this.chosen() === 'pairs' ? blinded(rows) : rows;
  });
  readonly measures = computed(() => {
    const record = this.record();
    return record ? measuresOf(record) : [];
  });
  readonly ways = computed(() => [
    ...(this.tracks().length > 0 ? [{ id: 'scores' as const, words: 'scores' }] : []),
    ...(this.tracks().length > 0 && this.cells().length > 2
      ? [{ id: 'pairs' as const, words: 'which is better?' }]
      : []),
    ...(this.measures().length > 0 ? [{ id: 'measures' as const, words: 'measured' }] : []),
  ]);
  readonly tracks = computed(() => {
    const plan = this.plan();
    return plan ? tracksOf(plan, this.record()?.readings) : [];
  });
  readonly track = computed(() => this.tracks().find((t) => t.id === this.spot().track) ?? this.tracks()[0]);
  readonly cells = computed(() => this.plan()?.cells ?? []);
  readonly print = computed(() => this.record()?.prints.at(-1));

  constructor() {
    this.box.sheet$.pipe(takeUntilDestroyed()).subscribe((sheet) => {
      if (sheet.kind === 'steady-tune/no-sheet') {
        this.shown.set(undefined);
        return;
      }
      const other = this.shown()?.record.id !== sheet.record.id;
      this.shown.set(sheet);
      const first = this.rows()[0];
      if (other && first) this.spot.set({ cell: first.cell, track: this.tracks()[0]?.id ?? '' });
    });
  }

  printOf(cell: number): string | undefined {
    const record = this.record();
    return record && printOfCell(record, this.cells(), cell)?.id;
  }

  readingOf(cell: number): Reading | undefined {
    const own = this.record()?.readings.filter((r) => r.judge === this.judge()) ?? [];
    const print = this.printOf(cell);
    return print === undefined ? undefined : readingAt(own, print, cell, this.track()?.id ?? '');
  }

  /** What is measured on a cell, in words. */
  measured(cell: number, track: string): string {
    const print = this.printOf(cell);
    const own = (this.record()?.readings ?? []).filter(
      (r) => r.track === track && r.print === print && r.cells.includes(cell),
    );
    return own.map((r) => (typeof r.value === 'number' ? show(r.value, 3) : r.value)).join(', ');
  }
}
