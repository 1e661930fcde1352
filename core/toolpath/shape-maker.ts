import { offset, type Point, type Polygon } from '#core/geometry';
import { roleNumber, type Role } from '#core/moves';
import { lineArea, lineSpacing, type Settings } from '#core/settings';
import { solidFill, type FillLine } from './fill';
import { curveSpeeds, type Ground } from './overhang';
import type { Shape } from './path';
import type { ThinLine } from './thin';

/** Turns lines into shapes with their cross-sections, roles and speeds. */
export class ShapeMaker {
  readonly spacing: number;
  private readonly area: number;

  /** @param ground what fills lie on, where part of it is air */
  constructor(
    private readonly s: Settings,
    private readonly height: number,
    private readonly ground: Ground | undefined,
  ) {
    this.spacing = lineSpacing(s.lineWidth, height, s.lineVolume);
    this.area = lineArea(s.lineWidth, height, s.lineVolume);
  }

  wall(ring: Point[], role: 'outer-wall' | 'inner-wall', closed: boolean, ground: Ground | undefined): Shape {
    const graded = ground?.graded(ring, roleNumber[role], this.s) ?? {
      points: ring,
      roles: ring.slice(1).map(() => roleNumber[role]),
      speeds: undefined,
    };
    const asked = role === 'outer-wall' ? this.s.outerWallSpeed : this.s.innerWallSpeed;
    const curve = curveSpeeds(graded.points, closed, asked, this.s);
    let speeds = graded.speeds?.some(Number.isFinite) ? graded.speeds : undefined;
    if (curve) speeds = curve.map((v, i) => Math.min(v, speeds?.[i] ?? Infinity));
    return {
      points: graded.points,
      roles: graded.roles,
      area: this.area,
      width: this.s.lineWidth,
      height: this.height,
      ...(speeds && { speeds }),
      ...(closed && { closed: true as const }),
    };
  }

  /** A single line, as wide as there is room. */
  thin(line: ThinLine, role: 'outer-wall' | 'inner-wall', ground: Ground | undefined): Shape {
    // Widths belong to the points given: a line that is cut for its overhang keeps the mean.
    const mean = line.widths.reduce((a, b) => a + b, 0) / line.widths.length;
    const even = line.widths.every((w) => Math.abs(w / mean - 1) < 0.05);
    const shape = this.wall(line.points, role, line.closed, even ? ground : undefined);
    const areaOfWidth = (w: number) => lineArea(w, this.height, this.s.lineVolume);
    if (even) return { ...shape, width: mean, area: areaOfWidth(mean) };
    const areas = line.points.slice(1).map((_, i) => areaOfWidth((line.widths[i]! + line.widths[i + 1]!) / 2));
    return { ...shape, width: mean, area: areaOfWidth(mean), areas };
  }

  /** A line of a fill; where it lies over air it is an overhang. */
  fill({ points, share, widths, closed, fixed }: FillLine, role: Role, flow = 1): Shape {
    const { height, s } = this;
    const graded = widths || closed ? undefined : this.ground?.graded(points, roleNumber[role], s);
    if (graded?.roles.some((r) => r === roleNumber.overhang)) {
      const { points: cut, roles, speeds } = graded;
      const slowed = speeds.map((v, i) => (roles[i] === roleNumber.overhang ? v : Infinity));
      return {
        points: cut,
        roles,
        speeds: slowed,
        area: this.area * share * flow,
        width: s.lineWidth * share,
        height,
        ...(fixed && { fixed: true as const }),
      };
    }
    const areas = widths?.map((w) => w * height * flow);
    return {
      points,
      roles: points.slice(1).map(() => roleNumber[role]),
      area: this.area * share * flow,
      width: s.lineWidth * share,
      height,
      ...(areas && { areas, width: widths!.reduce((a, b) => a + b, 0) / widths!.length }),
      ...(closed && { closed: true as const }),
      ...(fixed && { fixed: true as const }),
    };
  }

  /** Narrow lines with little filament over a finished top. */
  ironed(area: readonly Polygon[], angle: number): Shape[] {
    const { s, height } = this;
    const lines = solidFill(offset(area, -s.lineWidth / 2), {
      pattern: 'lines',
      angle,
      spacing: s.ironingSpacing,
      overlap: 0,
      order: 'back and forth',
      rests: false,
    });
    return lines.map((line) => ({
      points: line.points,
      roles: line.points.slice(1).map(() => roleNumber.ironing),
      area: s.ironingSpacing * line.share * height * s.ironingFlow,
      width: s.ironingSpacing,
      height,
    }));
  }
}
