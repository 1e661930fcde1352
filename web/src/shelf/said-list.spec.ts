import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Printer } from '#core/context';
import { heron } from '#core/demo';
import { SaidList } from './said-list';

describe('what was said of files on a printer', () => {
  let fixture: ComponentFixture<SaidList>;
  let host: HTMLElement;
  const changes: { path: string; value: unknown }[] = [];
  beforeEach(() => {
    fixture = TestBed.createComponent(SaidList);
    host = fixture.nativeElement as HTMLElement;
    changes.length = 0;
    fixture.componentInstance.changed.subscribe((c) => changes.push(c));
  });
  const show = (own: Partial<Printer>) => {
    fixture.componentRef.setInput('printer', { ...heron, ...own });
    fixture.detectChanges();
  };
  const rows = () => [...host.querySelectorAll('li')].map((li) => li.textContent.replace(/\s+/g, ' ').trim());
  const takeBack = (words: string) =>
    [...host.querySelectorAll('li')]
      .find((li) => li.textContent.includes(words))!
      .querySelector('button')!
      .click();

  it('is nothing where nothing was said', () => {
    show({});
    expect(host.textContent.trim()).toBe('');
  });
  it('is how far the firmware draws back', () => {
    show({ drawsBack: { length: 0.8, speed: 35 } });
    expect(rows()).toEqual(['Its firmware draws back 0.8 mm by itself. Take back']);
    takeBack('draws back');
    expect(changes).toEqual([{ path: 'drawsBack', value: undefined }]);
  });
  it('is taken back one by one, and leaves nothing behind', () => {
    const beyond = { left: 0, right: 2.5, front: 3.3, back: 0 };
    show({ beyond, daily: ['check.end-bed', 'check.units'] });
    expect(rows()).toEqual([
      'The head gets 2.5 mm beyond the right edge. Take back',
      'The head gets 3.3 mm beyond the front edge. Take back',
      'Daily here: a bed left hot at the end. Take back',
      'Daily here: inches. Take back',
    ]);
    takeBack('right edge');
    expect(changes.at(-1)).toEqual({ path: 'beyond', value: { ...beyond, right: 0 } });
    takeBack('a bed left hot');
    expect(changes.at(-1)).toEqual({ path: 'daily', value: ['check.units'] });
    show({ beyond: { ...beyond, right: 0 }, daily: ['check.units'] });
    takeBack('front edge');
    takeBack('inches');
    expect(changes.slice(-2)).toEqual([
      { path: 'beyond', value: undefined },
      { path: 'daily', value: undefined },
    ]);
  });
});
