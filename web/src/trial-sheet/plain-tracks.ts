import { computed, inject, Injectable } from '@angular/core';
import { rounded, show } from '#core/base';
import { factorOf, levelWords, type Factor } from '#core/factors';
import { heatedOtherwise } from '#core/settle';
import { PhotoStrips } from './photo-strips';
import { SheetFrame } from './sheet-frame';
import type { Row } from './sheet-model';
import { TrialDesk } from './trial-desk';

/** A track of words or figures. */
export interface PlainTrack {
  id: string;
  label: string;
  unit: string;
  flex: string;
  /** Each cell of a map has its own figure there. */
  mapped: boolean;
  text(r: Row): string;
  wrong?(r: Row): boolean;
  doubtful?(r: Row): boolean;
  bar?(r: Row): number;
}

/** Which tracks of words and figures stand on the sheet, and what is in them. */
@Injectable()
export class PlainTracks {
  private readonly desk = inject(TrialDesk);
  private readonly frame = inject(SheetFrame);
  private readonly strips = inject(PhotoStrips);
  private readonly cells = this.desk.cells;
  /** Whether the photo of the print stands beside what is judged. */
  readonly crowding = computed(() => this.frame.judged() && this.strips.strips().size > 0);

  readonly all = computed((): PlainTrack[] => {
    const factor = this.desk.factor();
    const cells = this.cells();
    const unit = this.desk.blind() ? '' : (factor?.unit ?? '');
    const mapped = this.frame.mapped();
    const plan = this.desk.plan();
    if (this.desk.pushes()) return [];
    const blind = this.desk.blind();
    const longest = Math.max(1, ...[...cells.values()].map((c) => c.layerTime));
    const tracks: PlainTrack[] = [
      {
        id: 'planned',
        label: mapped ? (factor?.label ?? 'planned') : 'planned',
        unit,
        mapped: false,
        // As wide as the longest word of a choice.
        flex: `0 0 ${Math.max(mapped ? 96 : 70, 64 + 7 * unit.length, 16 + 8 * Math.max(0, ...this.frame.rows().map((r) => this.downWords(r).length)))}px`,
        text: (r) => this.downWords(r),
      },
    ];
    const axes = plan?.trial.axes ?? [];
    const factors = axes.flatMap((a) => factorOf(a.factor) ?? []);
    /** A factor, and what moves along with it. */
    const together = (f: Factor) => [
      f,
      ...axes.flatMap((a) => (a.factor === f.id && a.also ? (factorOf(a.also.factor) ?? []) : [])),
    ];
    const say = (f: Factor, v: number | undefined) =>
      v === undefined ? '·' : levelWords({ ...f, unit: '' }, rounded(v, mapped && Math.abs(v) > 10 ? 0 : 3));
    const ramps = new Set((plan?.trial.axes ?? []).filter((a) => a.kind === 'ramp').map((a) => a.factor));
    const longestWord = factor?.choices ? Math.max(0, ...this.frame.rows().map((r) => this.downWords(r).length)) : 0;
    const wide = mapped ? '1 1 150px' : `0 0 ${Math.max(74 + 6 * unit.length, 16 + 8 * longestWord)}px`;
    // A map tells where the file differs; a single list tells what stands in it.
    const absent = (r: Row) => cells.get(r.cell)?.absent === true;
    const unproven = (r: Row) => cells.get(r.cell)?.notProven !== undefined;
    const wrong = (r: Row) => cells.get(r.cell)?.ok === false && !absent(r) && !unproven(r);
    const verdict = (r: Row) =>
      cells.get(r.cell)!.ok ? '✓' : absent(r) ? 'none' : unproven(r) ? 'not proven' : 'void';
    const differs = [...cells.values()].some((c) => !c.ok);
    if (mapped && (differs || !this.frame.judged()) && factors.some((f) => f.observe ?? f.read))
      tracks.push({
        id: 'file',
        label: 'in the file',
        unit: '',
        mapped: true,
        // A column wide enough for a word, as far as there is room.
        flex: `2 1 ${Math.max(130, 64 * (this.desk.columns()?.words.length ?? 0))}px`,
        text: (r) => (cells.has(r.cell) ? verdict(r) : '·'),
        wrong,
        doubtful: unproven,
      });
    for (const f of blind ? [] : factors) {
      if (!mapped)
        tracks.push({
          id: 'file',
          label: 'in the file',
          unit: f.unit,
          mapped: false,
          // As wide as what may stand there.
          flex: [...cells.values()].some((c) => c.notProven) ? '0 0 104px' : wide,
          text: (r) =>
            absent(r)
              ? 'none'
              : unproven(r)
                ? 'not proven'
                : together(f)
                    .map((g) => say(g, inFile(cells.get(r.cell)?.effective[g.id], ramps.has(g.id))))
                    .join(' · '),
          wrong,
          doubtful: unproven,
        });
      if ([...cells.values()].some((c) => c.reached?.[f.id] !== undefined) && (!mapped || !this.frame.judged()))
        tracks.push({
          id: `reached-${f.id}`,
          label: mapped ? `${f.label} reached` : 'reached',
          unit: f.unit,
          mapped,
          flex: mapped ? wide : `0 0 ${70 + 6 * f.unit.length}px`,
          text: (r) =>
            cells.has(r.cell) && !absent(r)
              ? say(f, cells.get(r.cell)?.reached?.[f.id] ?? cells.get(r.cell)?.planned[f.id])
              : '·',
          wrong: (r) => cells.get(r.cell)?.reached?.[f.id] !== undefined,
        });
    }
    const heated = this.desk.print()?.heated ?? [];
    const otherwise = new Set(heatedOtherwise(plan?.cells ?? [], heated).map((h) => h.cell));
    const shown = new Map(heated.map((h) => [h.cell, h.nozzle]));
    if (!blind && !mapped && shown.size > 0 && factors.some((f) => f.id === 'nozzle-temperature'))
      tracks.push({
        id: 'heated',
        label: 'shown',
        unit: '°C',
        mapped: false,
        flex: '0 0 80px',
        text: (r) => (shown.has(r.cell) ? show(shown.get(r.cell)!, 1) : '·'),
        wrong: (r) => otherwise.has(r.cell),
      });
    // Many measured tracks need the room.
    const crowded =
      this.frame.judged() && (this.desk.bench.measures().length > 2 || this.crowding() || this.frame.narrow());
    if (crowded) return tracks.filter((t) => t.id !== 'file' || differs);
    tracks.push({
      id: 'layer-time',
      label: 'layer time',
      unit: 's',
      mapped: false,
      flex: '0 0 80px',
      text: (r) => (cells.has(r.cell) ? cells.get(r.cell)!.layerTime.toFixed(1) : '·'),
      bar: (r) => (100 * (cells.get(r.cell)?.layerTime ?? 0)) / longest,
    });
    if (!this.frame.judged()) {
      if (!mapped)
        tracks.push({
          id: 'time',
          label: 'time',
          unit: 'min',
          mapped: false,
          flex: '0 0 70px',
          text: (r) => (cells.has(r.cell) ? (cells.get(r.cell)!.time / 60).toFixed(1) : '·'),
        });
      if (!mapped || ((this.desk.columns()?.words.length ?? 0) <= 6 && tracks.length < 4))
        tracks.push({
          id: 'mass',
          label: 'mass',
          unit: 'g',
          mapped,
          flex: mapped ? '1 1 220px' : '0 0 70px',
          text: (r) => (cells.has(r.cell) ? cells.get(r.cell)!.mass.toFixed(2) : '·'),
        });
      if (!mapped && !this.frame.narrow())
        tracks.push({
          id: 'crossings',
          label: 'crossings',
          unit: '',
          mapped: false,
          flex: '0 0 78px',
          text: (r) => (cells.has(r.cell) ? String(cells.get(r.cell)!.crossings.count) : '·'),
        });
    }
    return tracks;
  });

  /** The level that runs down the sheet, in words. */
  private downWords(r: Row): string {
    const factor = this.desk.factor();
    return this.frame.mapped() && factor && !this.desk.blind() ? levelWords({ ...factor, unit: '' }, r.level) : r.words;
  }
}

/** The value in the file: what most of the cell has; on a ramp the mean over the cell. */
function inFile(values: readonly { value: number; share: number }[] | undefined, ramp: boolean): number | undefined {
  if (!ramp || !values || values.length === 0) return values?.[0]?.value;
  return rounded(
    values.reduce((sum, v) => sum + v.value * v.share, 0),
    4,
  );
}
