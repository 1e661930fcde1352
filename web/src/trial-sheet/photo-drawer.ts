import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, model, signal, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Select } from 'primeng/select';
import { Drawer } from 'primeng/drawer';
import { sentence } from '#core/base';
import { perspective, straightened, type Corners } from '#core/photo';
import { photoRefusal, UNTOUCHED, type Photo } from '#core/route';
import { Keeper } from '../data/keeper';
import { photoFile } from '../data/photo-file';
import { painted, PhotoStrips, pixelsOf } from './photo-strips';
import { TrialDesk } from './trial-desk';

const cornerWords = ['upper left', 'upper right', 'lower right', 'lower left'];

/** Photos of the print: added, straightened by four corners, and two of them held side by side. */
@Component({
  selector: 'st-photo-drawer',
  imports: [Drawer, Select, FormsModule, Checkbox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-drawer
      [(visible)]="open"
      position="right"
      header="Photos of the print"
      ariaCloseLabel="Close the photos"
      [style]="{ width: 'min(1060px, 98vw)' }"
    >
      <div class="bar">
        <label class="act main"
          >Add photos
          <input type="file" accept="image/*" multiple class="visually-hidden" (change)="add($event)" />
        </label>
        @for (p of photos(); track p.hash) {
          <button
            type="button"
            class="act small"
            [class.on]="at() === $index"
            [attr.aria-pressed]="at() === $index"
            (click)="at.set($index)"
          >
            {{ named(p) }}
          </button>
        }
        <label
          >shows
          <p-select
            ariaLabel="What the photo shows"
            size="small"
            [options]="views()"
            optionLabel="label"
            optionValue="cell"
            [ngModel]="shows()"
            (ngModelChange)="show($event)"
          />
        </label>
        @if (photos().length > 1) {
          <label
            ><p-checkbox [binary]="true" [ngModel]="beside()" (ngModelChange)="beside.set($event)" /> beside
            {{ named(photos()[other()]!) }}</label
          >
        }
      </div>
      @if (problem(); as p) {
        <p class="wrong" role="alert">{{ p }}</p>
      }
      @if (photo(); as p) {
        @if (p.cell !== undefined && !beside()) {
          <div class="stage"><img [src]="source()" [alt]="named(p)" draggable="false" /></div>
        } @else if (beside()) {
          <p class="soft small">
            Both straightened to the specimen: wheel or + and − zoom, drag or arrows move, in both alike.
          </p>
          <div
            class="two"
            tabindex="0"
            role="group"
            aria-label="Two photos, linked"
            (wheel)="wheel($event)"
            (pointermove)="pan($event)"
            (keydown)="zoomKey($event)"
          >
            @for (side of [p, photos()[other()]!]; track side.hash) {
              <div class="frame">
                <canvas
                  [attr.data-hash]="side.hash"
                  [style.transform]="'translate(' + shift()[0] + 'px,' + shift()[1] + 'px) scale(' + zoom() + ')'"
                ></canvas>
                <span class="name">{{ named(side) }}</span>
              </div>
            }
          </div>
        } @else {
          <p class="soft small">
            Drag the four corners to the corners of the specimen as it is drawn on the sheet; each row then gets its
            strip.
          </p>
          <div class="stage" #stage (pointermove)="drag($event)" (pointerup)="drop()" (pointerleave)="drop()">
            <img [src]="source()" [alt]="named(p)" draggable="false" />
            <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
              @for (l of grid(); track $index) {
                <path [attr.d]="l" vector-effect="non-scaling-stroke" />
              }
            </svg>
            @for (c of corners(); track $index) {
              <button
                type="button"
                class="corner"
                [style.left.%]="100 * c[0]"
                [style.top.%]="100 * c[1]"
                [attr.aria-label]="words[$index] + ' corner'"
                (pointerdown)="grab($index, $event)"
                (keydown)="nudge($index, $event)"
              ></button>
            }
          </div>
          @if (crossed(); as c) {
            <p class="wrong small" role="alert">{{ c }}</p>
          }
        }
        <div class="bar">
          @if (p.cell !== undefined) {
            <span class="soft">shown in the row of {{ rowOf(p.cell) }}</span>
          } @else if (strips.isShown(at())) {
            <span class="soft">shown in the rows of the sheet</span>
          } @else {
            <button type="button" class="act small" (click)="strips.chosen.set(at())">Show it in the rows</button>
          }
          <button type="button" class="act bare small" (click)="remove()">Take it out</button>
        </div>
      } @else {
        <p class="soft">
          No photo yet. A straight look at the whole print, in raking light and before a dark ground, shows most; all
          photos stay in this browser.
        </p>
      }
    </p-drawer>
  `,
  styles: `
    .bar {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
      margin-bottom: 8px;
    }
    .bar .on {
      border-color: var(--madder);
      color: var(--madder);
    }
    .stage {
      position: relative;
      width: fit-content;
      max-width: 100%;
      touch-action: none;
    }
    .stage img {
      display: block;
      max-width: 100%;
      max-height: 62vh;
      user-select: none;
    }
    .stage svg {
      position: absolute;
      inset: 0;
      width: 100%;
      height: 100%;
      overflow: visible;
    }
    .stage path {
      fill: none;
      stroke: var(--madder);
      stroke-width: 1.5;
    }
    .corner {
      position: absolute;
      width: 26px;
      height: 26px;
      margin: -13px;
      padding: 0;
      border: 2px solid var(--madder);
      border-radius: 50%;
      background: rgb(255 255 255 / 45%);
      cursor: grab;
      touch-action: none;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
      height: 62vh;
    }
    .frame {
      position: relative;
      overflow: hidden;
      border: 1px solid var(--line);
      background: var(--well);
    }
    .frame canvas {
      transform-origin: 0 0;
      max-width: 100%;
      max-height: 100%;
    }
    .frame .name {
      position: absolute;
      left: 6px;
      bottom: 4px;
      padding: 1px 6px;
      background: var(--sheet);
      font-size: 12px;
    }
    .wrong {
      color: var(--fault);
    }
  `,
})
export class PhotoDrawer {
  readonly open = model(false);
  protected readonly desk = inject(TrialDesk);
  protected readonly strips = inject(PhotoStrips);
  private readonly keeper = inject(Keeper);
  private readonly stage = viewChild<ElementRef<HTMLElement>>('stage');
  protected readonly words = cornerWords;
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly at = signal(0);
  protected readonly beside = signal(false);
  protected readonly source = signal('');
  protected readonly zoom = signal(1);
  protected readonly shift = signal<readonly [number, number]>([0, 0]);
  /** Corners while they are dragged. */
  private readonly moving = signal<Photo['corners'] | undefined>(undefined);
  private held: number | undefined;

  protected readonly photos = computed(() => this.desk.record()?.photos ?? []);
  protected readonly photo = computed(() => this.photos()[Math.min(this.at(), this.photos().length - 1)]);
  protected readonly other = computed(() => (this.at() + 1) % Math.max(1, this.photos().length));
  protected readonly corners = computed<Photo['corners']>(() => this.moving() ?? this.photo()?.corners ?? UNTOUCHED);
  protected readonly crossed = computed(() => {
    const way = perspective(this.corners());
    return way.ok ? undefined : `${way.faults[0]!.wrong}; ${way.faults[0]!.right}`;
  });
  /** The outline, and the borders of the rows as they lie in the photo. */
  protected readonly grid = computed(() => {
    const way = perspective(this.corners());
    if (!way.ok)
      return [
        `M${this.corners()
          .map((c) => c.join(' '))
          .join('L')}Z`,
      ];
    const line = (a: readonly [number, number], b: readonly [number, number]) => {
      const [p, q] = [way.value(...a), way.value(...b)];
      return `M${p[0]} ${p[1]}L${q[0]} ${q[1]}`;
    };
    const built = this.desk.plan()?.built;
    const high = built?.height ?? 1;
    const borders =
      built?.drawing.view === 'side'
        ? [...new Set(built.places.flatMap((p) => p.z))].map((z) => 1 - z / high).filter((v) => v > 0.001 && v < 0.999)
        : [];
    return [
      line([0, 0], [1, 0]),
      line([1, 0], [1, 1]),
      line([1, 1], [0, 1]),
      line([0, 1], [0, 0]),
      ...borders.map((v) => line([0, v], [1, v])),
    ];
  });

  constructor() {
    effect((onCleanup) => {
      const hash = this.open() ? this.photo()?.hash : undefined;
      let url = '';
      if (hash !== undefined)
        void this.keeper.photo(hash).then((blob) => {
          if (!blob) return;
          url = URL.createObjectURL(blob);
          this.source.set(url);
        });
      onCleanup(() => URL.revokeObjectURL(url));
    });
    effect(() => {
      if (!this.open() || !this.beside()) return;
      const two = [this.photo(), this.photos()[this.other()]];
      setTimeout(() => two.forEach((p) => p && void this.paint(p)));
    });
  }

  private async paint(photo: Photo): Promise<void> {
    const pixels = await pixelsOf(this.keeper, photo);
    const drawing = this.desk.plan()?.built;
    const canvas = document.querySelector<HTMLCanvasElement>(`.two canvas[data-hash="${photo.hash}"]`);
    if (!pixels || !drawing || !canvas) return;
    const { x, y, view } = drawing.drawing;
    const high = view === 'above' ? y[1] - y[0] : drawing.height || y[1];
    const scale = 900 / Math.max(high, x[1] - x[0]);
    const whole = { left: 0, right: 1, top: 0, bottom: 1 };
    const flat = straightened(
      pixels,
      photo.corners,
      whole,
      Math.round((x[1] - x[0]) * scale),
      Math.round(high * scale),
    );
    if (flat.ok) painted(canvas, flat.value);
  }

  protected async add(event: Event): Promise<void> {
    const input = event.target as HTMLInputElement;
    const files = [...(input.files ?? [])];
    input.value = '';
    // A further photo shows the whole print; what it shows can be said once it is there.
    await this.take(files, this.photo() ? -1 : this.wanted());
  }

  private async take(files: readonly File[], cell: number): Promise<void> {
    this.problem.set(undefined);
    const print = cell >= 0 ? this.desk.printOfCell(cell) : this.desk.print();
    if (!print) return;
    for (const file of files) {
      const made = await photoFile(file, file.name);
      if (!made.ok) {
        this.problem.set(made.faults.map(sentence).join(' '));
        continue;
      }
      const { hash, blob, width, height } = made.value;
      const record = this.desk.record();
      const no = record && photoRefusal(record, print.id, hash);
      if (no) {
        this.problem.set(no);
        return;
      }
      this.keeper.putPhoto(hash, await blob.arrayBuffer());
      this.desk.addPhoto({
        hash,
        print: print.id,
        name: file.name.slice(0, 120),
        width,
        height,
        ...(cell >= 0 && { cell }),
      });
      this.at.set(this.photos().length - 1);
      if (cell < 0) this.strips.chosen.set(this.at());
    }
  }

  /** Of a photo to be added while there is none: the cell that it will show. */
  private readonly wanted = signal(-1);
  /** The cell that the photo in hand shows, or −1 for the whole print. */
  protected readonly shows = computed(() => {
    const photo = this.photo();
    return photo ? (photo.cell ?? -1) : this.wanted();
  });

  /** Its name; of two prints that were photographed alike also which print it is of. */
  protected named(photo: Photo): string {
    const alike = this.photos().some((p) => p.name === photo.name && p.print !== photo.print);
    const print = this.desk.record()?.prints.findIndex((p) => p.id === photo.print) ?? -1;
    return alike && print >= 0 ? `${photo.name}, print ${print + 1}` : photo.name;
  }

  protected rowOf(cell: number): string {
    return this.desk.rows().find((r) => r.cell === cell)?.label ?? '';
  }

  protected readonly views = computed(() => [
    { cell: -1, label: 'the whole print' },
    ...this.desk.rows().map((r) => ({ cell: r.cell, label: `${r.label}, close up` })),
  ]);

  protected show(cell: number): void {
    const photo = this.photo();
    this.wanted.set(cell);
    if (!photo) return;
    this.desk.change('what a photo shows', (r) => ({
      ...r,
      photos: (r.photos ?? []).map((p) => {
        if (p.hash !== photo.hash) return p;
        const { cell: _, ...rest } = p;
        return cell < 0 ? rest : { ...rest, cell };
      }),
    }));
  }

  /** Adds a close look at a cell. */
  async addClose(file: File, cell: number): Promise<void> {
    await this.take([file], cell);
  }

  protected remove(): void {
    const hash = this.photo()?.hash;
    this.desk.change('take out a photo', (r) => ({ ...r, photos: (r.photos ?? []).filter((p) => p.hash !== hash) }));
    this.at.set(0);
  }

  protected grab(i: number, event: PointerEvent): void {
    this.held = i;
    event.preventDefault();
    (event.target as HTMLElement).focus();
  }

  protected drag(event: PointerEvent): void {
    const box = this.stage()?.nativeElement.getBoundingClientRect();
    if (this.held === undefined || !box) return;
    this.put(this.held, [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]);
  }

  protected drop(): void {
    const corners = this.moving();
    if (this.held === undefined || !corners) return;
    this.held = undefined;
    this.save(corners);
  }

  protected nudge(i: number, event: KeyboardEvent): void {
    const by = event.shiftKey ? 0.02 : 0.004;
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const c = this.corners()[i]!;
    this.put(i, [c[0] + step[0]!, c[1] + step[1]!]);
    this.save(this.corners());
  }

  private put(i: number, to: [number, number]): void {
    const inside = to.map((v) => Math.min(1.2, Math.max(-0.2, v))) as [number, number];
    const next = this.corners().map((c, k) => (k === i ? inside : c)) as Photo['corners'];
    this.moving.set(next);
  }

  private save(corners: Corners): void {
    const hash = this.photo()?.hash;
    this.moving.set(undefined);
    this.desk.change('straighten a photo', (r) => ({
      ...r,
      photos: (r.photos ?? []).map((p) => (p.hash === hash ? { ...p, corners: corners as Photo['corners'] } : p)),
    }));
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    this.zoom.update((z) => Math.min(8, Math.max(1, z * (event.deltaY < 0 ? 1.15 : 1 / 1.15))));
    if (this.zoom() === 1) this.shift.set([0, 0]);
  }

  protected pan(event: PointerEvent): void {
    if (event.buttons === 1) this.shift.update(([x, y]) => [x + event.movementX, y + event.movementY]);
  }

  protected zoomKey(event: KeyboardEvent): void {
    const move = { ArrowLeft: [30, 0], ArrowRight: [-30, 0], ArrowUp: [0, 30], ArrowDown: [0, -30] }[event.key];
    if (move) this.shift.update(([x, y]) => [x + move[0]!, y + move[1]!]);
    else if (event.key === '+') this.zoom.update((z) => Math.min(8, z * 1.2));
    else if (event.key === '-') this.zoom.update((z) => Math.max(1, z / 1.2));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
