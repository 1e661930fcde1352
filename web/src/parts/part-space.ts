import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import type { Printer } from '#core/context';
import { bedArea, bedCentre } from '#core/context';
import { ringsOf } from '#core/geometry';
import { Daylight } from '../ui/daylight';
import { rayOf, spotOf, type Look } from '../work/part-camera';
import type { PartView } from '../work/part-info';
import type { Inks, Standing } from '../work/part-scene';
import type { PieceBox } from './piece-box';
import { PieceGrips, type Pulled } from './piece-grips';
import { SceneHand, type Made } from './scene-hand';
import { faceAt } from './standing';

const corner: Look = { round: 32, above: 28, near: 1 };
const looks: readonly { id: string; label: string; look: Omit<Look, 'near'> }[] = [
  { id: 'corner', label: 'from a corner', look: corner },
  { id: 'front', label: 'from the front', look: { round: 0, above: 0 } },
  { id: 'above', label: 'from above', look: { round: 0, above: 90 } },
  { id: 'beneath', label: 'from beneath', look: { round: 20, above: -50 } },
];
/** A turn by a key, degrees, and by a pixel of the mouse. */
const TURN = { key: 12, pixel: 0.45 };
/** After so long without a move it is drawn in full, ms. */
const REST = 160;
/** A press that moves further turns the part, and chooses no face, px. */
const STILL = 4;

