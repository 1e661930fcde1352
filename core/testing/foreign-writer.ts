import { finish } from '#core/base';
import type { Chunk, Command } from '#core/moves';
import { toolpath } from '#core/toolpath';
import type { Planned } from '#core/trial';

/** How a made-up program writes its files: nothing here is shared with our own writer. */
export interface Manners {
  /** Nozzle temperature that each tool sets for itself when it comes in hand, °C. */
  own: readonly number[];
  bed: number;
  arcs: boolean;
}

interface Point {
  x: number;
  y: number;
  e: number;
  f: number;
}

/**
 * Writes a plan as another program would: absolute E that begins anew at each layer, F first and Y before X, arcs where
 * points lie on a circle, comments of its own, and tools that set their own temperature. Roles and cells are not named.
 */
export function writtenElsewhere(plan: Planned, { own, bed, arcs }: Manners): string {
  const lines: string[] = ['; Somebody’s part', `M190 S${bed}`, `M109 S${own[0]}`, 'G21', 'G28', 'M82', 'G92 E0'];
  let [x, y, z, e, f, fan, tool] = [0, 0, 0, 0, 0, -1, 0];
  let run: Point[] = [];
  /** E where the nozzle stands; `e` runs ahead to the end of the run. */
  let at = 0;
  const figure = (v: number, d: number) => v.toFixed(d);
  const feed = (v: number) => {
    if (v === f) return '';
    f = v;
    return ` F${Math.round(v)}`;
  };
  const flush = () => {
    while (run.length > 0) {
      const arc = arcs ? arcIn([{ x, y, e: at, f }, ...run]) : undefined;
      const to = run[arc ? arc.count - 1 : 0]!;
      const own = feed(to.f);
      lines.push(
        arc
          ? `${arc.left ? 'G3' : 'G2'}${own} Y${figure(to.y, 3)} X${figure(to.x, 3)} I${figure(arc.x - x, 4)} J${figure(arc.y - y, 4)} E${figure(to.e, 5)}`
          : `G1${own} Y${figure(to.y, 3)} X${figure(to.x, 3)} E${figure(to.e, 5)}`,
      );
      [x, y, at] = [to.x, to.y, to.e];
      run = run.slice(arc ? arc.count : 1);
    }
  };
  let layer = -1;
  const command = (c: Command) => {
    if (c.kind === 'fan' && c.share !== fan) {
      flush();
      fan = c.share;
      lines.push(fan > 0 ? `M106 S${Math.round(fan * 255)}` : 'M107');
    } else if (c.kind === 'tool' && c.to !== tool && layer >= 0) {
      flush();
      tool = c.to;
      lines.push(`T${tool}`, `M109 S${own[tool]}`, 'G92 E0');
      e = at = 0;
    } else if (c.kind === 'layer') {
      flush();
      layer = c.number;
      if (layer > 0) lines.push(`; ---- ${layer} ----`, 'G92 E0');
      e = at = 0;
    }
  };
  const take = ({ moves, commands }: Chunk) => {
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      for (; next < commands.length && commands[next]!.before <= i; next++) command(commands[next]!);
      if (layer < 0) continue;
      const [mx, my, mz, me] = [moves.x[i]!, moves.y[i]!, moves.z[i]!, moves.e[i]!];
      const speed = Math.round(moves.speed[i]! * 60);
      const last = run.at(-1) ?? { x, y };
      const flat = Math.hypot(mx - last.x, my - last.y) > 1e-9;
      if (me > 0 && flat && mz === z) {
        e += me;
        run.push({ x: mx, y: my, e, f: speed });
        continue;
      }
      flush();
      if (me !== 0 && !flat) {
        e += me;
        at = e;
        lines.push(`G1${feed(speed)} E${figure(e, 5)}`);
      } else {
        const words = [mz !== z ? ` Z${figure(mz, 3)}` : '', flat ? ` Y${figure(my, 3)} X${figure(mx, 3)}` : ''].join(
          '',
        );
        if (words) lines.push(`G0${feed(speed)}${words}`);
      }
      [x, y, z] = [mx, my, mz];
    }
    for (; next < commands.length; next++) command(commands[next]!);
  };
  finish(toolpath(plan, take));
  flush();
  lines.push('G91', `G0 F600 Z5`, 'G90', ...own.map((_, t) => `M104 T${t} S0`), 'M140 S0', 'M107', 'M84 ; done');
  return lines.join('\r\n') + '\r\n';
}

/** The longest run of at least five points on one circle, at one feed, less than a half turn. */
function arcIn(points: readonly Point[]): { count: number; x: number; y: number; left: boolean } | undefined {
  if (points.length < 6) return undefined;
  const [a, b, c] = [points[0]!, points[2]!, points[4]!];
  const d = 2 * (a.x * (b.y - c.y) + b.x * (c.y - a.y) + c.x * (a.y - b.y));
  if (Math.abs(d) < 1e-6) return undefined;
  const square = (p: Point) => p.x * p.x + p.y * p.y;
  const x = (square(a) * (b.y - c.y) + square(b) * (c.y - a.y) + square(c) * (a.y - b.y)) / d;
  const y = (square(a) * (c.x - b.x) + square(b) * (a.x - c.x) + square(c) * (b.x - a.x)) / d;
  const r = Math.hypot(a.x - x, a.y - y);
  if (r > 100 || r < 0.5) return undefined;
  let count = 0;
  let turned = 0;
  const per = (points[1]!.e - a.e) / Math.hypot(points[1]!.x - a.x, points[1]!.y - a.y);
  for (let i = 1; i < points.length; i++) {
    const [p, q] = [points[i]!, points[i - 1]!];
    const length = Math.hypot(p.x - q.x, p.y - q.y);
    const even = i === 1 || Math.abs((p.e - q.e) / length - per) < 0.01 * per;
    const turn = Math.atan2(
      (q.x - x) * (p.y - y) - (q.y - y) * (p.x - x),
      (q.x - x) * (p.x - x) + (q.y - y) * (p.y - y),
    );
    // Small steps, all the same way round.
    if (Math.abs(turn) > 0.25 || turn * turned < 0) break;
    turned += turn;
    if (Math.abs(Math.hypot(p.x - x, p.y - y) - r) > 0.004 || !even || p.f !== points[1]!.f || Math.abs(turned) > 3)
      break;
    count = i;
  }
  return count < 5 ? undefined : { count, x, y, left: turned > 0 };
}
