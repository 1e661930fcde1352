import { distance, type HatchLine } from '#core/geometry';

/**
 * Orders hatch lines so that each is laid after every line beside it in the row before, all in the same direction: no
 * line is laid against the order. Among the lines that may come next, the one that goes on from the last comes first,
 * so that a part on one side of a hole is finished before the other side begins.
 *
 * @param lines rows ascending
 */
export function oneWay(lines: readonly HatchLine[]): HatchLine[] {
  const rows = new Map<number, number[]>();
  lines.forEach((line, i) => rows.set(line.row, [...(rows.get(line.row) ?? []), i]));
  const direction = unit(lines[0]);
  const along = (i: number): [number, number] => {
    const { a, b } = lines[i]!;
    return [a.x * direction.x + a.y * direction.y, b.x * direction.x + b.y * direction.y];
  };
  const spans = lines.map((_, i) => along(i));
  const after: number[][] = lines.map(() => []);
  const waits = lines.map(() => 0);
  lines.forEach((line, i) => {
    for (const j of rows.get(line.row + 1) ?? []) {
      if (spans[i]![0] < spans[j]![1] && spans[j]![0] < spans[i]![1]) {
        after[i]!.push(j);
        waits[j]!++;
      }
    }
  });
  const ready = lines.flatMap((_, i) => (waits[i] === 0 ? [i] : []));
  const order: HatchLine[] = [];
  let last: number | undefined;
  while (ready.length > 0) {
    let pick = 0;
    if (last !== undefined) {
      const next = ready.findIndex((i) => after[last!]!.includes(i));
      if (next >= 0) pick = next;
      else {
        const at = lines[last]!.b;
        for (let k = 1; k < ready.length; k++) {
          if (distance(lines[ready[k]!]!.a, at) < distance(lines[ready[pick]!]!.a, at)) pick = k;
        }
      }
    }
    const [i] = ready.splice(pick, 1) as [number];
    order.push(lines[i]!);
    for (const j of after[i]!) if (--waits[j]! === 0) ready.push(j);
    last = i;
  }
  return order;
}

function unit(line: HatchLine | undefined): { x: number; y: number } {
  if (!line) return { x: 1, y: 0 };
  const length = distance(line.a, line.b) || 1;
  return { x: (line.b.x - line.a.x) / length, y: (line.b.y - line.a.y) / length };
}
