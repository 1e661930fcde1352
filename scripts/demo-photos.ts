// Prints the demo's practice prints as they fell and photographs them, into the folder given: the demo has nothing drawn by hand.
import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { encode } from 'jpeg-js';
import { finish, must } from '#core/base';
import { shotsOf } from '#core/careful';
import { coloursOf } from '#core/context';
import { demoData } from '#core/demo';
import { Camera, ownTraits, photograph, printFile } from '#core/lab';
import { make } from '#core/make';
import { planned } from '#core/trial';

const QUALITY = 82;

const folder = process.argv[2] ?? 'dist/web/demo';
mkdirSync(folder, { recursive: true });
const photos = [];
for (const { id, trial, prints } of demoData().records)
  for (const { id: print, on, bed } of prints) {
    if (!bed) continue;
    const plan = must(planned(trial));
    const { file } = must(finish(make(trial)));
    const outcome = must(
      finish(printFile(file.bytes, trial.context, ownTraits(trial.context, on), { seed: bed.seed })),
    );
    const colours = coloursOf(trial.context);
    for (const { name, view, room, corners, width, height } of shotsOf(plan)) {
      const { pixels } = must(finish(photograph(outcome, { view, room, width, height, colours, seed: bed.seed })));
      const jpeg = encode({ width, height, data: Buffer.from(pixels.buffer) }, QUALITY).data;
      const hash = createHash('sha256').update(jpeg).digest('hex');
      const camera = new Camera(room, view, width, height);
      writeFileSync(join(folder, `${hash}.jpg`), jpeg);
      photos.push({
        record: id,
        print,
        name,
        hash,
        width,
        height,
        corners: corners.map(([x, y, z]) => camera.seen(x, y, z)),
      });
    }
    const { time, mass } = outcome;
    console.error(`${id}: ${Math.round(time)} s, ${mass.toFixed(1)} g`);
  }
writeFileSync(join(folder, 'photos.json'), JSON.stringify({ kind: 'steady-tune/demo-photos', version: 1, photos }));
