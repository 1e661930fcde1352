import { filamentArea } from '#core/context';
import type { Chunk } from '#core/moves';

/** The moves of one layer for drawing: x0 y0 x1 y1 of each, with what a pointed-at move is. */
export interface LayerLines {
  z: number;
  height: number;
  cell: number;
  ends: Float32Array;
  role: Uint8Array;
  speed: Float32Array;
  flow: Float32Array;
  width: Float32Array;
  line: Uint32Array;
  fan: Float32Array;
}

/** Gathers the moves of a program into layers; travel before a layer belongs to it. */
export function layersOf(read: (sink: (chunk: Chunk) => void) => void, diameter: number): LayerLines[] {
  const layers: LayerLines[] = [];
  const area = filamentArea({ diameter });
  let ends: number[] = [];
  let role: number[] = [];
  let speed: number[] = [];
  let flow: number[] = [];
  let width: number[] = [];
  let line: number[] = [];
  let fan: number[] = [];
  let z = NaN;
  let height = 0;
  let cell = -1;
  let [x, y] = [0, 0];
  const close = () => {
    if (Number.isNaN(z)) return;
    layers.push({
      z,
      height,
      cell,
      ends: Float32Array.from(ends),
      role: Uint8Array.from(role),
      speed: Float32Array.from(speed),
      flow: Float32Array.from(flow),
      width: Float32Array.from(width),
      line: Uint32Array.from(line),
      fan: Float32Array.from(fan),
    });
    ends = [];
    role = [];
    speed = [];
    flow = [];
    width = [];
    line = [];
    fan = [];
  };
  read(({ moves, states }) => {
    for (let i = 0; i < moves.n; i++) {
      const nx = moves.x[i]!;
      const ny = moves.y[i]!;
      const e = moves.e[i]!;
      const length = Math.hypot(nx - x, ny - y);
      if (e > 0 && length > 0 && !(Math.abs(moves.z[i]! - z) <= 1e-4)) {
        close();
        z = moves.z[i]!;
        height = moves.height[i]!;
        cell = moves.cell[i]!;
      }
      if (length > 0) {
        ends.push(x, y, nx, ny);
        role.push(moves.role[i]!);
        speed.push(moves.speed[i]!);
        flow.push(e > 0 ? ((e * area) / length) * moves.speed[i]! : 0);
        width.push(moves.width[i]!);
        line.push(moves.line[i]!);
        fan.push(states[moves.state[i]!]!.fan);
      }
      x = nx;
      y = ny;
    }
  });
  close();
  return layers;
}
