import { roleNumber } from '#core/moves';
import { WallGrid } from './wall-grid';

/** A way from line to line, as far as it bears on what it may leave behind. mm, °C. */
export interface Passage {
  /** The cell to which it belongs, −1 for none. */
  cell: number;
  /** Filament drawn back, and the tool in hand with its target. */
  back: number;
  tool: number;
  nozzle: number;
}

/** What is at risk where a way crosses outer walls; undefined where nothing is. */
export type RiskOf = (way: Passage & { length: number }, wallTools: readonly number[]) => Risk | undefined;

/**
 * Why a way that crosses an outer wall may leave something there: filament not drawn back; drawn back, but long and
 * hot; or a darker colour carried over a lighter wall, which no retraction takes away.
 */
export const risks = ['loose', 'hot', 'streak'] as const;
/** What a way may leave where it crosses an outer wall. */
export type Risk = (typeof risks)[number];

/** A way that crosses walls: its place among the ways of the layer, and where, x y of each. */
export interface Crossing {
  way: number;
  at: { x: number; y: number }[];
  risk: Risk | undefined;
}

/** Whether a line of that role is part of the outline of its layer, which a way can cross. */
export const isOuter = (role: number): boolean => role === roleNumber['outer-wall'] || role === roleNumber.overhang;

/** Counts how often travel crosses the outer walls of its layer. Walls and ways of one layer are held at a time. */
export class Crossings {
  count = 0;
  /** Ways at risk, by what it is. */
  readonly atRisk: Record<Risk, number> = { loose: 0, hot: 0, streak: 0 };
  private walls: number[] = [];
  private tools: number[] = [];
  private ways: number[] = [];
  private passages: Passage[] = [];
  private readonly byCell = new Map<number, { count: number; length: number }>();

  constructor(private readonly riskOf: RiskOf = () => undefined) {}

  wall(ax: number, ay: number, bx: number, by: number, tool = 0): void {
    this.walls.push(ax, ay, bx, by);
    this.tools.push(tool);
  }

  travel(ax: number, ay: number, bx: number, by: number, passage: Passage): void {
    this.ways.push(ax, ay, bx, by);
    this.passages.push(passage);
  }

  /** Crossings of a cell, and the length of the ways that cross, mm. */
  cell(id: number): { count: number; length: number } {
    return this.byCell.get(id) ?? { count: 0, length: 0 };
  }

  /** Ends a layer; gives the ways that cross. */
  close(): Crossing[] {
    const { walls, ways } = this;
    const found: Crossing[] = [];
    if (walls.length > 0 && ways.length > 0) {
      const grid = new WallGrid(walls);
      for (let i = 0; i < ways.length; i += 4) {
        const [ax, ay, bx, by] = [ways[i]!, ways[i + 1]!, ways[i + 2]!, ways[i + 3]!];
        const crossed = grid.crossed(ax, ay, bx, by);
        if (crossed.length === 0) continue;
        const passage = this.passages[i / 4]!;
        const length = Math.hypot(bx - ax, by - ay);
        this.add(passage.cell, crossed.length, length);
        const risk = this.riskOf(
          { ...passage, length },
          crossed.map((c) => this.tools[c.wall]!),
        );
        if (risk) this.atRisk[risk]++;
        found.push({
          way: i / 4,
          at: crossed.map(({ at: t }) => ({ x: ax + (bx - ax) * t, y: ay + (by - ay) * t })),
          risk,
        });
      }
    }
    this.walls = [];
    this.tools = [];
    this.ways = [];
    this.passages = [];
    return found;
  }

  private add(cell: number, crossed: number, length: number): void {
    this.count += crossed;
    const sum = this.byCell.get(cell) ?? { count: 0, length: 0 };
    sum.count += crossed;
    sum.length += length;
    this.byCell.set(cell, sum);
  }
}
