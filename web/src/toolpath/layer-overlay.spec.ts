import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { of, Subject } from 'rxjs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { demoPairs } from '#core/demo';
import type { LayerPair } from '../work/over-one-another';
import { WorkerPool } from '../work/worker-pool';
import { LayerOverlay } from './layer-overlay';

const line = Float32Array.of(10, 10, 30, 10);
const pair = (k: number, a: number, b: number): LayerPair => ({
  z: 0.2 * (k + 1),
  height: 0.2,
  a: { ends: line, own: Uint8Array.of(a > 0 ? 1 : 0), length: 1000, apart: a },
  b: { ends: line, own: Uint8Array.of(b > 0 ? 1 : 0), length: 1000, apart: b },
});

describe('two files laid over one another', () => {
  let said: Subject<{ progress: { stage: string; done: number; of: number }; batch: LayerPair[] }>;
  let fixture: ComponentFixture<LayerOverlay>;
  const host = () => fixture.nativeElement as HTMLElement;
  const legend = () => host().querySelector('.legend')?.textContent?.replace(/\s+/g, ' ').trim();

  beforeEach(async () => {
    // No canvas in these tests: what is drawn is looked at in the browser.
    const nothing = new Proxy({}, { get: () => () => undefined, set: () => true });
    vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(nothing as never);
    said = new Subject();
    TestBed.configureTestingModule({
      providers: [{ provide: WorkerPool, useValue: { over: () => said } }],
    });
    fixture = TestBed.createComponent(LayerOverlay);
    fixture.componentRef.setInput('first', { name: 'one.gcode', file: of(new Blob()) });
    fixture.componentRef.setInput('second', { name: 'two.gcode', file: of(new Blob()) });
    fixture.componentRef.setInput('context', demoPairs[0]!.context);
    fixture.detectChanges();
    await Promise.resolve();
    await new Promise((r) => setTimeout(r));
  });
  const say = (done: number, batch: LayerPair[]) => {
    said.next({ progress: { stage: 'laying over', done, of: 10 }, batch });
    fixture.detectChanges();
  };

  it('show how far it is, then the layer that differs most, with the length that each has for itself', () => {
    say(5, [pair(0, 0, 0), pair(1, 100, 400), pair(2, 50, 0)]);
    expect(host().querySelector('[role=status]')!.textContent).toContain('laying over, 50 %');
    expect(legend()).toBe('layer 2 of 3 · Z 0.4 mm both 0.9 m only one.gcode 0.1 m only two.gcode 0.4 m');
    // A later layer that differs more comes forward while none is picked.
    say(9, [pair(3, 900, 900)]);
    expect(legend()).toContain('layer 4 of 4');
    said.complete();
    fixture.detectChanges();
    expect(host().querySelector('[role=status]')).toBeNull();
    // 100 + 400 of 2000, 900 + 900 of 2000: the highest share is 90 %.
    expect(host().querySelector('figure svg')!.getAttribute('aria-label')).toContain('up to 90 %');
  });
  it('can be stopped, and say what went wrong', () => {
    say(2, [pair(0, 1, 1)]);
    host().querySelector<HTMLButtonElement>('button')!.click();
    fixture.detectChanges();
    expect(host().querySelector('[role=status]')).toBeNull();
    expect(said.observed).toBe(false);
    expect(legend()).toContain('layer 1 of 1');
    fixture.componentRef.setInput('second', { name: 'three.gcode', file: of(new Blob()) });
    fixture.detectChanges();
    return new Promise<void>((done) =>
      setTimeout(() => {
        said.error('the file is gone');
        fixture.detectChanges();
        expect(host().querySelector('[role=alert]')!.textContent).toContain('the file is gone');
        done();
      }, 5),
    );
  });
});
