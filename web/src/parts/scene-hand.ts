import { transfer, wrap, type Remote } from 'comlink';
import { cameraOf, type Camera, type Frame } from '../work/part-camera';
import type { Standing } from '../work/part-scene';
import type { Drawn, SceneApi, Wanted } from '../work/scene.worker';

/** How a drawing was made. */
export interface Made {
  camera: Camera;
  frame: Frame;
}

/**
 * The drawing in space, made in a worker of its own: where there is no graphics card a heavy part takes long to draw,
 * and the page goes on meanwhile. Of drawings that are asked for while one is being made, the last is made.
 */
export class SceneHand {
  private readonly worker = new Worker(new URL('../work/scene.worker', import.meta.url), { type: 'module' });
  private readonly api: Remote<SceneApi> = wrap<SceneApi>(this.worker);
  private next: Wanted | undefined;
  private changed: Drawn = {};
  private size: Standing['size'] = { width: 20, depth: 20, height: 20 };
  private busy = true;

  /**
   * @param made is told how the last drawing was made
   * @param blind is called where this browser draws nothing in space
   */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly made: (made: Made) => void,
    private readonly blind: () => void,
  ) {
    this.worker.onerror = blind;
    const off = canvas.transferControlToOffscreen();
    void this.api.begin(transfer(off, [off])).then((can) => {
      if (!can) return blind();
      this.busy = false;
      void this.draw();
    });
  }

  /** What is drawn from now on; what is left out stays as it was. */
  show(changed: Drawn): void {
    this.changed = { ...this.changed, ...changed };
    if (changed.standing) this.size = changed.standing.size;
  }

  want(wanted: Wanted): void {
    this.next = wanted;
    if (!this.busy) void this.draw();
  }

  dispose(): void {
    this.worker.terminate();
  }

  private async draw(): Promise<void> {
    const { next } = this;
    if (!next) return;
    const { changed } = this;
    this.next = undefined;
    this.changed = {};
    this.busy = true;
    const camera = cameraOf(next.look, this.size, next.frame);
    try {
      await this.api.draw(changed, next);
    } catch {
      return this.blind();
    }
    this.made({ camera, frame: next.frame });
    this.busy = false;
    void this.draw();
  }
}
