import { InjectionToken } from '@angular/core';
import { done, fault, refuse, type Result } from '#core/base';
import { hashOf } from '../work/hash';

const MOST_FILE = 40e6;
const MOST_SIDE = 2048;

/** A photo as it is kept: a JPEG of at most 2048 px without metadata, and its hash. */
export interface PhotoFile {
  hash: string;
  blob: Blob;
  width: number;
  height: number;
}

/** Reads a picture file of any kind the browser knows, makes it small, and drops all metadata. */
export async function photoFile(file: Blob, name: string): Promise<Result<PhotoFile>> {
  const wrong = (what: string, right: string) => refuse(fault('data.photo', name, `${name}: ${what}`, right));
  if (file.size > MOST_FILE) return wrong('the picture is larger than 40 MB', 'take a smaller one');
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
  } catch {
    return wrong('it is no picture that this browser can read', 'choose a JPEG, PNG or WebP file');
  }
  const scale = Math.min(1, MOST_SIDE / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [bitmap.width, bitmap.height].map((v) => Math.max(1, Math.round(v * scale))) as [
    number,
    number,
  ];
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const blob = await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.86 });
  return done({ hash: await hashOf(await blob.arrayBuffer()), blob, width, height });
}

/** How a picture is read; another way where there is no canvas. */
export const READ_PHOTO = new InjectionToken<typeof photoFile>('read photo', { factory: () => photoFile });
