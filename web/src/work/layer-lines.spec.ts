import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { readGcode } from '#core/gcode';
import { risks, wayRisk } from '#core/inspect';
import { LayerGatherer } from './layer-lines';

function layersOf(text: string) {
  const layers = new LayerGatherer(demoPairs[0]!.context);
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

describe('what travel may leave where it crosses a wall', () => {
  const context = { ...demoPairs[0]!.context };
  const square = ['G1 X10 Y0 E0.4 F1200', 'G1 X10 Y10 E0.4', 'G1 X0 Y10 E0.4', 'G1 X0 Y0 E0.4'];
  const over = (retract: string[]) => {
    const text = ['G90', 'M83', 'M109 S225', 'G0 X0 Y0 Z0.2 F6000', ';@role outer-wall', ...square, ...retract];
    text.push('G0 X5 Y5', 'G0 X15 Y5');
    const layers = new LayerGatherer(context, wayRisk(context, 1));
    readGcode(new TextEncoder().encode(text.join('\n')), (chunk) => layers.take(chunk));
    layers.end();
    return layers.ready[0]!;
  };
  it('is marked beside the place: nothing where filament is drawn back, loose where it is not', () => {
    const [kept, loose] = [over(['G1 E-1 F1800']), over([])];
    expect([...kept.crossings]).toEqual([10, 5]);
    expect([...kept.risks]).toEqual([0]);
    expect([...loose.risks]).toEqual([1 + risks.indexOf('loose')]);
  });
});

describe('layers of a spiral wall', () => {
  it('are its turns, not every step of its height', () => {
    const lines = [
      'G90',
      'M83',
      'G0 X0 Y0 Z0.2 F6000',
      'G1 X10 Y0 E0.4',
      'G1 X10 Y10 E0.4',
      'G1 X0 Y10 E0.4',
      'G1 X0 Y0 E0.4',
    ];
    let z = 0.2;
    for (let turn = 0; turn < 5; turn++)
      for (const to of ['X10 Y0', 'X10 Y10', 'X0 Y10', 'X0 Y0']) lines.push(`G1 ${to} Z${(z += 0.05).toFixed(2)} E0.4`);
    expect(layersOf(lines.join('\n')).map((l) => [Math.round(l.z * 100) / 100, l.role.length])).toEqual([
      [0.2, 4],
      ...[0.4, 0.6, 0.8, 1, 1.2].map((top) => [top, 4]),
    ]);
  });
});

describe('what is laid over nothing', () => {
  it('stands with its layer, stretch by stretch', () => {
    const lines = ['G90', 'M83', 'M109 S225', 'G0 X50 Y50 Z0.2 F6000', ';@role outer-wall', 'G1 X60 Y50 E0.4 F1200'];
    // On the third layer a line goes 12 mm beyond what is beneath, and ends there.
    for (const z of [0.4, 0.6]) lines.push(`G0 X50 Y50 Z${z}`, `G1 X60 Y50 E0.4 F1200`);
    for (const z of [0.8, 1]) lines.push(`G0 X50 Y50 Z${z}`, `G1 X72 Y50 E0.9 F1200`);
    const [first, , , fourth, fifth] = layersOf(lines.join('\n'));
    expect(first!.free.length).toBe(0);
    const [x0, y0, x1, y1] = fourth!.free;
    expect(x0).toBeCloseTo(60, 0);
    expect([y0, x1, y1]).toEqual([50, 72, 50]);
    expect(fifth!.free.length).toBe(0);
  });
});
