import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import { cameraOf, spotOf } from '../work/part-camera';
import { wholeBox } from './piece-box';
import { PieceGrips, type Pulled } from './piece-grips';

const size = { width: 40, depth: 20, height: 30 };
const frame = { width: 600, height: 400, ratio: 1 };

function grips(round: number, above: number) {
  const fixture = TestBed.createComponent(PieceGrips);
  const camera = cameraOf({ round, above, near: 1 }, size, frame);
  const moved: Pulled[] = [];
  fixture.componentRef.setInput('box', wholeBox(size));
  fixture.componentRef.setInput('size', size);
  fixture.componentRef.setInput('project', (at: readonly [number, number, number]) => spotOf(camera, frame, at));
  fixture.componentInstance.moved.subscribe((p) => moved.push(p));
  fixture.detectChanges();
  const all = () => [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')];
  const named = (start: string) => all().find((b) => b.getAttribute('aria-label')!.startsWith(start))!;
  /** px a millimetre to the right is, seen from the front. */
  const scale = frame.width / 2 / camera.half.x;
  return { all, named, moved, scale };
}

describe('the grips of a piece', () => {
  it('stand on the sides that can be pulled in this look, and say where they lie', () => {
    expect(grips(32, 28).all()).toHaveLength(6);
    const front = grips(0, 0);
    expect(front.all().map((b) => b.getAttribute('aria-label'))).toEqual([
      'from height: 0 mm',
      'to height: 30 mm',
      'from left: −20 mm',
      'to right: 20 mm',
    ]);
    expect(grips(0, 90).all()).toHaveLength(4);
  });
  it('are pulled as far as the hand goes, and count once they are let go', () => {
    const { named, moved, scale } = grips(0, 0);
    const right = named('to right');
    const at = (type: string, x: number) =>
      right.dispatchEvent(new MouseEvent(type, { button: 0, clientX: x, clientY: 50, bubbles: true }));
    at('pointerdown', 500);
    at('pointermove', 500 - 10 * scale);
    expect(moved.at(-1)).toMatchObject({ done: false, box: { x1: 10, x0: -20 } });
    at('pointermove', 500 - 100 * scale);
    at('pointerup', 500 - 100 * scale);
    expect(moved.at(-1)).toMatchObject({ done: true, box: { x1: -19.5 } });
    // A press that does not move changes nothing.
    const before = moved.length;
    at('pointerdown', 500);
    at('pointerup', 500);
    expect(moved).toHaveLength(before);
  });
  it('go by keys, ten times as far with shift', () => {
    const { named, moved } = grips(32, 28);
    const press = (key: string, shiftKey = false) =>
      named('from front').dispatchEvent(
        new KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }),
      );
    press('ArrowUp');
    expect(moved.at(-1)).toMatchObject({ done: true, box: { y0: -9.5 } });
    press('ArrowRight', true);
    expect(moved.at(-1)!.box.y0).toBe(-5);
    press('ArrowDown');
    expect(moved.at(-1)!.box.y0).toBe(-10);
    press('Enter');
    expect(moved).toHaveLength(3);
  });
});
