import { computed, Directive, ElementRef, inject, input, model } from '@angular/core';
import { byKey, zoomed, type Frame } from './frame';

/** Moves and zooms what a canvas shows: drag, wheel, arrows, plus and minus; double-click or 0 shows the whole. */
@Directive({
  selector: 'canvas[stPanZoom]',
  host: {
    tabindex: '0',
    style: 'touch-action: none',
    '(pointerdown)': 'grab($event)',
    '(pointermove)': 'drag($event)',
    '(pointerup)': 'held = undefined',
    '(pointerleave)': 'held = undefined',
    '(wheel)': 'wheel($event)',
    '(dblclick)': 'view.set(undefined)',
    '(keydown)': 'key($event)',
  },
})
export class PanZoom {
  /** The frame chosen by hand; undefined while the whole is shown. */
  readonly view = model.required<Frame | undefined>({ alias: 'stPanZoom' });
  readonly whole = input.required<Frame>();
  private readonly canvas = inject<ElementRef<HTMLCanvasElement>>(ElementRef).nativeElement;
  private readonly frame = computed(() => this.view() ?? this.whole());
  protected held: { x: number; y: number; frame: Frame } | undefined;

  protected grab(event: PointerEvent): void {
    this.held = { x: event.clientX, y: event.clientY, frame: this.frame() };
  }

  protected drag(event: PointerEvent): void {
    if (!this.held || event.buttons !== 1) return;
    const { frame, x, y } = this.held;
    this.view.set({ ...frame, x: frame.x + event.clientX - x, y: frame.y + event.clientY - y });
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    const box = this.canvas.getBoundingClientRect();
    const by = Math.exp(-event.deltaY / 400);
    this.view.set(zoomed(this.frame(), this.whole(), event.clientX - box.left, event.clientY - box.top, by));
  }

  protected key(event: KeyboardEvent): void {
    const { clientWidth, clientHeight } = this.canvas;
    const next = byKey(event.key, this.frame(), this.whole(), clientWidth, clientHeight);
    if (next === null) return;
    this.view.set(next);
    event.preventDefault();
  }
}
