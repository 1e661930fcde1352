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

/** The strips of the photo in hand, one for each cell, as pictures for the rows of the sheet. */
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
      const photo = photos[Math.min(this.shown(), photos.length - 1)];
      const plan = this.desk.plan();
      untracked(() => {
        if (!photo || !plan) this.strips.set(new Map());
        else void this.cut(photo, plan);
      });
    });
  }

  private async cut(photo: Photo, plan: Planned): Promise<void> {
    const pixels = await pixelsOf(this.keeper, photo);
    const found = new Map<number, string>();
    if (pixels)
      for (const cell of plan.cells) {
        const part = cellPart(plan, cell.id);
        if (!part || part.right <= part.left || part.bottom <= part.top) continue;
        const { x, y, view } = plan.built.drawing;
        const high = view === 'above' ? y[1] - y[0] : plan.built.height || y[1];
        const ratio = ((part.bottom - part.top) * high) / ((part.right - part.left) * (x[1] - x[0]));
        const height = Math.max(8, Math.min(MOST_HIGH, Math.round(WIDE * ratio)));
        const strip = straightened(pixels, photo.corners, part, WIDE, height);
        if (!strip.ok) continue;
        const canvas = document.createElement('canvas');
        painted(canvas, strip.value);
        found.set(cell.id, canvas.toDataURL('image/jpeg', 0.85));
      }
    this.strips.set(found);
  }
}
