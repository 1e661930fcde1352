import { describe, expect, it } from 'vitest';
import { wholeCut } from '#core/part';
import { boxOfCut, cutOfBox, pulled, roomOf, sideFault, wholeBox } from './piece-box';

const size = { width: 40, depth: 20, height: 30 };
const whole = wholeBox(size);

describe('the box that cuts a piece out', () => {
  it('takes the whole part till a side is pulled, and again once it is pushed back', () => {
    expect(cutOfBox(whole, size)).toBeUndefined();
    const left = pulled(whole, 'x0', -12.34, size);
    expect(cutOfBox(left, size)).toEqual({ from: 0, to: wholeCut.to, box: { x0: -12.3, x1: 20, y0: -10, y1: 10 } });
    expect(cutOfBox(pulled(left, 'x0', -99, size), size)).toBeUndefined();
  });
  it('by heights alone has no sides, and reaches as high as the part where its top is not pulled', () => {
    expect(cutOfBox(pulled(whole, 'from', 4, size), size)).toEqual({ from: 4, to: wholeCut.to });
    expect(cutOfBox(pulled(whole, 'to', 4, size), size)).toEqual({ from: 0, to: 4 });
  });
  it('is read off a cut as far as the part goes', () => {
    expect(boxOfCut(undefined, size)).toEqual(whole);
    const box = { x0: -100, x1: 5, y0: -3, y1: 100 };
    expect(boxOfCut({ from: 2, to: 5000, box }, size)).toEqual({ x0: -20, x1: 5, y0: -3, y1: 10, from: 2, to: 30 });
  });
  it('never turns inside out: a side goes no further than half a millimetre before the other', () => {
    expect(pulled(whole, 'x0', 50, size).x0).toBe(19.5);
    expect(pulled(whole, 'to', -5, size).to).toBe(0.5);
    expect(roomOf('y1', { ...whole, y0: 4 }, size)).toEqual([4.5, 10]);
  });
  it('says where a side may lie, on both sides of the limit', () => {
    expect(sideFault('x1', 20, whole, size)).toBeUndefined();
    expect(sideFault('x1', 20.1, whole, size)).toMatch(/^give −19\.5 to 20 mm/);
    expect(sideFault('from', 29.5, whole, size)).toBeUndefined();
    expect(sideFault('from', 29.6, whole, size)).toBeDefined();
    expect(sideFault('from', NaN, whole, size)).toBeDefined();
  });
});
