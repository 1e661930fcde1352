import { describe, expect, it } from 'vitest';
import { readGcode } from '#core/gcode';
import { LayerGatherer } from './layer-lines';

function layersOf(text: string) {
  const layers = new LayerGatherer(1.75);
  readGcode(new TextEncoder().encode(text), (chunk) => layers.take(chunk));
  layers.end();
  return layers.ready;
}

describe('layers for drawing', () => {
  it('gathers moves by the height at which something is printed', () => {
    const text =
      'G90\nM83\nG0 X1 Y1 Z0.2 F6000\n;@role outer-wall\nG1 X11 E0.4 F1200\nG0 X1 Z0.4\nG1 Y11 E0.4\nG1 Y21 E0.4\n';
    const layers = layersOf(text);
    expect(layers.map((l) => [l.z, l.role.length])).toEqual([
      [0.2, 3],
      [0.4, 2],
    ]);
    // Flow by hand: 0.04 mm of filament per mm, at 20 mm/s.
    expect(layers[0]!.flow[1]).toBeCloseTo(0.04 * (Math.PI / 4) * 1.75 ** 2 * 20, 4);
    expect([...layers[1]!.line]).toEqual([7, 8]);
    // Of what is laid alone: the way there ran at 100 mm/s.
    expect(layers[0]!.range.speed).toEqual([20, 20]);
  });
  it('finds where travel crosses outer walls, and not where it starts and ends on them', () => {
    const text = [
      'G90',
      'M83',
      'G0 X0 Y0 Z0.2 F6000',
      ';@role outer-wall',
      'G1 X10 Y0 E0.4 F1200',
      'G1 X10 Y10 E0.4',
      'G1 X0 Y10 E0.4',
      'G1 X0 Y0 E0.4',
      // From the corner across the middle, through the right wall.
      'G0 X5 Y5',
      'G0 X15 Y5',
      'G0 X15 Y15',
    ].join('\n');
    const [layer] = layersOf(text);
    expect([...layer!.crossings]).toEqual([10, 5]);
    expect([...layer!.cells]).toEqual([-1, -1, -1, -1, -1, -1, -1]);
  });
});
