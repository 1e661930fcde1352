import { Matrix4, OrthographicCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { cameraOf, rayOf, spotOf } from './part-camera';

const size = { width: 40, depth: 20, height: 30 };
const frame = { width: 600, height: 400, ratio: 1 };

describe('the look at a part', () => {
  it('brings places where a camera that looks at the middle of the part brings them', () => {
    for (const [round, above, near] of [
      [32, 28, 1],
      [0, 0, 1],
      [-140, 60, 3],
      [20, -50, 0.5],
    ] as const) {
      const camera = cameraOf({ round, above, near }, size, frame);
      // The same look by a library: an eye far away, turned to the middle.
      const eye = new OrthographicCamera(-camera.half.x, camera.half.x, camera.half.y, -camera.half.y, 1, 1e5);
      eye.up.set(0, 0, 1);
      eye.position.set(...camera.back).multiplyScalar(camera.far);
      eye.position.z += size.height / 2;
      eye.lookAt(0, 0, size.height / 2);
      eye.updateMatrixWorld();
      eye.updateProjectionMatrix();
      for (const at of [
        [0, 0, 15],
        [20, 10, 30],
        [-20, 10, 0],
        [3, -7, 11],
      ] as const) {
        const p = new Vector3(...at).project(eye);
        const spot = spotOf(camera, frame, at);
        expect(spot.x).toBeCloseTo(((p.x + 1) / 2) * frame.width, 6);
        expect(spot.y).toBeCloseTo(((1 - p.y) / 2) * frame.height, 6);
      }
      const turn = new Matrix4().makeBasis(
        new Vector3(...camera.right),
        new Vector3(...camera.up),
        new Vector3(...camera.back),
      );
      expect(turn.determinant()).toBeCloseTo(1, 9);
    }
  });
  it('shows nearness alike across and up, and looks straight down from above', () => {
    const camera = cameraOf({ round: 0, above: 90, near: 2 }, size, frame);
    const at = (x: number, y: number, z: number) => spotOf(camera, frame, [x, y, z]);
    expect(at(0, 0, 0).x).toBeCloseTo(300, 9);
    expect(at(5, 0, 0).x - at(0, 0, 30).x).toBeCloseTo(at(0, 0, 0).y - at(0, 5, 30).y, 9);
    expect(at(5, 0, 0).x).toBeGreaterThan(300);
  });
  it('leads a ray through the place that a point shows', () => {
    const camera = cameraOf({ round: 32, above: 28, near: 1.4 }, size, frame);
    const ray = rayOf(camera, frame, spotOf(camera, frame, [12, -4, 20]));
    const t = (camera.far - 0) / (2 * camera.far);
    // The place lies on it: as far along as it lies before the middle.
    const on = ray.from.map((v, i) => v + (ray.to[i]! - v) * t);
    const off = [12, -4, 20].map((v, i) => v - on[i]!);
    const along = off.reduce((sum, v, i) => sum + v * camera.back[i]!, 0);
    off.forEach((v, i) => expect(v - along * camera.back[i]!).toBeCloseTo(0, 6));
  });
});
