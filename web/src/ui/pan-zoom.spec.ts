import { Component, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import type { Frame } from './frame';
import { PanZoom } from './pan-zoom';

@Component({
  imports: [PanZoom],
  template: `<canvas [(stPanZoom)]="view" [whole]="whole" style="width: 400px; height: 300px"></canvas>`,
})
class Host {
  readonly view = signal<Frame | undefined>(undefined);
  readonly whole: Frame = { scale: 2, x: 100, y: 200 };
}

function stand() {
  const fixture = TestBed.createComponent(Host);
  fixture.detectChanges();
  const canvas = (fixture.nativeElement as HTMLElement).querySelector('canvas')!;
  const box = canvas.getBoundingClientRect();
  const { view } = fixture.componentInstance;
  const pointer = (type: string, x: number, y: number, buttons = 1) =>
    canvas.dispatchEvent(new PointerEvent(type, { clientX: box.left + x, clientY: box.top + y, buttons }));
  const key = (name: string) => {
    const event = new KeyboardEvent('keydown', { key: name, cancelable: true });
    canvas.dispatchEvent(event);
    return event.defaultPrevented;
  };
  return { canvas, box, view, pointer, key };
}

/** mm under a point of the canvas. */
const under = ({ scale, x, y }: Frame, px: number, py: number) => [(px - x) / scale, (y - py) / scale];

describe('a canvas that is moved and zoomed', () => {
  it('follows the pointer while it is held, and not otherwise', () => {
    const { view, pointer } = stand();
    pointer('pointermove', 60, 60);
    expect(view()).toBeUndefined();
    pointer('pointerdown', 50, 50);
    pointer('pointermove', 80, 40);
    expect(view()).toEqual({ scale: 2, x: 130, y: 190 });
    pointer('pointerup', 80, 40);
    pointer('pointermove', 200, 200);
    expect(view()).toEqual({ scale: 2, x: 130, y: 190 });
  });
  it('zooms by the wheel with the pointed-at place where it is', () => {
    const { canvas, box, view } = stand();
    const wheel = new WheelEvent('wheel', {
      clientX: box.left + 120,
      clientY: box.top + 90,
      deltaY: -200,
      cancelable: true,
    });
    canvas.dispatchEvent(wheel);
    expect(wheel.defaultPrevented).toBe(true);
    expect(view()!.scale).toBeGreaterThan(2);
    const [before, after] = [under({ scale: 2, x: 100, y: 200 }, 120, 90), under(view()!, 120, 90)];
    expect(after[0]).toBeCloseTo(before[0]!, 9);
    expect(after[1]).toBeCloseTo(before[1]!, 9);
  });
  it('takes arrows, plus and minus, shows the whole by 0, and leaves other keys alone', () => {
    const { view, key } = stand();
    expect(key('ArrowLeft')).toBe(true);
    expect(view()!.x).toBeGreaterThan(100);
    expect(key('+')).toBe(true);
    expect(view()!.scale).toBeGreaterThan(2);
    expect(key('0')).toBe(true);
    expect(view()).toBeUndefined();
    expect(key('Tab')).toBe(false);
  });
});
