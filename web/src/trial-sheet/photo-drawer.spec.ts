import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { By } from '@angular/platform-browser';
import { beforeEach, describe, expect, it } from 'vitest';
import { UNTOUCHED, type Photo } from '#core/route';
import type { Keeper } from '../data/keeper';
import { demoDesk } from '../testing/demo-desk';
import { PhotoDrawer } from './photo-drawer';
import type { TrialDesk } from './trial-desk';

const ID = 'demo-plover-temperature';

/** Stands for the SHA-256 of a photo. */
const hashOf = (name: string): string => (name === 'front.jpg' ? 'f' : 'e').repeat(64);

describe('photos of a print', () => {
  let desk: TrialDesk;
  let keeper: Keeper;
  let fixture: ComponentFixture<PhotoDrawer>;
  beforeEach(async () => {
    ({ keeper, desk } = await demoDesk());
    desk.id.set(ID);
    desk.stage.set('read');
    TestBed.tick();
    await new Promise((go) => setTimeout(go, 5));
    for (const name of ['front.jpg', 'side.jpg'])
      desk.addPhoto({ hash: hashOf(name), print: desk.print()!.id, name, width: 800, height: 600 });
    fixture = TestBed.createComponent(PhotoDrawer);
    fixture.componentRef.setInput('open', true);
    refresh();
    await new Promise((go) => setTimeout(go, 20));
    refresh();
  });
  // The drawer goes with its picture; jsdom has no addresses for blobs.
  beforeEach(() => {
    URL.createObjectURL ??= () => 'blob:none';
    URL.revokeObjectURL ??= () => undefined;
  });
  const refresh = () => {
    TestBed.tick();
    fixture.detectChanges();
  };
  // The drawer hangs at the body, not in its place.
  const all = <T extends Element = HTMLElement>(selector: string) => [...document.body.querySelectorAll<T>(selector)];
  const corner = (words: string) => all<HTMLButtonElement>(`[aria-label="${words} corner"]`)[0]!;
  const photos = (): Photo[] => keeper.find('records', ID)!.photos ?? [];
  const key = (target: Element, name: string, shiftKey = false) => {
    target.dispatchEvent(new KeyboardEvent('keydown', { key: name, shiftKey, bubbles: true, cancelable: true }));
    refresh();
  };

  it('begin with their corners a little within the picture, one photo in hand', () => {
    expect(photos().map((p) => p.corners)).toEqual([UNTOUCHED, UNTOUCHED]);
    const [front, side] = all('.bar button').filter((b) => /\.jpg/.test(b.textContent));
    expect(front!.getAttribute('aria-pressed')).toBe('true');
    side!.click();
    refresh();
    expect(side!.getAttribute('aria-pressed')).toBe('true');
    expect(front!.getAttribute('aria-pressed')).toBe('false');
  });
  it('of two prints that were photographed alike say which print they are of; others keep their name', () => {
    const record = keeper.find('records', ID)!;
    const again = { ...record.prints[0]!, id: 'again' };
    keeper.save('records', {
      ...record,
      prints: [...record.prints, again],
      photos: [...photos(), { ...photos()[0]!, hash: 'a'.repeat(64), print: 'again' }],
    });
    refresh();
    const names = all('.bar button').map((b) => b.textContent.trim());
    expect(names.filter((n) => n.includes('.jpg'))).toEqual(['front.jpg, print 1', 'side.jpg', 'front.jpg, print 2']);
  });
  it('are straightened by keys alone: each step is kept and can be undone', () => {
    key(corner('upper left'), 'ArrowRight');
    expect(photos()[0]!.corners[0]).toEqual([expect.closeTo(0.054, 9), 0.05]);
    key(corner('upper left'), 'ArrowDown', true);
    expect(photos()[0]!.corners[0]![1]).toBeCloseTo(0.07, 9);
    // The other corners and the other photo stay.
    expect(photos()[0]!.corners.slice(1)).toEqual(UNTOUCHED.slice(1));
    expect(photos()[1]!.corners).toEqual(UNTOUCHED);
    desk.undo();
    desk.undo();
    expect(photos()[0]!.corners).toEqual(UNTOUCHED);
  });
  it('let no corner go far beyond the picture', () => {
    for (let k = 0; k < 30; k++) key(corner('lower right'), 'ArrowRight', true);
    expect(photos()[0]!.corners[2]).toEqual([1.2, 0.95]);
  });
  it('say so where the corners cross, and draw the rows as they lie where they do not', () => {
    const borders = all<SVGPathElement>('.stage path').length;
    // Four sides, and the borders between the bands.
    expect(borders).toBeGreaterThan(4);
    for (let k = 0; k < 60; k++) key(corner('upper left'), 'ArrowRight', true);
    expect(all('[role=alert], .wrong').some((e) => e.textContent.length > 10)).toBe(true);
    expect(all('.stage path')).toHaveLength(1);
  });
  it('show the whole print or one cell close up, as the person says', () => {
    const shows = fixture.debugElement.query(By.css('.bar p-select'));
    const cell = desk.rows()[2]!.cell;
    shows.triggerEventHandler('ngModelChange', cell);
    refresh();
    expect(photos()[0]!.cell).toBe(cell);
    // A close-up is not straightened.
    expect(all('.corner')).toHaveLength(0);
    shows.triggerEventHandler('ngModelChange', -1);
    refresh();
    expect('cell' in photos()[0]!).toBe(false);
    expect(all('.corner')).toHaveLength(4);
  });
  it('are taken out, and come back when that is undone', () => {
    all('button')
      .find((b) => /Take it out/.test(b.textContent))!
      .click();
    refresh();
    expect(photos().map((p) => p.name)).toEqual(['side.jpg']);
    desk.undo();
    expect(
      photos()
        .map((p) => p.name)
        .sort(),
    ).toEqual(['front.jpg', 'side.jpg']);
  });
  it('stand side by side with one zoom for both', () => {
    const box = all<HTMLInputElement>('.bar input[type=checkbox]')[0]!;
    box.click();
    refresh();
    const two = all('.two')[0]!;
    const views = () => all<HTMLCanvasElement>('.two canvas').map((c) => c.style.transform);
    expect(views()).toHaveLength(2);
    key(two, '+');
    key(two, 'ArrowLeft');
    expect(new Set(views()).size).toBe(1);
    expect(views()[0]).toMatch(/translate\(30px, ?0px\) scale\(1\.2\)/);
    two.dispatchEvent(new WheelEvent('wheel', { deltaY: 900, cancelable: true }));
    refresh();
    // Never smaller than the whole, and the whole stands where it stood.
    for (let k = 0; k < 4; k++) two.dispatchEvent(new WheelEvent('wheel', { deltaY: 900, cancelable: true }));
    refresh();
    expect(views()[0]).toMatch(/translate\(0px, ?0px\) scale\(1\)/);
  });
});
