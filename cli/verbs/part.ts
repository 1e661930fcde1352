import { basename } from 'node:path';
import {
  parse,
  boundsOfMesh,
  likelyUnit,
  longestOf,
  lookOver,
  asFiled,
  PartPiece,
  readPart,
  rounded,
  units,
} from '#core';
import { need, readBytes, run } from '../answer';
import { partOptions } from '../parts';
import type { Cli } from '../cli';

export function partVerb({ verb, print }: Cli): void {
  verb('part', 'looks a part over: its size, its volume, and where its outline does not close')
    .argument('<file>', 'STL, OBJ or 3MF')
    .option('--unit <unit>', `the unit of the file where it says none: ${Object.keys(units).join(', ')}`)
    .option('--layer <mm>', 'height of a layer', '0.2')
    .action((path: string, options: unknown) => {
      const asked = need(parse(partOptions, options, 'options'));
      const file = run(readPart(readBytes(path), basename(path)));
      const unit = asked.unit ?? file.unit ?? likelyUnit(longestOf(file));
      print({
        unit,
        unitIs: asked.unit ? 'given' : file.unit ? 'said by the file' : 'guessed from the size',
        objects: file.objects.map(({ mesh, colour }) => {
          const piece = new PartPiece(mesh, { ...asFiled, unit: units[unit] });
          const { seen, ...looked } = run(lookOver(piece, asked.layer));
          const { min, max } = boundsOfMesh(mesh)!;
          return {
            name: mesh.name,
            triangles: mesh.n,
            colour,
            bounds: [...min, ...max].map((v) => rounded(v * units[unit], 3)),
            size: [piece.width, piece.depth, piece.height].map((v) => rounded(v, 3)),
            ...seen,
            ...looked,
          };
        }),
      });
    });
}
