import type { ElementRef } from '@angular/core';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  viewChild,
  type OnDestroy,
} from '@angular/core';
import { show } from '#core/base';
import type { Quality } from '#core/judge';
import { widthOf } from '#core/settle';
import { PlainTracks } from './plain-tracks';
import { ABOVE, BELOW, SheetFrame } from './sheet-frame';
import { heightOfLevel } from './sheet-model';
import { SpecimenDrawing } from './specimen-drawing';
import { SurfaceTrack } from './surface-track';
import { HeatTrack } from './tracks/heat-track';
import { JudgedTrack } from './tracks/judged-track';
import { MeasuredTrack } from './tracks/measured-track';
import { PhotoTrack } from './tracks/photo-track';
import { PlainTrackCells } from './tracks/plain-track';
import { ProfileTrack } from './tracks/profile-track';
import { TogetherTrack } from './tracks/together-track';
import { TrialDesk } from './trial-desk';

/** The trial sheet: the specimen as the ruler, and beside it everything known about each cell, in the same rows. */
@Component({
  selector: 'st-sheet',
  imports: [
    SpecimenDrawing,
    SurfaceTrack,
    PlainTrackCells,
    JudgedTrack,
    MeasuredTrack,
    TogetherTrack,
    ProfileTrack,
    HeatTrack,
    PhotoTrack,
  ],
  providers: [SheetFrame, PlainTracks],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="heads" aria-hidden="true">
      <span class="drawing"
        >{{ desk.columns() ? 'across: ' + desk.columns()?.label : 'specimen' }}
        @if (frame.scaled()) {
          <span class="mm">mm</span>
        }
      </span>
      @if (plain.crowding()) {
        <span class="head photo" [class.tall]="frame.mapped()">photo</span>
      }
      @for (t of plain.all(); track t.id) {
        <span
          class="head"
          [class.side]="t.id !== 'planned'"
          [class.map]="t.mapped"
          [class.tall]="frame.mapped() && !t.mapped"
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
      @if (frame.judged()) {
        @for (q of desk.tracks(); track q.id) {
          <span
            class="head judged"
            [class.map]="frame.mapped()"
            [style.flex]="flexOf(q)"
            [class.at]="frame.reads() && desk.cursor.spot().track === q.id"
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
        @for (m of desk.bench.measures(); track m.id) {
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
      } @else if (!desk.pushes()) {
        @if (heated()) {
          <span class="head profile">nozzle <span class="soft">°C</span></span>
        }
        <span class="head profile"
          >{{ frame.narrow() ? 'over height' : 'layer time over height' }} <span class="soft">s</span></span
        >
      }
    </div>
    <div class="body" #body>
      @if (frame.height() > 0) {
        <st-specimen-drawing class="drawing" [height]="frame.height()" [margin]="[above, below]" [top]="frame.top()" />
        @if (plain.crowding()) {
          <st-photo-track class="track photo" role="group" aria-label="photo" />
        }
        @for (t of plain.all(); track t.id) {
          <st-plain-track
            class="track"
            [class.side]="t.id !== 'planned'"
            role="group"
            [attr.aria-label]="t.label + ' ' + t.unit"
            [style.flex]="t.flex"
            [track]="t"
          />
        }
        @if (frame.judged()) {
          @for (q of desk.tracks(); track q.id) {
            <st-judged-track
              class="track judged"
              [style.flex]="flexOf(q)"
              role="group"
              [attr.aria-label]="q.label"
              [quality]="q"
            />
          }
          @for (m of desk.bench.measures(); track m.id) {
            <st-measured-track
              class="track side"
              [style.flex]="measureFlex(m)"
              role="group"
              [attr.aria-label]="m.label + ' ' + m.unit"
              [measure]="m"
            />
          }
          @if (surfaced()) {
            <div class="track surface">
              <st-surface-track [top]="mapTop()" [high]="mapHigh()" [up]="rising()" />
            </div>
          }
          @if (together()) {
            <st-together-track class="track together" />
          }
        } @else if (!desk.pushes()) {
          @if (heated()) {
            <st-heat-track class="track profile" />
          }
          <st-profile-track class="track profile" />
        }
        @if (lineAt(); as l) {
          <div class="chosen" [class.beside]="!frame.scaled()" [style.top.px]="l.y">
            <span class="pill figures">{{ l.text }}</span>
          </div>
        }
      }
    </div>
  `,
  styleUrl: './sheet.css',
})
export class Sheet implements OnDestroy {
  protected readonly frame = inject(SheetFrame);
  protected readonly plain = inject(PlainTracks);
  protected readonly desk = inject(TrialDesk);
  private readonly body = viewChild.required<ElementRef<HTMLElement>>('body');
  protected readonly above = ABOVE;
  protected readonly below = BELOW;
  private readonly watcher = new ResizeObserver(() => {
    const { clientHeight, clientWidth } = this.body().nativeElement;
    this.frame.height.set(clientHeight);
    this.frame.width.set(clientWidth);
  });

  protected readonly together = computed(
    () => !this.frame.mapped() && this.desk.tracks().length > 0 && this.desk.record()?.confirms === undefined,
  );

  /** What the nozzle shows is drawn while it prints, where rows lie at their heights. */
  protected readonly heated = computed(() => this.frame.scaled() && (this.desk.running()?.heat.length ?? 0) > 1);

  /** Two factors are drawn together as a surface, once they are settled. */
  protected readonly surfaced = computed(
    () =>
      this.frame.mapped() && this.desk.stage() === 'settle' && this.desk.settlement.settled()?.surface !== undefined,
  );
  /** Whether the first line of the map is the lowest. */
  private readonly lineTop = (line: number) => this.frame.rows().find((r) => r.at[0] === line)?.top ?? 0;
  protected readonly rising = computed(() => this.lineTop(0) < this.lineTop(1));
  protected readonly mapTop = computed(() => this.frame.y(Math.max(...this.frame.rows().map((r) => r.top))));
  protected readonly mapHigh = computed(
    () => this.frame.y(Math.min(...this.frame.rows().map((r) => r.bottom))) - this.mapTop(),
  );

  protected measureFlex(m: { label: string; unit: string }): string {
    return `0 0 ${Math.max(84, 24 + 7 * (m.label.length + m.unit.length))}px`;
  }

  protected readonly lineAt = computed(() => {
    const choice = this.desk.settlement.choice();
    if (!this.frame.judged() || !choice || this.desk.blind()) return undefined;
    const mm = this.frame.mapped() ? undefined : heightOfLevel(this.frame.rows(), choice.choice);
    const f = this.desk.factor();
    if (mm === undefined || !f || f.choices) return undefined;
    const [low, high] = widthOf(choice);
    const half = Math.max((high - low) / 2, 0) * f.shown;
    return {
      y: this.frame.y(mm),
      text: `${show(choice.choice * f.shown, 3)} ${f.unit} ± ${show(half, half < 0.3 ? 3 : half < 3 ? 1 : 0)}`,
    };
  });

  constructor() {
    afterNextRender(() => {
      this.watcher.observe(this.body().nativeElement);
    });
  }

  ngOnDestroy(): void {
    this.watcher.disconnect();
  }

  /** A track is as wide as its name needs. */
  protected flexOf(q: Quality): string {
    return `1 1 ${Math.max(this.frame.mapped() ? 190 : 72, q.label.length * 6.4 + 12)}px`;
  }
}
