import * as z from 'zod';
import { difference, intersection, rectangle, solid, type Polygon } from '#core/geometry';
import { placed, type Mesh } from './mesh';
import { standingOf, type Pose } from './pose';
import { Sections, type Gap, type Section } from './sections';

const place = z.number().min(-5000).max(5000);

/** What of a posed part is printed: heights above its foot, and a box about its middle, mm. */
export const cutSchema = z.strictObject({
  from: z.number().min(0).max(5000),
  to: z.number().min(0).max(5000),
  box: z.strictObject({ x0: place, y0: place, x1: place, y1: place }).optional(),
});
/** What of a posed part is printed. */
export type Cut = z.infer<typeof cutSchema>;

/** A cut that takes all of a part, however high. */
export const wholeCut: Cut = { from: 0, to: 5000 };
/** Whether a cut takes all of any part. */
export const isWhole = ({ from, to, box }: Cut): boolean => from === wholeCut.from && to >= wholeCut.to && !box;

/** What a tool prints of a section. Tools are counted from 1. */
export interface ToolOutline {
  tool: number;
  outline: Polygon[];
}

/** What is cut away beyond these is rounding, mm. */
const ROUNDING = 1e-3;
/** Corners of sections that are remembered; beyond, the oldest are forgotten. */
const MOST_CORNERS = 3_000_000;

const moved = (outline: readonly Polygon[], dx: number, dy: number): Polygon[] => {
  const move = (p: { x: number; y: number }) => ({ x: p.x + dx, y: p.y + dy });
  return outline.map(({ outer, holes }) => ({ outer: outer.map(move), holes: holes.map((h) => h.map(move)) }));
};

/**
 * A part as it is printed: posed, cut, the middle of its box above the origin, its foot at height 0. Sections are
 * remembered by their height, so that whatever is made of the same part costs them once.
 */
export class PartPiece {
  readonly width: number;
  readonly depth: number;
  readonly height: number;
  /** Heights at which its section jumps, mm. */
  readonly breaks: number[];
  /** The lowest place where an outline stays open, of all sections asked so far. */
  lowestOpen: Gap | undefined;
  /** The posed mesh, whole. */
  readonly mesh: Mesh;
  private readonly sections: Sections;
  /** Height of the posed mesh from which it is printed, mm. */
  readonly foot: number;
  /** Where its middle lies in the posed mesh, mm. */
  readonly middle: { x: number; y: number };
  private readonly box: Polygon[] | undefined;
  private readonly known = new Map<number, Section>();
  private corners = 0;

  private readonly byTool: { tool: number; sections: Sections }[];
  private readonly knownByTool = new Map<number, ToolOutline[]>();

  /**
   * @param byTool what of the mesh each tool prints, where more than one does; where they lie in one another the last counts
   * @throws RangeError for a mesh without triangles
   */
  constructor(mesh: Mesh, pose: Pose, cut?: Cut, byTool: readonly { tool: number; mesh: Mesh }[] = []) {
    const standing = standingOf(mesh, pose);
    this.mesh = placed(mesh, standing);
    this.byTool = byTool.map(({ tool, mesh: own }) => ({
      tool,
      sections: new Sections(placed(own, standing), pose.closes),
    }));
    this.sections = new Sections(this.mesh, pose.closes);
    const { min, max } = this.sections.bounds;
    this.foot = cut ? Math.min(cut.from, max[2]) : 0;
    const top = cut ? Math.max(this.foot, Math.min(cut.to, max[2])) : max[2];
    this.height = top - this.foot;
    const own = { x0: min[0], y0: min[1], x1: max[0], y1: max[1] };
    const kept = cut?.box
      ? {
          x0: Math.max(own.x0, cut.box.x0),
          y0: Math.max(own.y0, cut.box.y0),
          x1: Math.min(own.x1, cut.box.x1),
          y1: Math.min(own.y1, cut.box.y1),
        }
      : own;
    const whole = (Object.keys(own) as (keyof typeof own)[]).every((k) => Math.abs(own[k] - kept[k]) < ROUNDING);
    this.box = whole ? undefined : [solid(rectangle(kept.x0, kept.y0, kept.x1, kept.y1))];
    this.middle = { x: (kept.x0 + kept.x1) / 2, y: (kept.y0 + kept.y1) / 2 };
    this.width = Math.max(0, kept.x1 - kept.x0);
    this.depth = Math.max(0, kept.y1 - kept.y0);
    this.breaks = this.sections
      .flats()
      .map((b) => b - this.foot)
      .filter((b) => b > ROUNDING && b < this.height - ROUNDING);
  }

  /** The outline at a height above its foot, mm; empty beyond it. */
  at(height: number): Polygon[] {
    return this.section(height).outline;
  }

  /** The outline of each tool at a height above its foot, mm; none where one tool prints all of it. */
  inTools(height: number): ToolOutline[] {
    if (this.byTool.length === 0) return [];
    const key = Math.round(height * 1e6);
    let all = this.knownByTool.get(key);
    if (!all) {
      const whole = this.at(height);
      let taken: Polygon[] = [];
      all = [];
      for (const { tool, sections } of [...this.byTool].reverse()) {
        const { outline } = sections.at(this.foot + height);
        const here = intersection(moved(outline, -this.middle.x, -this.middle.y), whole);
        const own = taken.length > 0 ? difference(here, taken) : here;
        taken = [...taken, ...here];
        if (own.length > 0) all.unshift({ tool, outline: own });
      }
      this.knownByTool.set(key, all);
    }
    return all;
  }

  /** The section at a height above its foot, with what was closed and what stays open there. */
  section(height: number): Section {
    if (height < 0 || height > this.height) return { outline: [], mended: [], open: [] };
    const key = Math.round(height * 1e6);
    let section = this.known.get(key);
    if (!section) {
      const whole = this.sections.at(this.foot + height);
      const { x, y } = this.middle;
      const here = (gaps: readonly Gap[]) =>
        gaps.map((g) => ({ ...g, x: g.x - x, y: g.y - y, z: height })).filter((g) => this.within(g));
      section = {
        outline: moved(this.box ? intersection(whole.outline, this.box) : whole.outline, -x, -y),
        mended: here(whole.mended),
        open: here(whole.open),
      };
      this.remember(key, section);
    }
    return section;
  }

  private within({ x, y, width }: Gap): boolean {
    return Math.abs(x) <= this.width / 2 + width && Math.abs(y) <= this.depth / 2 + width;
  }

  private remember(key: number, section: Section): void {
    for (const gap of section.open) if (!this.lowestOpen || gap.z < this.lowestOpen.z) this.lowestOpen = gap;
    const count = (s: Section) => s.outline.reduce((n, p) => n + p.outer.length + p.holes.flat().length, 0);
    this.corners += count(section);
    this.known.set(key, section);
    for (const [old, s] of this.known) {
      if (this.corners <= MOST_CORNERS || old === key) break;
      this.known.delete(old);
      this.corners -= count(s);
    }
  }
}
