import rabbit from 'bunny';
import pot from 'teapot';
import { MeshBuilder, type Mesh } from '#core/part';

interface Drawn {
  positions: readonly (readonly [number, number, number])[];
  cells: readonly (readonly [number, number, number])[];
}

/** A mesh as it is drawn for screens, its second axis upward, stood up and so many times as large. */
function stoodUp(name: string, { positions, cells }: Drawn, by: number): Mesh {
  const mesh = new MeshBuilder();
  const at = (i: number): [number, number, number] => {
    const [x, y, z] = positions[i]!;
    return [by * x, -by * z, by * y];
  };
  for (const [a, b, c] of cells) mesh.add(at(a), at(b), at(c));
  return mesh.mesh(name);
}

/** A scanned animal, 48 mm high: its underside is open in several places. */
export const scannedRabbit = (): Mesh => stoodUp('rabbit', rabbit, 5);

/** A pot of curved patches, 32 mm high: shells that cross, a lid with a gap, no floor. */
export const patchedPot = (): Mesh => stoodUp('pot', pot, 2);
