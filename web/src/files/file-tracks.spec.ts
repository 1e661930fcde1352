import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import type { LayerReport } from '#core/inspect';
import { FileTracks } from './file-tracks';

const layer = (k: number, over: Partial<LayerReport> = {}): LayerReport => ({
  z: 0.2 * (k + 1),
  height: 0.2,
  time: 10,
  peakFlow: 5,
  cell: -1,
  line: 10 * k,
  tool: 0,
  nozzle: 240,
  fan: 0.4,
  advance: 0,
  acceleration: 1000,
  wallSpeed: 40,
  retractions: 2,
  left: 90,
  right: 110,
  ...over,
});

function tracks(layers: LayerReport[], limits: { track: string; value: number; words: string }[] = []) {
  const fixture = TestBed.createComponent(FileTracks);
  fixture.componentRef.setInput('layers', layers);
  fixture.componentRef.setInput('limits', limits);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const figures = [...host.querySelectorAll('figure')].slice(1).map((f) => ({
    head: f.querySelector('figcaption')!.textContent!.replace(/\s+/g, ' ').trim(),
    foot: f.querySelector('p')!.textContent!.replace(/\s+/g, ' ').trim(),
    path: f.querySelector('.line')!.getAttribute('d')!,
    limit: f.querySelector('.limit') !== null,
  }));
  return { figures, words: host.querySelector('[role=img]')!.getAttribute('aria-label')!, host };
}

describe('the tracks of a file', () => {
  it('draw a file of one layer too', () => {
    const { host, figures } = tracks([layer(0)]);
    const drawn = [...host.querySelectorAll('path')].map((p) => p.getAttribute('d'));
    expect(drawn.join()).not.toMatch(/NaN|Infinity/);
    expect(host.querySelector('.part')!.getAttribute('d')).toMatch(/^M[\d.]+ [\d.]+L/);
    expect(figures.length).toBeGreaterThan(3);
  });
  it('show what is in force over the height, and leave out what is nothing all the way', () => {
    const { figures, words } = tracks([layer(0, { fan: 0 }), layer(1), layer(2)]);
    expect(figures.map((f) => f.head)).toEqual([
      'nozzle °C',
      'fan %',
      'outer walls mm/s',
      'peak flow mm³/s',
      'layer time s',
    ]);
    expect(figures[1]!.foot).toBe('0 to 40');
    expect(words).toContain('Over 0.6 mm of height: nozzle 240 °C; fan 0 to 40 %');
  });
  it('draw a limit only where it is near enough to say something', () => {
    const near = tracks([layer(0), layer(1)], [{ track: 'flow', value: 8, words: '8 melts' }]);
    expect(near.figures.find((f) => f.head.startsWith('peak'))).toMatchObject({ limit: true, foot: '5 8 melts' });
    const far = tracks([layer(0), layer(1)], [{ track: 'flow', value: 80, words: '80 melts' }]);
    expect(far.figures.find((f) => f.head.startsWith('peak'))!.limit).toBe(false);
  });
  it('hold the speed of outer walls where a layer has none, as one of supports alone', () => {
    const { figures } = tracks([layer(0), layer(1, { wallSpeed: 0 }), layer(2, { wallSpeed: 30 })]);
    expect(figures.find((f) => f.head.startsWith('outer'))!.foot).toBe('30 to 40');
    // Where there are none at all, there is no track.
    expect(tracks([layer(0, { wallSpeed: 0 })]).figures.some((f) => f.head.startsWith('outer'))).toBe(false);
  });
  it('draw a layer that lies between two of the part as wide as they are', () => {
    const edge = (layers: LayerReport[]) =>
      [
        ...tracks(layers)
          .host.querySelector('.part')!
          .getAttribute('d')!
          .matchAll(/(-?[\d.]+) (-?[\d.]+)/g),
      ].map((m) => Number(m[1]));
    const whole = [0, 1, 2, 3, 4].map((k) => layer(k));
    const between = layer(2, { z: 0.5, height: 0.1, left: 98, right: 99 });
    const all = [...whole.slice(0, 2), between, ...whole.slice(2)];
    expect(new Set(edge(all)).size).toBe(2);
    // A layer of the part itself may be narrow.
    expect(new Set(edge([...whole.slice(0, 2), layer(2, { left: 98, right: 99 }), ...whole.slice(3)])).size).toBe(4);
  });
  it('give each tool a track of its own for what is set tool by tool', () => {
    const both = [
      { tool: 0, nozzle: 250, advance: 0.02, fan: 0 },
      { tool: 1, nozzle: 235, advance: 0.03, fan: 0 },
    ];
    const { figures } = tracks(
      [layer(0, { nozzle: 250, advance: 0.02 }), layer(1, { tool: 1, nozzle: 235, advance: 0.03, tools: both })],
      [{ track: 'nozzle', value: 270, words: '270 at most' }],
    );
    expect(figures.slice(0, 2).map((f) => [f.head, f.foot, f.limit])).toEqual([
      ['nozzle, tool 1 °C', '250 270 at most', true],
      ['nozzle, tool 2 °C', '235 270 at most', true],
    ]);
    expect(figures.filter((f) => f.head.startsWith('pressure advance')).map((f) => f.foot)).toEqual(['0.02', '0.03']);
  });
  it('draw a long file by some of its layers', () => {
    const { figures } = tracks(Array.from({ length: 5000 }, (_, k) => layer(k)));
    expect(figures[0]!.path.split('V').length).toBeLessThanOrEqual(601);
    expect(figures[0]!.path.split('V').length).toBeGreaterThan(400);
  });
});
