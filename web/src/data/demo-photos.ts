import * as z from 'zod';
import { photoSchema, withPhoto, type Backup } from '#core/route';
import { placedCorners } from './run-record';

const FOLDER = '/demo';
/** They are to be there at once, or the demo goes without them, ms. */
const PATIENCE = 5000;

const listSchema = z.strictObject({
  kind: z.literal('steady-tune/demo-photos'),
  version: z.literal(1),
  photos: z
    .array(
      z.strictObject({
        record: z.string().max(160),
        print: z.string().max(160),
        name: z.string().max(80),
        hash: photoSchema.shape.hash,
        width: photoSchema.shape.width,
        height: photoSchema.shape.height,
        corners: z.array(z.tuple([z.number(), z.number()])).max(4),
      }),
    )
    .max(40),
});

/** The demo data with the photographs of its practice prints, as far as they can be had, and these by their hashes. */
export async function withDemoPhotos(demo: Backup): Promise<{ demo: Backup; photos: Map<string, ArrayBuffer> }> {
  const photos = new Map<string, ArrayBuffer>();
  try {
    const signal = AbortSignal.timeout(PATIENCE);
    const answer = await fetch(`${FOLDER}/photos.json`, { signal });
    const list = listSchema.parse(await answer.json());
    const taken = await Promise.all(
      list.photos.map(async (p) => {
        const picture = await fetch(`${FOLDER}/${p.hash}.jpg`, { signal });
        if (!picture.ok) throw new Error(p.hash);
        return { ...p, jpeg: await picture.arrayBuffer() };
      }),
    );
    let { records } = demo;
    for (const { record, print, name, hash, width, height, corners, jpeg } of taken) {
      photos.set(hash, jpeg);
      const photo = { hash, print, name: `practice, ${name}`, width, height, corners: placedCorners(corners) };
      records = records.map((r) => (r.id === record ? withPhoto(r, photo) : r));
    }
    return { demo: { ...demo, records }, photos };
  } catch {
    // A server that does not have them leaves the demo without photographs.
    return { demo, photos: new Map() };
  }
}
