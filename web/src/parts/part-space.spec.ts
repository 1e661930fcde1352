import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import { PartSpace } from './part-space';

describe('a part in space', () => {
  it('says so where the browser draws nothing there, and that the fields beside it do all', async () => {
    const fixture = TestBed.createComponent(PartSpace);
    for (const [name, value] of Object.entries({
      view: undefined,
      standing: undefined,
      printer: undefined,
      words: 'a clip on the bed',
    }))
      fixture.componentRef.setInput(name, value);
    await fixture.whenStable();
    const page = fixture.nativeElement as HTMLElement;
    expect(page.querySelector('[role=status]')?.textContent).toMatch(/draws nothing in space.*fields beside it/s);
    expect(page.querySelector('canvas')?.getAttribute('aria-label')).toBe('a clip on the bed');
  });
});
