import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { TrialMaker } from '../data/trial-maker';
import { demoDesk } from '../testing/demo-desk';
import { AxisEditor } from './axis-editor';
import type { TrialDesk } from './trial-desk';

describe('the editor of what varies', () => {
  let desk: TrialDesk;
  let maker: TrialMaker;
  beforeEach(async () => {
    ({ desk } = await demoDesk());
    maker = TestBed.inject(TrialMaker);
  });
  /** A checkbox shows its state a moment later. */
  const stand = async (f: ComponentFixture<AxisEditor>) => {
    f.detectChanges();
    await f.whenStable();
    f.detectChanges();
  };
  const editor = (kind: string, which: 0 | 1 = 0): ComponentFixture<AxisEditor> => {
    desk.id.set(maker.plan('heron-marsh-petg', kind)!);
    const fixture = TestBed.createComponent(AxisEditor);
    fixture.componentRef.setInput('which', which);
    fixture.detectChanges();
    return fixture;
  };
  const axes = () => desk.record()!.trial.axes;
  const host = (f: ComponentFixture<AxisEditor>) => f.nativeElement as HTMLElement;
  const button = (f: ComponentFixture<AxisEditor>, text: string) =>
    [...host(f).querySelectorAll('button')].find((b) => b.textContent?.trim() === text);

  it('shuffles the levels and puts them in order again, keeping every one', () => {
    const fixture = editor('flow-coarse');
    const before = axes()[0]!.levels;
    button(fixture, 'shuffle the order')!.click();
    fixture.detectChanges();
    const mixed = axes()[0]!.levels;
    expect(mixed).not.toEqual(before);
    expect([...mixed].sort((a, b) => a - b)).toEqual(before);
    expect(desk.record()!.trial.title).toContain('shuffled');
    button(fixture, 'in order again')!.click();
    expect(axes()[0]!.levels).toEqual(before);
  });
  it('lets a value run on where it can, and not where it cannot', async () => {
    const ramp = editor('flow-limit');
    await stand(ramp);
    const box = host(ramp).querySelector<HTMLInputElement>('input[type=checkbox]')!;
    expect(box.checked).toBe(true);
    box.click();
    expect(axes()[0]!.kind).toBe('step');
    expect(host(editor('infill-bands')).querySelector('input[type=checkbox]')).toBeNull();
  });
  it('offers the named values of a choice, and never none of them', async () => {
    const fixture = editor('wall-order', 1);
    const boxes = () => [...host(fixture).querySelectorAll<HTMLInputElement>('.named input')];
    await stand(fixture);
    expect(boxes().map((b) => b.checked)).toEqual([true, true, true, true]);
    for (let i = 0; i < 4; i++) {
      boxes()[i]!.click();
      await stand(fixture);
    }
    expect(axes()[1]!.levels).toHaveLength(1);
    // The last one cannot be taken out, and shows that.
    expect(boxes().map((b) => [b.checked, b.disabled])).toEqual([
      [false, false],
      [false, false],
      [false, false],
      [true, true],
    ]);
  });
  it('takes a list of the person’s own beside the usual ones, and says what is wrong with another', async () => {
    const fixture = editor('angle-sequence');
    const before = axes()[0]!.levels;
    const field = host(fixture).querySelector<HTMLInputElement>('.own input')!;
    const type = (text: string) => {
      field.value = text;
      button(fixture, 'Add')!.click();
      fixture.detectChanges();
    };
    type('30 to 60');
    expect(host(fixture).querySelector('.wrong')!.textContent).toContain('no list of angles');
    expect(field.value).toBe('30 to 60');
    expect(axes()[0]!.levels).toEqual(before);
    type('30/0/-30');
    expect(host(fixture).querySelector('.wrong')).toBeNull();
    expect(axes()[0]!.levels).toHaveLength(before.length + 1);
    const own = () => [...host(fixture).querySelectorAll('.named label')].find((l) => l.textContent.includes('30/0'))!;
    expect(desk.record()!.trial.title).toContain('30/0/−30');
    // Taken out it stays on offer; typed as a usual one it is that one.
    await stand(fixture);
    own().querySelector('input')!.click();
    await stand(fixture);
    expect(axes()[0]!.levels).toEqual(before);
    expect(own().querySelector('input')!.checked).toBe(false);
    type('45');
    expect(axes()[0]!.levels).toEqual([...before, 4]);
  });
  it('says what moves along with a setting, and lets it vary alone', () => {
    const fixture = editor('retraction-fence');
    const [first] = axes();
    desk.changeTrial('a pair', (t) => ({
      ...t,
      axes: [{ ...first!, levels: [35, 45], also: { factor: 'retraction-distance', levels: [0.8, 1] } }],
    }));
    fixture.detectChanges();
    expect(host(fixture).textContent).toContain('moves along: retraction distance 0.8 mm, 1 mm');
    button(fixture, 'vary the first alone')!.click();
    fixture.detectChanges();
    expect(axes()).toEqual([{ ...first!, levels: [35, 45] }]);
    expect(desk.faults()).toEqual([]);
  });
  it('is a group with its name, for each of the two settings', () => {
    expect(host(editor('retraction-fence')).getAttribute('aria-label')).toBe('What varies');
    const second = host(editor('retraction-fence', 1));
    expect(second.getAttribute('aria-label')).toBe('The second setting');
    expect(second.textContent).toContain('first in the row');
    expect(host(editor('surge-ribbon', 1)).textContent).toContain('one more setting makes a map');
  });
});
