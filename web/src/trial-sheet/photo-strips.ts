import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import { cellPart, straightened, type Pixels } from '#core/photo';
import type { Photo } from '#core/route';
import type { Planned } from '#core/trial';
import { Keeper } from '../data/keeper';
import { TrialDesk } from './trial-desk';

const WIDE = 220;
const MOST_HIGH = 160;

/** The pixels of a kept photo; undefined where it is not there any more. */
export async function pixelsOf(keeper: Keeper, photo: Pick<Photo, 'hash'>): Promise<Pixels | undefined> {
  const blob = await keeper.photo(photo.hash);
  if (!blob) return undefined;
  const bitmap = await createImageBitmap(blob);
  const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const { width, height, data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  bitmap.close();
  return { width, height, data };
}

/** Puts pixels on a canvas of their size. */
export function painted(canvas: HTMLCanvasElement, pixels: Pixels): void {
  canvas.width = pixels.width;
  canvas.height = pixels.height;
  canvas
    .getContext('2d')!
    .putImageData(new ImageData(new Uint8ClampedArray(pixels.data), pixels.width, pixels.height), 0, 0);
}

/** A picture of each row: its strip of the photo in hand, or a close look at its cell where there is one. */
@Injectable()
export class PhotoStrips {
  private readonly desk = inject(TrialDesk);
  private readonly keeper = inject(Keeper);
  /** Which photo of the record is shown in the rows. */
  readonly shown = signal(0);
  readonly strips = signal<ReadonlyMap<number, string>>(new Map());

  constructor() {
    effect(() => {
      const photos = this.desk.record()?.photos ?? [];
      const chosen = photos[Math.min(this.shown(), photos.length - 1)];
      const whole = chosen && chosen.cell === undefined ? chosen : photos.find((p) => p.cell === undefined);
      const plan = this.desk.plan();
      untracked(() => {
        if (photos.length === 0 || !plan) this.strips.set(new Map());
        else void this.cut(whole, photos, plan);
      });
    });
  }

  private async cut(whole: Photo | undefined, photos: readonly Photo[], plan: Planned): Promise<void> {
    const pixels = whole && (await pixelsOf(this.keeper, whole));
    const found = new Map<number, string>();
    for (const cell of plan.cells) {
      const part = cellPart(plan, cell.id);
      const close = photos.findLast((p) => p.cell === cell.id);
      if (!part || part.right <= part.left || part.bottom <= part.top) continue;
      const { x, y, view } = plan.built.drawing;
      const high = view === 'above' ? y[1] - y[0] : plan.built.height || y[1];
      const ratio = ((part.bottom - part.top) * high) / ((part.right - part.left) * (x[1] - x[0]));
      const height = Math.max(8, Math.min(MOST_HIGH, Math.round(WIDE * ratio)));
      const canvas = document.createElement('canvas');
      const closer = close && (await pixelsOf(this.keeper, close));
      if (closer) painted(canvas, middleOf(closer, WIDE / height));
      else if (whole && pixels) {
        const strip = straightened(pixels, whole.corners, part, WIDE, height);
        if (!strip.ok) continue;
        painted(canvas, strip.value);
      } else continue;
      found.set(cell.id, canvas.toDataURL('image/jpeg', 0.85));
    }
    this.strips.set(found);
  }
}

/** The middle of a picture, as wide to high as asked. */
function middleOf({ width, height, data }: Pixels, ratio: number): Pixels {
  const wide = Math.max(1, Math.min(width, Math.round(height * ratio)));
  const high = Math.max(1, Math.min(height, Math.round(width / ratio)));
  const [left, top] = [(width - wide) >> 1, (height - high) >> 1];
  const own = new Uint8ClampedArray(4 * wide * high);
  for (let y = 0; y < high; y++) {
    const from = 4 * ((top + y) * width + left);
    own.set(data.subarray(from, from + 4 * wide), 4 * y * wide);
  }
  return { width: wide, height: high, data: own };
}
