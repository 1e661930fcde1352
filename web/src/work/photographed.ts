import { done, type Progress, type Result } from '#core/base';
import { coloursOf, type Context } from '#core/context';
import type { PhotoWanted } from '#core/careful';
import { Camera, photograph, type Outcome } from '#core/lab';
import { drive } from './drive';
import { hashOf } from './hash';

/** A photograph as it was taken, and where the places wanted are in it. */
export interface Taken {
  name: string;
  jpeg: ArrayBuffer;
  /** SHA-256 of the JPEG. */
  hash: string;
  width: number;
  height: number;
  corners: [number, number][];
}

/** Photographs what lies on the bed, as far as anything does. */
export async function photographed(
  id: number,
  outcome: Outcome,
  of: Context,
  seed: number,
  wanted: readonly PhotoWanted[],
  report: (p: Progress) => void,
): Promise<Result<Taken[]>> {
  const colours = coloursOf(of);
  const photos: Taken[] = [];
  for (const { name, view, room, corners, width, height } of outcome.laid.n > 0 ? wanted : []) {
    const taken = await drive(id, photograph(outcome, { view, room, width, height, colours, seed }), report);
    if (!taken.ok) return taken;
    const canvas = new OffscreenCanvas(width, height);
    const { pixels } = taken.value;
    canvas.getContext('2d')!.putImageData(new ImageData(new Uint8ClampedArray(pixels), width, height), 0, 0);
    const jpeg = await (await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.88 })).arrayBuffer();
    const camera = new Camera(room, view, width, height);
    photos.push({
      name,
      jpeg,
      hash: await hashOf(jpeg),
      width,
      height,
      corners: corners.map(([x, y, z]) => camera.seen(x, y, z)),
    });
  }
  return done(photos);
}
