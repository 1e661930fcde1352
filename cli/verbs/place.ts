import * as z from 'zod';
import {
  checkedTrial,
  parse,
  factorOf,
  likelyUnit,
  longestOf,
  asFiled,
  MOST_PARTS,
  withBeside,
  partTrial,
  placePart,
  units,
} from '#core';
import { need, refusal, run } from '../answer';
import { pairOf } from '../opened';
import { held, partOptions } from '../parts';
import type { Cli } from '../cli';

const placeOptions = z.strictObject({
  pair: z.string(),
  unit: partOptions.shape.unit,
  factor: z.string().optional(),
  along: z.enum(['height', 'tile', 'print']),
  scale: z.coerce.number().min(0.01).max(100),
  up: z
    .string()
    .transform((text) => text.split(',').map(Number))
    .pipe(z.tuple([z.number(), z.number(), z.number()])),
  spin: z.coerce.number().min(-360).max(360),
  from: z.coerce.number().min(0).max(5000),
  to: z.coerce.number().min(0).max(5000),
  beside: z
    .array(z.string())
    .max(MOST_PARTS - 1)
    .optional(),
});

export function placeVerb({ verb, print }: Cli): void {
  verb('place', 'a trial of a factor on a part of your own')
    .argument('<file>', 'STL, OBJ or 3MF')
    .requiredOption('--pair <pair>', 'a demo pair’s id, or a pair file')
    .option('--factor <id>', 'what is varied; without it, one print of the part')
    .option('--along <layout>', 'height, tile (copies) or print', 'print')
    .option('--unit <unit>', 'the unit of the file where it says none')
    .option('--scale <times>', 'its size', '1')
    .option('--up <x,y,z>', 'the direction of the file that points up', '0,0,1')
    .option('--spin <degrees>', 'turned about the vertical', '0')
    .option('--from <mm>', 'cut off beneath', '0')
    .option('--to <mm>', 'cut off above', '5000')
    .option('--beside <file...>', 'parts beside it on the plate, each as its file has it')
    .action((path: string, options: unknown) => {
      const asked = need(parse(placeOptions, options, 'options'));
      const { context, baseline } = pairOf(asked.pair);
      if (asked.factor !== undefined && !factorOf(asked.factor))
        throw refusal(
          'cli.factor',
          '--factor',
          `${asked.factor} is not in the catalogue`,
          'see catalogue for what can be varied',
        );
      const { file, part } = held(path);
      const unitOf = (own: typeof part) => units[asked.unit ?? own.unit ?? likelyUnit(longestOf(own))];
      const unit = unitOf(part);
      const length = Math.hypot(...asked.up);
      const up = asked.up.map((v) => v / length) as [number, number, number];
      const pose = { ...asFiled, unit, scale: asked.scale, spin: asked.spin, up };
      const placed = run(placePart(file, pose, { from: asked.from, to: asked.to }, baseline));
      const others = (asked.beside ?? []).map((other) => {
        const { file, part } = held(other);
        return run(placePart(file, { ...asFiled, unit: unitOf(part) }, undefined, baseline)).part;
      });
      const trial = others.reduce(withBeside, partTrial(placed.part, context, baseline, asked.factor, asked.along));
      need(checkedTrial(trial));
      print(trial);
    });
}
