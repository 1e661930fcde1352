/** Where the camera stands: how far around from the front, and how high, degrees. */
export interface View {
  azimuth: number;
  elevation: number;
}

/** Views with a name. */
export const views = {
  front: { azimuth: 0, elevation: 8 },
  corner: { azimuth: 35, elevation: 24 },
  above: { azimuth: 0, elevation: 86 },
} as const satisfies Record<string, View>;

/** A box in space, mm. */
export interface Room {
  x0: number;
  y0: number;
  z0: number;
  x1: number;
  y1: number;
  z1: number;
}

/** How narrow the lens is: distance of the camera in sizes of what it looks at. */
const FAR = 3.2;

/** A pinhole camera that looks at the middle of a room, so that it fills the picture. Screen: x right, y down, pixels. */
export class Camera {
  /** Unit vectors: to the right, up, and from the camera into the picture. */
  readonly right: readonly [number, number, number];
  readonly up: readonly [number, number, number];
  readonly into: readonly [number, number, number];
  readonly at: readonly [number, number, number];
  /** Pixels for a millimetre at a distance of one millimetre. */
  readonly focal: number;

  constructor(
    room: Room,
    { azimuth, elevation }: View,
    readonly width: number,
    readonly height: number,
    margin = 1.12,
  ) {
    const [a, e] = [(azimuth * Math.PI) / 180, (elevation * Math.PI) / 180];
    this.into = [-Math.sin(a) * Math.cos(e), Math.cos(a) * Math.cos(e), -Math.sin(e)];
    this.right = [Math.cos(a), Math.sin(a), 0];
    this.up = [-Math.sin(a) * Math.sin(e), Math.cos(a) * Math.sin(e), Math.cos(e)];
    const middle = [(room.x0 + room.x1) / 2, (room.y0 + room.y1) / 2, (room.z0 + room.z1) / 2] as const;
    const half = [(room.x1 - room.x0) / 2, (room.y1 - room.y0) / 2, (room.z1 - room.z0) / 2] as const;
    const extent = (v: readonly [number, number, number]) =>
      Math.abs(v[0]) * half[0] + Math.abs(v[1]) * half[1] + Math.abs(v[2]) * half[2];
    const size = Math.max(extent(this.right), extent(this.up), 2);
    const far = 2 * FAR * size + extent(this.into);
    this.at = [middle[0] - this.into[0] * far, middle[1] - this.into[1] * far, middle[2] - this.into[2] * far];
    const nearest = far - extent(this.into);
    this.focal =
      nearest * Math.min(width / (2 * margin * extent(this.right) || 1), height / (2 * margin * extent(this.up) || 1));
  }

  /** Where a place is in the picture, as shares of its width and height from the upper left. */
  seen(x: number, y: number, z: number): [number, number] {
    const { at, into, right, up, focal, width, height } = this;
    const [px, py, pz] = [x - at[0], y - at[1], z - at[2]];
    const k = focal / (px * into[0] + py * into[1] + pz * into[2]);
    return [
      0.5 + ((px * right[0] + py * right[1] + pz * right[2]) * k) / width,
      0.5 - ((px * up[0] + py * up[1] + pz * up[2]) * k) / height,
    ];
  }
}
