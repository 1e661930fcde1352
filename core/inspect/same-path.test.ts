import { describe, expect, it } from 'vitest';
import { emptyMoves, roleNumber, unknownState, type Chunk, type MachineState, type Role } from '#core/moves';
import { SamePaths } from './same-path';

interface Step {
  to: [number, number];
  e?: number;
  z?: number;
  speed?: number;
  role?: Role;
  state?: Partial<MachineState>;
}

/** Two inner lines and an outer one about a place, in steps. */
const cellAt = (x: number, y: number, change: (steps: Step[]) => Step[] = (s) => s): Step[] =>
  change([
    { to: [0, 0] },
    { to: [10, 0], e: 0.4, role: 'inner-wall' },
    { to: [10, 4], e: 0.16, role: 'inner-wall' },
    { to: [10, 4], e: -0.8, speed: 30 },
    { to: [0, 8] },
    { to: [0, 8], e: 0.8, speed: 30 },
    { to: [10, 8], e: 0.4, role: 'outer-wall' },
  ]).map((s) => ({ ...s, to: [s.to[0] + x, s.to[1] + y] }));

/** The cells that are alike, each given by its steps. */
function alike(...cells: Step[][]): number[][] {
  const paths = new SamePaths();
  let [x0, y0] = [-20, -20];
  cells.forEach((steps, cell) => {
    const moves = emptyMoves(steps.length);
    const states = steps.map((s): MachineState => ({
      ...unknownState,
      nozzle: 240,
      fan: 0.4,
      acceleration: 1500,
      ...s.state,
    }));
    const chunk: Chunk = { moves, states, commands: [] };
    steps.forEach(({ to: [x, y], e = 0, z = 0.2, speed = 60, role = 'travel' }, i) => {
      Object.assign(moves, { n: i + 1 });
      moves.x[i] = x;
      moves.y[i] = y;
      moves.z[i] = z;
      moves.e[i] = e;
      moves.speed[i] = speed;
      moves.role[i] = roleNumber[role];
      moves.state[i] = i;
      const prints = e > 0 && (x !== x0 || y !== y0);
      paths.move(cell, chunk, i, { x0, y0 }, prints);
      [x0, y0] = [x, y];
    });
  });
  return paths.alike();
}
const each = (change: Partial<Step>) => (steps: Step[]) => steps.map((s) => ({ ...s, ...change }));
const laid = (change: (s: Step) => Partial<Step>) => (steps: Step[]) =>
  steps.map((s) => ((s.e ?? 0) > 0 && s.role ? { ...s, ...change(s) } : s));

describe('cells that are printed alike', () => {
  it('are found wherever they stand, and cells like no other are not named', () => {
    expect(alike(cellAt(0, 0), cellAt(50, 20), cellAt(120.0004, 3.3331))).toEqual([[0, 1, 2]]);
    expect(alike(cellAt(0, 0), cellAt(50, 20, each({ speed: 61 })), cellAt(99, 5))).toEqual([[0, 2]]);
  });
  it.each<[string, (steps: Step[]) => Step[]]>([
    ['speed', laid(() => ({ speed: 60.3 }))],
    ['temperature', each({ state: { nozzle: 241 } })],
    ['fan', each({ state: { fan: 0.41 } })],
    ['acceleration', each({ state: { acceleration: 1510 } })],
    ['pressure advance', each({ state: { advance: 0.02 } })],
    ['flow', laid((s) => ({ e: s.e! * 1.005 }))],
    ['drawn back', (s) => s.map((q) => (q.e === -0.8 ? { ...q, e: -0.81 } : q))],
    ['speed of drawing back', (s) => s.map((q) => (q.speed === 30 ? { ...q, speed: 31 } : q))],
    [
      'order',
      (s) => [
        s[0]!,
        ...s
          .slice(1)
          .map((q) =>
            q.role ? { ...q, role: q.role === 'outer-wall' ? ('inner-wall' as const) : ('outer-wall' as const) } : q,
          ),
      ],
    ],
    ['place of a line', (s) => s.map((q) => (q.to[1] === 8 ? { ...q, to: [q.to[0], 7] } : q))],
    [
      'where a line begins',
      (s) => s.map((q, i) => (i > 3 && i < 6 ? { ...q, to: [10, 8] } : i === 6 ? { ...q, to: [0, 8] } : q)),
    ],
    ['lift', (s) => [...s.slice(0, 4), { to: [10, 4], z: 0.6 }, { to: [0, 8], z: 0.6 }, ...s.slice(4)]],
    ['wipe', (s) => [...s.slice(0, 4), { to: [10, 2] }, ...s.slice(4)]],
  ])('differ by their %s', (_, change) => {
    expect(alike(cellAt(0, 0), cellAt(50, 20, change))).toEqual([]);
  });
  it('are alike within what figures are rounded to, and no further', () => {
    expect(
      alike(
        cellAt(0, 0),
        cellAt(
          50,
          20,
          laid((s) => ({ e: s.e! * 1.0008 })),
        ),
      ),
    ).toEqual([[0, 1]]);
    expect(
      alike(
        cellAt(0, 0),
        cellAt(
          50,
          20,
          laid((s) => ({ e: s.e! * 1.0012 })),
        ),
      ),
    ).toEqual([]);
  });
});
