import type { ElementRef } from '@angular/core';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  signal,
  viewChild,
  type OnDestroy,
} from '@angular/core';
import { rounded, show } from '#core/base';
import { factorOf, levelWords, type Factor } from '#core/factors';
import type { Quality } from '#core/judge';
import { levelColor } from '../ui/level-color';
import { RowChart, type RowLine } from '../ui/row-chart';
import { PhotoStrips } from './photo-strips';
import { heightOfLevel, readingWords, type Row } from './sheet-model';
import { SpecimenDrawing } from './specimen-drawing';
import { SurfaceTrack } from './surface-track';
import { TrialDesk } from './trial-desk';

const ABOVE = 12;
const BELOW = 8;

/** The trial sheet: the specimen as the ruler, and beside it everything known about each cell, in the same rows. */
@Component({
  selector: 'st-sheet',
  imports: [SpecimenDrawing, RowChart, SurfaceTrack],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="heads" aria-hidden="true">
      <span class="drawing"
        >{{ desk.columns() ? 'across: ' + desk.columns()?.label : 'specimen' }}
        @if (!fromAbove()) {
          <span class="mm">mm</span>
        }
      </span>
      @if (photographed()) {
        <span class="head photo" [class.tall]="mapped()">photo</span>
      }
      @for (t of plain(); track t.id) {
        <span
          class="head"
          [class.side]="t.id !== 'planned'"
          [class.map]="t.mapped"
          [class.tall]="mapped() && !t.mapped"
          [style.flex]="t.flex"
          ><span class="title" [title]="t.label"
            >{{ t.label }} <span class="soft">{{ t.unit }}</span></span
          >
          @if (t.mapped && desk.columns(); as c) {
            <span class="columns">
              @for (w of c.words; track $index) {
                <span [title]="w">{{ w }}</span>
              }
            </span>
          }
        </span>
      }
      @if (judged()) {
        @for (q of desk.tracks(); track q.id) {
          <span
            class="head judged"
            [class.map]="mapped()"
            [style.flex]="flexOf(q)"
            [class.at]="reads() && desk.spot().track === q.id"
            ><span class="title">{{ q.label }}</span>
            @if (desk.columns(); as c) {
              <span class="columns">
                @for (w of c.words; track $index) {
                  <span [title]="w">{{ w }}</span>
                }
              </span>
            }
          </span>
        }
        @for (m of desk.measures(); track m.id) {
          <span class="head side" [style.flex]="measureFlex(m)"
            >{{ m.label }} <span class="soft">{{ m.unit }}</span></span
          >
        }
        @if (surfaced()) {
          <span class="head surface tall">together</span>
        }
        @if (together()) {
          <span class="head together">together</span>
        }
      } @else {
        <span class="head profile">layer time over height <span class="soft">s</span></span>
      }
    </div>
    <div class="body" #body>
      @if (height() > 0) {
        <st-specimen-drawing class="drawing" [height]="height()" [margin]="[above, below]" [top]="top()" />
        @if (photographed()) {
          <div class="track photo" role="group" aria-label="photo">
            @for (r of rows(); track r.cell) {
              <div
                class="cell"
                [class.lit]="desk.pointed() === r.cell"
                [style.top.px]="y(r.top)"
                [style.height.px]="y(r.bottom) - y(r.top)"
                [style.left.%]="mapped() ? r.left : null"
                [style.width.%]="mapped() ? r.width : null"
                (pointerenter)="desk.pointed.set(r.cell)"
                (pointerleave)="desk.pointed.set(undefined)"
              >
                @if (strips.strips().get(r.cell); as strip) {
                  <img [src]="strip" [alt]="'photo of ' + r.label" />
                }
              </div>
            }
          </div>
        }
        @for (t of plain(); track t.id) {
          <div
            class="track"
            [class.side]="t.id !== 'planned'"
            role="group"
            [attr.aria-label]="t.label + ' ' + t.unit"
            [style.flex]="t.flex"
          >
            @for (r of t.mapped ? rows() : lines1(); track r.cell) {
              <div
                class="cell figures"
                [class.lit]="desk.pointed() === r.cell"
                [class.differs]="t.wrong?.(r)"
                [class.doubtful]="t.doubtful?.(r)"
                [style.top.px]="y(r.top)"
                [style.height.px]="y(r.bottom) - y(r.top)"
                [style.left.%]="t.mapped ? r.left : null"
                [style.width.%]="t.mapped ? r.width : null"
                [style.right]="t.mapped ? 'auto' : null"
                [style.--level]="t.id === 'planned' ? color(r) : null"
                [class.tinted]="t.id === 'planned'"
                (pointerenter)="desk.pointed.set(r.cell)"
                (pointerleave)="desk.pointed.set(undefined)"
              >
                @if (t.bar) {
                  <span class="bar" [style.width.%]="t.bar(r)"></span>
                }
                <span>{{ t.text(r) }}</span>
                @if (t.id === 'planned' && judged() && desk.cellNoteAt(r.cell); as note) {
                  <span class="noted" [title]="note">✎</span>
                }
              </div>
            }
          </div>
        }
        @if (judged()) {
          @for (q of desk.tracks(); track q.id) {
            <div class="track judged" [style.flex]="flexOf(q)" role="group" [attr.aria-label]="q.label">
              <svg
                class="grid"
                [attr.height]="height()"
                width="100%"
                aria-hidden="true"
                preserveAspectRatio="none"
                viewBox="0 0 100 100"
              >
                @if (!mapped()) {
                  @for (s of scores; track s) {
                    <path [attr.d]="'M' + at(s) + ' 0V100'" vector-effect="non-scaling-stroke" />
                  }
                }
                @if (!mapped()) {
                  <path class="thread" [attr.d]="thread(q)" vector-effect="non-scaling-stroke" />
                }
              </svg>
              @for (r of rows(); track r.cell) {
                <button
                  type="button"
                  class="cell score"
                  [class.lit]="desk.pointed() === r.cell"
                  [class.here]="reads() && desk.spot().cell === r.cell && desk.spot().track === q.id"
                  [class.banded]="reads() && desk.spot().track === q.id && desk.band().includes(r.cell)"
                  (pointerdown)="dragFrom(r, q, $event)"
                  [style.top.px]="y(r.top)"
                  [style.height.px]="y(r.bottom) - y(r.top)"
                  [style.left.%]="mapped() ? r.left : null"
                  [style.width.%]="mapped() ? r.width : null"
                  [style.right]="mapped() ? 'auto' : null"
                  [class.heat]="mapped()"
                  [class.dark]="mapped() && inkOf(q, r) > 0.6"
                  [style.--ink-share]="mapped() ? inkOf(q, r) : null"
                  [attr.aria-label]="r.label + ', ' + q.label + ': ' + words(q, r)"
                  [attr.aria-current]="
                    reads() && desk.spot().cell === r.cell && desk.spot().track === q.id ? 'true' : null
                  "
                  [attr.data-cell]="r.cell"
                  [attr.data-track]="q.id"
                  tabindex="-1"
                  (click)="pick(r, q)"
                  (pointerenter)="desk.pointed.set(r.cell); dragOver(r, q, $event)"
                  (pointerleave)="desk.pointed.set(undefined)"
                >
                  @if (value(q, r); as v) {
                    @if (mapped()) {
                      <span class="figure figures">{{
                        v.kind === 'score' ? v.score : v.kind === 'broke' ? '✕' : '?'
                      }}</span>
                    } @else if (v.kind === 'score') {
                      <span class="dot" [style.left.%]="at(v.score)" [style.background]="color(r)"></span>
                    } @else if (v.kind === 'broke') {
                      <span class="broke" [style.left.%]="at(0)">✕</span>
                    } @else {
                      <span class="untold" [style.left.%]="50">?</span>
                    }
                    @if (v.note) {
                      <span class="noted" title="there is a note">✎</span>
                    }
                  }
                </button>
              }
            </div>
          }
          @for (m of desk.measures(); track m.id) {
            <div
              class="track side"
              [style.flex]="measureFlex(m)"
              role="group"
              [attr.aria-label]="m.label + ' ' + m.unit"
            >
              @for (r of rows(); track r.cell) {
                <button
                  type="button"
                  class="cell figures measured"
                  [class.here]="reads() && desk.spot().cell === r.cell"
                  [style.top.px]="y(r.top)"
                  [style.height.px]="y(r.bottom) - y(r.top)"
                  [style.left.%]="mapped() ? r.left : null"
                  [style.width.%]="mapped() ? r.width : null"
                  [attr.aria-label]="r.label + ', ' + m.label + ': ' + (measured(m.id, r) || 'not measured')"
                  tabindex="-1"
                  (click)="desk.spot.set({ cell: r.cell, track: desk.spot().track })"
                >
                  {{ measured(m.id, r) || '·' }}
                </button>
              }
            </div>
          }
          @if (surfaced()) {
            <div class="track surface">
              <st-surface-track [top]="mapTop()" [high]="mapHigh()" [up]="rising()" />
            </div>
          }
          @if (together()) {
            <div class="track together">
              @if (lines().length) {
                <st-row-chart
                  [top]="chartTop()"
                  [bottom]="chartBottom()"
                  [x]="[0, 4.2]"
                  [lines]="lines()"
                  label="Combined score over the height, with its uncertainty"
                  unit="of 4"
                />
              } @else if (waits()) {
                <p class="waits">{{ waits() }}</p>
              } @else {
                <!-- Names have no curve between them: each stands by itself. -->
                @for (n of named(); track n.row.cell) {
                  <div
                    class="cell"
                    [class.lit]="desk.pointed() === n.row.cell"
                    [style.top.px]="y(n.row.top)"
                    [style.height.px]="y(n.row.bottom) - y(n.row.top)"
                    [attr.aria-label]="n.row.label + ', together: ' + n.score"
                    role="img"
                  >
                    <span class="dot" [class.chosen]="n.chosen" [style.left.%]="at(+n.score)"></span>
                    <span class="beside-dot figures" [style.left.%]="at(+n.score)">{{ n.score }}</span>
                  </div>
                }
              }
            </div>
          }
        } @else {
          <div class="track profile">
            @if (profile().length) {
              <st-row-chart
                [top]="chartTop()"
                [bottom]="chartBottom()"
                [x]="[0, longest()]"
                [lines]="profile()"
                label="Time of each layer over the height"
                unit="s"
              />
              @if (threshold(); as t) {
                <span class="threshold" [class.leftward]="t > 0.5 * longest()" [style.left.%]="(100 * t) / longest()"
                  ><span>{{ t }} s at least</span></span
                >
              }
            }
          </div>
        }
        @if (lineAt(); as l) {
          <div class="chosen" [style.top.px]="l.y">
            <span class="pill figures">{{ l.text }}</span>
          </div>
        }
      }
    </div>
  `,
  styleUrl: './sheet.css',
})
export class Sheet implements OnDestroy {
  protected readonly desk = inject(TrialDesk);
  protected readonly strips = inject(PhotoStrips);
  protected readonly photographed = computed(() => this.judged() && this.strips.strips().size > 0);
  private readonly body = viewChild.required<ElementRef<HTMLElement>>('body');
  protected readonly height = signal(0);
  protected readonly above = ABOVE;
  protected readonly below = BELOW;
  protected readonly scores = [0, 1, 2, 3, 4];
  private readonly watcher = new ResizeObserver(() => this.height.set(this.body().nativeElement.clientHeight));

  protected readonly rows = computed(() => this.desk.rows());
  protected readonly reads = computed(() => this.desk.stage() === 'read');
  protected readonly judged = computed(() => this.desk.stage() === 'read' || this.desk.stage() === 'settle');
  protected readonly fromAbove = computed(() => this.desk.plan()?.built.drawing.view === 'above');
  protected readonly top = computed(() => {
    const built = this.desk.plan()?.built;
    if (!built) return 1;
    const { view, y } = built.drawing;
    return view === 'above' ? y[1] - y[0] : built.height || y[1];
  });

  private readonly perMm = computed(() => (this.height() - ABOVE - BELOW) / this.top());
  protected readonly chartTop = computed(() => this.top() + ABOVE / this.perMm());
  protected readonly chartBottom = computed(() => -BELOW / this.perMm());

  private readonly cells = computed(() => new Map((this.desk.inspection()?.cells ?? []).map((c) => [c.id, c])));

  protected readonly mapped = computed(() => this.desk.columns() !== undefined);
  /** One cell of each row: what all cells of a row share is written once. */
  protected readonly lines1 = computed(() => this.rows().filter((r) => r.at[1] === 0));
  protected readonly together = computed(
    () => !this.mapped() && this.desk.tracks().length > 0 && this.desk.record()?.confirms === undefined,
  );

  /** Two factors are drawn together as a surface, once they are settled. */
  protected readonly surfaced = computed(
    () => this.mapped() && this.desk.stage() === 'settle' && this.desk.settled()?.surface !== undefined,
  );
  /** Whether the first line of the map is the lowest. */
  private readonly lineTop = (line: number) => this.rows().find((r) => r.at[0] === line)?.top ?? 0;
  protected readonly rising = computed(() => this.lineTop(0) < this.lineTop(1));
  protected readonly mapTop = computed(() => this.y(Math.max(...this.rows().map((r) => r.top))));
  protected readonly mapHigh = computed(() => this.y(Math.min(...this.rows().map((r) => r.bottom))) - this.mapTop());

  protected readonly plain = computed(() => {
    const factor = this.desk.factor();
    const cells = this.cells();
    const unit = this.desk.blind() ? '' : (factor?.unit ?? '');
    const mapped = this.mapped();
    const plan = this.desk.plan();
    if (plan?.built.pushes) return [];
    const blind = this.desk.blind();
    const longest = Math.max(1, ...[...cells.values()].map((c) => c.layerTime));
    const tracks: {
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
    }[] = [
      {
        id: 'planned',
        label: mapped ? (factor?.label ?? 'planned') : 'planned',
        unit,
        mapped: false,
        // As wide as the longest word of a choice.
        flex: `0 0 ${Math.max(mapped ? 96 : 70, 64 + 7 * unit.length, 16 + 8 * Math.max(0, ...this.rows().map((r) => this.downWords(r).length)))}px`,
        text: (r) => this.downWords(r),
      },
    ];
    const factors = (plan?.trial.axes ?? []).flatMap((a) => factorOf(a.factor) ?? []);
    const say = (f: Factor, v: number | undefined) =>
      v === undefined ? '·' : levelWords({ ...f, unit: '' }, rounded(v, mapped && Math.abs(v) > 10 ? 0 : 3));
    const ramps = new Set((plan?.trial.axes ?? []).filter((a) => a.kind === 'ramp').map((a) => a.factor));
    const wide = mapped ? '1 1 150px' : `0 0 ${74 + 6 * unit.length}px`;
    // A map tells where the file differs; a single list tells what stands in it.
    const absent = (r: Row) => cells.get(r.cell)?.absent === true;
    const unproven = (r: Row) => cells.get(r.cell)?.notProven !== undefined;
    const wrong = (r: Row) => cells.get(r.cell)?.ok === false && !absent(r) && !unproven(r);
    const verdict = (r: Row) =>
      cells.get(r.cell)!.ok ? '✓' : absent(r) ? 'none' : unproven(r) ? 'not proven' : 'void';
    const differs = [...cells.values()].some((c) => !c.ok);
    if (mapped && (differs || !this.judged()) && factors.some((f) => f.observe ?? f.read))
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
                : say(f, inFile(cells.get(r.cell)?.effective[f.id], ramps.has(f.id))),
          wrong,
          doubtful: unproven,
        });
      if ([...cells.values()].some((c) => c.reached?.[f.id] !== undefined) && (!mapped || !this.judged()))
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
    // Many measured tracks need the room.
    const crowded = this.judged() && (this.desk.measures().length > 2 || this.photographed());
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
    if (!this.judged()) {
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
      if (!mapped)
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
    return this.mapped() && factor && !this.desk.blind() ? levelWords({ ...factor, unit: '' }, r.level) : r.words;
  }

  /** How dark a cell of a map is: the better, the lighter. */
  protected inkOf(q: Quality, r: Row): number {
    const v = this.desk.readingAt(r.cell, q.id)?.value;
    return v === 'broke' ? 1 : typeof v === 'number' ? 1 - v / 4 : 0;
  }

  protected measureFlex(m: { label: string; unit: string }): string {
    return `0 0 ${Math.max(84, 24 + 7 * (m.label.length + m.unit.length))}px`;
  }

  protected measured(track: string, r: Row): string {
    const all = this.desk.measuredAt(r.cell, track);
    if (all.length === 0) return '';
    const mean = all.reduce((a, b) => a + b, 0) / all.length;
    return all.length > 1 ? `${show(mean, 2)} (${all.length})` : show(mean, 3);
  }

  protected readonly lines = computed<RowLine[]>(() => {
    const response = this.desk.settled()?.response;
    if (!response) return [];
    const points = response.level.flatMap((level, i) => {
      const mm = heightOfLevel(this.rows(), level);
      return mm === undefined ? [] : [{ mm, mean: response.mean[i]!, low: response.low[i]!, high: response.high[i]! }];
    });
    return [
      {
        line: points.map((p) => [p.mean, p.mm]),
        band: points.map((p) => [Math.max(0, p.low), Math.min(4.2, p.high), p.mm]),
      },
    ];
  });

  /** The combined score of each name, and which is chosen. */
  protected readonly named = computed(() => {
    const settled = this.desk.settled();
    const choice = settled?.choices[0]?.choice;
    return (settled?.scores ?? []).flatMap((s) => {
      const row = this.rows().find((r) => r.cell === s.cell);
      return row && s.together !== undefined
        ? [{ row, score: show(s.together, 1), chosen: !this.desk.blind() && s.level === choice }]
        : [];
    });
  });

  protected readonly waits = computed(() => this.desk.settled()?.flags.find((f) => f.code === 'unread')?.message ?? '');

  protected readonly profile = computed<RowLine[]>(() => {
    const layers = this.desk.inspection()?.layers ?? [];
    // Beside a drawing from above the layers take the whole height, whatever it measures.
    const scale = this.top() / (this.desk.plan()?.built.height || 1);
    return layers.length > 0 ? [{ line: layers.map((l) => [Math.min(l.time, this.longest()), l.z * scale]) }] : [];
  });
  protected readonly longest = computed(() => {
    const times = (this.desk.inspection()?.layers ?? []).map((l) => l.time).sort((a, b) => a - b);
    return Math.max(10, (times[Math.floor(times.length * 0.97)] ?? 10) * 1.25);
  });
  protected readonly threshold = computed(() => this.desk.plan()?.settings.minimumLayerTime);

  protected readonly lineAt = computed(() => {
    const choice = this.desk.choice();
    if (!this.judged() || !choice || this.desk.blind()) return undefined;
    const mm = this.mapped() ? undefined : heightOfLevel(this.rows(), choice.choice);
    const f = this.desk.factor();
    if (mm === undefined || !f || f.choices) return undefined;
    const half = Math.max((choice.high - choice.low) / 2, 0) * f.shown;
    return { y: this.y(mm), text: `${show(choice.choice * f.shown)} ${f.unit} ± ${show(half, half < 3 ? 1 : 0)}` };
  });

  constructor() {
    afterNextRender(() => {
      this.watcher.observe(this.body().nativeElement);
    });
  }

  ngOnDestroy(): void {
    this.watcher.disconnect();
  }

  protected y(mm: number): number {
    return this.height() - BELOW - mm * this.perMm();
  }

  /** Where a score lies across its track, %. */
  protected at(score: number): number {
    return 10 + score * 20;
  }

  /** A track is as wide as its name needs. */
  protected flexOf(q: Quality): string {
    return `1 1 ${Math.max(this.mapped() ? 190 : 72, q.label.length * 6.4 + 12)}px`;
  }

  protected color(r: Row): string {
    return levelColor(r.share);
  }

  protected value(
    q: Quality,
    r: Row,
  ): { kind: 'score' | 'broke' | 'untold'; score: number; note: boolean } | undefined {
    const reading = this.desk.readingAt(r.cell, q.id);
    if (!reading) return undefined;
    const kind = typeof reading.value === 'number' ? 'score' : reading.value === 'broke' ? 'broke' : 'untold';
    return { kind, score: typeof reading.value === 'number' ? reading.value : 0, note: reading.note !== undefined };
  }

  protected words(q: Quality, r: Row): string {
    return readingWords(q, this.desk.readingAt(r.cell, q.id));
  }

  /** The line that joins the scores of a track, in percent of its box. */
  protected thread(q: Quality): string {
    const points = this.rows().flatMap((r) => {
      const v = this.desk.readingAt(r.cell, q.id)?.value;
      return typeof v === 'number'
        ? [`${this.at(v)} ${(100 * this.y((r.bottom + r.top) / 2)) / Math.max(1, this.height())}`]
        : [];
    });
    return points.length > 1 ? `M${points.join('L')}` : '';
  }

  private dragged: { cell: number; track: string } | undefined;
  protected dragFrom(r: Row, q: Quality, event: PointerEvent): void {
    this.dragged = this.reads() && event.button === 0 ? { cell: r.cell, track: q.id } : undefined;
    // A touch would hold on to the first cell.
    (event.target as HTMLElement).releasePointerCapture?.(event.pointerId);
  }

  /** A band is dragged over the cells of one track. */
  protected dragOver(r: Row, q: Quality, event: PointerEvent): void {
    const from = this.dragged;
    if (!from || event.buttons !== 1 || from.track !== q.id || from.cell === r.cell) return;
    const cells = this.rows().map((row) => row.cell);
    const [i, j] = [cells.indexOf(from.cell), cells.indexOf(r.cell)].sort((a, b) => a - b) as [number, number];
    this.desk.spot.set(from);
    this.desk.band.set(cells.slice(i, j + 1));
  }

  protected pick(r: Row, q: Quality): void {
    if (this.desk.band().length > 1 && this.desk.band().includes(r.cell)) return;
    this.desk.band.set([]);
    this.desk.spot.set({ cell: r.cell, track: q.id });
    if (this.desk.stage() === 'settle') this.desk.go('read');
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
