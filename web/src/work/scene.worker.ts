import { expose } from 'comlink';
import type { Point } from '#core/geometry';
import type { Frame, Look } from './part-camera';
import type { PartView } from './part-info';
import { PartScene, type Inks, type Standing } from './part-scene';

let scene: PartScene | undefined;

/** What is drawn of a part: all but the look at it. Left out, it stays as it was. */
export interface Drawn {
  view?: PartView;
  bed?: { rings: readonly (readonly Point[])[]; half: Point };
  standing?: Standing;
}

/** How it is to be drawn. */
export interface Wanted {
  look: Look;
  frame: Frame;
  inks: Inks;
  /** While it is moved it may be drawn lightly. */
  moving: boolean;
}

const api = {
  /** @returns whether the browser draws in space */
  begin(canvas: OffscreenCanvas): boolean {
    try {
      scene = new PartScene(canvas);
      return true;
    } catch {
      return false;
    }
  },

  draw({ view, bed, standing }: Drawn, { inks, look, frame, moving }: Wanted): void {
    if (!scene) return;
    if (view) scene.show(view);
    if (bed) scene.lay(bed.rings, bed.half);
    if (standing) scene.place(standing);
    scene.ink(inks);
    scene.draw(look, frame, moving);
  },
};

/** What the worker that draws a part in space answers. */
export type SceneApi = typeof api;

expose(api);