/** The part on its bed, in space: a line drawing that is turned by mouse, touch and keys. */
@Component({
  selector: 'st-part-space',
  imports: [PieceGrips],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <canvas
      #canvas
      tabindex="0"
      role="img"
      [attr.aria-label]="words()"
      [class.picks]="picking()"
      (pointerdown)="grab($event)"
      (pointermove)="drag($event)"
      (pointerup)="drop($event)"
      (pointercancel)="held = undefined"
      (wheel)="wheel($event)"
      (keydown)="key($event)"
    ></canvas>
    @if (grips(); as g) {
      <st-piece-grips [box]="g.box" [size]="g.size" [project]="g.project" (moved)="pulled.emit($event)" />
    }
    @if (blind()) {
      <p class="blind" role="status">
        This browser draws nothing in space. Everything can be set by the fields beside it; the drawings below show how
        the part stands.
      </p>
    }
    <div class="looks" role="group" aria-label="Look">
      @for (l of looks; track l.id) {
        <button type="button" class="act bare small" (click)="from(l.look)">{{ l.label }}</button>
      }
      <span class="soft small hint">{{
        picking() ? 'Press a face: it comes to lie on the bed.' : 'Drag or arrows turn it; wheel, + and − zoom.'
      }}</span>
    </div>
  `,
  styles: `
    :host {
      position: relative;
      display: grid;
      grid-template-rows: minmax(0, 1fr) auto;
      min-height: 0;
    }
    canvas {
      width: 100%;
      height: 100%;
      min-height: 0;
      display: block;
      touch-action: none;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 6px;
      cursor: grab;
    }
    canvas.picks {
      cursor: crosshair;
    }
    st-piece-grips {
      bottom: 32px;
    }
    .looks {
      display: flex;
      align-items: center;
      gap: 2px;
      min-height: 32px;
    }
    .looks button {
      padding: 3px 7px;
      white-space: nowrap;
    }
    .hint {
      margin-left: auto;
      text-align: right;
    }
    .blind {
      position: absolute;
      inset: 20px 20px auto;
      padding: 10px 12px;
      background: var(--well);
      border-radius: 6px;
    }
  `,
})
export class PartSpace {
  readonly view = input.required<PartView | undefined>();
  readonly standing = input.required<Standing | undefined>();
  readonly printer = input.required<Printer | undefined>();
  readonly words = input.required<string>();
  readonly picking = input(false);
  /** The box whose sides can be pulled, if any can. */
  readonly box = input<PieceBox | undefined>();
  readonly pulled = output<Pulled>();
  /** Where the face that was pressed looks, on the bed’s axes. */
  readonly laid = output<[number, number, number]>();
  protected readonly looks = looks;
  protected readonly blind = signal(false);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly scene = signal<SceneHand | undefined>(undefined);
  /** How what is seen was drawn. */
  private readonly made = signal<Made | undefined>(undefined);
  private look: Look = corner;
  protected held: { x: number; y: number; look: Look; moved: boolean } | undefined;
  protected readonly grips = computed(() => {
    const [box, size, made] = [this.box(), this.standing()?.size, this.made()];
    if (!box || !size || !made || this.picking()) return undefined;
    return { box, size, project: (at: readonly [number, number, number]) => spotOf(made.camera, made.frame, at) };
  });
  private waiting = false;
  private rests: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    const gone = inject(DestroyRef);
    const daylight = inject(Daylight);
    afterNextRender(() => {
      const canvas = this.canvas().nativeElement;
      const blind = () => this.blind.set(true);
      if (!('transferControlToOffscreen' in canvas)) return blind();
      const scene = new SceneHand(canvas, (made) => this.made.set(made), blind);
      this.scene.set(scene);
      gone.onDestroy(() => scene.dispose());
      const resized = new ResizeObserver(() => this.draw());
      resized.observe(canvas);
      const dressed = new MutationObserver(() => this.draw());
      dressed.observe(document.documentElement, { attributeFilter: ['class'] });
      gone.onDestroy(() => {
        clearTimeout(this.rests);
        resized.disconnect();
        dressed.disconnect();
      });
    });
    effect(() => {
      const [scene, view] = [this.scene(), this.view()];
      if (!scene || !view) return;
      scene.show({ view });
      this.draw();
    });
    effect(() => {
      const [scene, printer] = [this.scene(), this.printer()];
      if (!scene || !printer) return;
      const { x, y } = bedCentre(printer);
      const rings = ringsOf(bedArea(printer)).map((ring) => ring.map((p) => ({ x: p.x - x, y: p.y - y })));
      const all = rings.flat();
      const half = { x: Math.max(...all.map((p) => Math.abs(p.x))), y: Math.max(...all.map((p) => Math.abs(p.y))) };
      scene.show({ bed: { rings, half } });
      this.draw();
    });
    effect(() => {
      daylight.night();
      this.draw();
    });
    effect(() => {
      const [scene, standing] = [this.scene(), this.standing()];
      if (!scene || !standing) return;
      scene.show({ standing });
      this.draw();
    });
  }

  protected from(look: Omit<Look, 'near'>): void {
    this.look = { ...look, near: this.look.near };
    this.draw();
  }

  protected grab(event: PointerEvent): void {
    if (event.button !== 0) return;
    (event.target as HTMLElement).setPointerCapture?.(event.pointerId);
    this.held = { x: event.clientX, y: event.clientY, look: this.look, moved: false };
  }

  protected drag(event: PointerEvent): void {
    const held = this.held;
    if (!held) return;
    const [dx, dy] = [event.clientX - held.x, event.clientY - held.y];
    if (!held.moved && Math.hypot(dx, dy) < STILL) return;
    held.moved = true;
    this.move({
      ...held.look,
      round: held.look.round - dx * TURN.pixel,
      above: Math.max(-90, Math.min(90, held.look.above + dy * TURN.pixel)),
    });
  }

  protected drop(event: PointerEvent): void {
    const held = this.held;
    this.held = undefined;
    if (!held) return;
    if (!held.moved && this.picking()) this.pick(event.offsetX, event.offsetY);
  }

  private pick(x: number, y: number): void {
    const [made, view, standing] = [this.made(), this.view(), this.standing()];
    if (!made || !view || !standing) return;
    const normal = faceAt(view.corners, standing, rayOf(made.camera, made.frame, { x, y }));
    if (normal) this.laid.emit(normal);
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    this.nearer(Math.exp(-event.deltaY / 400));
  }

  protected key(event: KeyboardEvent): void {
    const { round, above } = this.look;
    const turned: Record<string, Partial<Look>> = {
      ArrowLeft: { round: round - TURN.key },
      ArrowRight: { round: round + TURN.key },
      ArrowUp: { above: Math.min(90, above + TURN.key) },
      ArrowDown: { above: Math.max(-90, above - TURN.key) },
      '0': corner,
    };
    const to = turned[event.key];
    if (to) this.move({ ...this.look, ...to });
    else if (event.key === '+' || event.key === '=') this.nearer(1.25);
    else if (event.key === '-') this.nearer(0.8);
    else return;
    event.preventDefault();
  }

  private nearer(by: number): void {
    this.move({ ...this.look, near: Math.max(0.2, Math.min(40, this.look.near * by)) });
  }

  /** Draws at the next frame, once however often it is asked. */
  private draw(moving = false): void {
    const scene = this.scene();
    if (!scene || this.waiting) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      const { clientWidth: width, clientHeight: height } = this.canvas().nativeElement;
      if (width === 0 || height === 0) return;
      const ratio = Math.min(2, globalThis.devicePixelRatio || 1);
      const frame = { width, height, ratio };
      scene.want({ look: this.look, frame, inks: this.inks(), moving: moving && this.rests !== undefined });
    });
  }

  /** While it is moved it is drawn lightly; once it stands still for a moment, in full. */
  private move(look: Look): void {
    this.look = look;
    clearTimeout(this.rests);
    this.rests = setTimeout(() => {
      this.rests = undefined;
      this.draw();
    }, REST);
    this.draw(true);
  }

  private inks(): Inks {
    const style = getComputedStyle(this.canvas().nativeElement);
    const of = (name: string) => style.getPropertyValue(name).trim() || '#000000';
    return {
      sheet: of('--sheet'),
      ink: of('--ink'),
      soft: of('--line-strong'),
      line: of('--line-strong'),
      well: of('--well'),
      madder: of('--madder'),
      fault: of('--fault'),
    };
  }
}
