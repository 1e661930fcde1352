import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { show } from '#core/base';
import { pulled, sides, type PieceBox, type Side, type Size } from './piece-box';

/** A place on the drawing, px. */
interface Spot {
  x: number;
  y: number;
}

/** Brings a place on the bed’s axes, mm, to the drawing. */
export type Project = (at: readonly [number, number, number]) => Spot;

/** A box that is pulled: where it is now, and whether the hand let go. */
export interface Pulled {
  box: PieceBox;
  done: boolean;
}

/** A key moves a side by this, mm; with shift ten times as far. */
const STEP = 0.5;
/** A side that moves by less on the drawing is looked at from its end: it cannot be pulled so. px per mm */
const FLAT = 0.15;

/** Grips in the middle of each side of the box that cuts a piece out: pulled by hand, or moved by keys. */
@Component({
  selector: 'st-piece-grips',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (g of grips(); track g.id) {
      <button
        type="button"
        [class]="'grip ' + g.id"
        [style.left.px]="g.at.x"
        [style.top.px]="g.at.y"
        [attr.aria-label]="g.words"
        [title]="g.words"
        (pointerdown)="grab($event, g.id)"
        (pointermove)="drag($event)"
        (pointerup)="drop()"
        (pointercancel)="drop()"
        (keydown)="key($event, g.id)"
      ></button>
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      overflow: hidden;
      pointer-events: none;
    }
    .grip {
      position: absolute;
      width: 24px;
      height: 24px;
      margin: -12px 0 0 -12px;
      padding: 0;
      border: 0;
      background: none;
      pointer-events: auto;
      touch-action: none;
      cursor: grab;
    }
    .grip::before {
      content: '';
      position: absolute;
      inset: 6px;
      background: var(--sheet);
      border: 1.5px solid var(--madder);
      border-radius: 50%;
    }
    .grip:hover::before,
    .grip:focus-visible::before {
      background: var(--madder);
    }
  `,
})
export class PieceGrips {
  readonly box = input.required<PieceBox>();
  readonly size = input.required<Size>();
  /** A new one whenever the look has changed. */
  readonly project = input.required<Project>();
  readonly moved = output<Pulled>();
  private held: { side: Side; from: Spot; at: number; along: Spot; box: PieceBox } | undefined;
  private last: PieceBox | undefined;

  protected readonly grips = computed(() => {
    const [box, project] = [this.box(), this.project()];
    return sides.flatMap(({ id, name }) => {
      const words = `${name}: ${show(box[id], 1)} mm`;
      const flat = length(alongOf(id, box, project)) < FLAT && this.held?.side !== id;
      return flat ? [] : [{ id, words, at: project(placeOf(id, box)) }];
    });
  });

  protected grab(event: PointerEvent, side: Side): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    (event.target as HTMLElement).setPointerCapture?.(event.pointerId);
    const box = this.box();
    const along = alongOf(side, box, this.project());
    this.held = { side, from: { x: event.clientX, y: event.clientY }, at: box[side], along, box };
  }

  protected drag(event: PointerEvent): void {
    const { held } = this;
    if (!held) return;
    event.stopPropagation();
    const [dx, dy] = [event.clientX - held.from.x, event.clientY - held.from.y];
    const by = (dx * held.along.x + dy * held.along.y) / length(held.along) ** 2;
    this.last = pulled(held.box, held.side, held.at + by, this.size());
    this.moved.emit({ box: this.last, done: false });
  }

  protected drop(): void {
    const { last } = this;
    this.held = undefined;
    this.last = undefined;
    if (last) this.moved.emit({ box: last, done: true });
  }

  protected key(event: KeyboardEvent, side: Side): void {
    const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (way === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const box = this.box();
    const to = box[side] + way * STEP * (event.shiftKey ? 10 : 1);
    this.moved.emit({ box: pulled(box, side, to, this.size()), done: true });
  }
}

const length = ({ x, y }: Spot): number => Math.hypot(x, y);

/** The middle of a side. */
function placeOf(side: Side, box: PieceBox): [number, number, number] {
  const at: [number, number, number] = [(box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2, (box.from + box.to) / 2];
  at[sides.find((s) => s.id === side)!.axis] = box[side];
  return at;
}

/** By how much the drawing of a side moves for each millimetre, px. */
function alongOf(side: Side, box: PieceBox, project: Project): Spot {
  const a = project(placeOf(side, box));
  const b = project(placeOf(side, { ...box, [side]: box[side] + 1 }));
  return { x: b.x - a.x, y: b.y - a.y };
}
