import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
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
  /** Which photo of the record the person wants in the rows; otherwise each cell has one of its own print. */
  readonly chosen = signal<number | undefined>(undefined);
  private readonly photos = computed(() => this.desk.record()?.photos ?? []);
  readonly strips = signal<ReadonlyMap<number, string>>(new Map());

  constructor() {
    effect(() => {
      const photos = this.photos();
      const plan = this.desk.plan();
      const wholes = new Map(plan?.cells.map(({ id }) => [id, this.wholeOf(id)]));
      untracked(() => {
        if (photos.length === 0 || !plan) this.strips.set(new Map());
        else void this.cut(wholes, photos, plan);
      });
    });
  }

  /** Whether a photo of the record stands in the row of the cell that is looked at. */
  isShown(index: number): boolean {
    const photo = this.photos()[index];
    return photo !== undefined && this.wholeOf(this.desk.cursor.spot().cell)?.hash === photo.hash;
  }

  /** The photo of the whole specimen that stands for a cell: the one that was chosen, else one of the print in which it lies. */
  private wholeOf(cell: number): Photo | undefined {
    const photos = this.photos();
    const chosen = photos[this.chosen() ?? -1];
    if (chosen && chosen.cell === undefined) return chosen;
    const wholes = photos.filter((p) => p.cell === undefined);
    const print = this.desk.printOfCell(cell)?.id;
    // Prints side by side may be on one photo.
    return wholes.find((p) => p.print === print) ?? (this.desk.byPrint() ? wholes[0] : undefined);
  }

  private async cut(
    wholes: ReadonlyMap<number, Photo | undefined>,
    photos: readonly Photo[],
    plan: Planned,
  ): Promise<void> {
    const known = new Map<string, Pixels | undefined>();
    for (const photo of wholes.values())
      if (photo && !known.has(photo.hash)) known.set(photo.hash, await pixelsOf(this.keeper, photo));
    const found = new Map<number, string>();
    for (const cell of plan.cells) {
      const whole = wholes.get(cell.id);
      const pixels = whole && known.get(whole.hash);
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
