import {
  BackSide,
  BufferAttribute,
  BufferGeometry,
  Color,
  ColorManagement,
  DoubleSide,
  EqualStencilFunc,
  FrontSide,
  Group,
  LineBasicMaterial,
  LinearSRGBColorSpace,
  LineSegments,
  Matrix4,
  Mesh,
  OrthographicCamera,
  ReplaceStencilOp,
  Scene,
  ShaderMaterial,
  Vector3,
  WebGLRenderer,
} from 'three';
import type { Point } from '#core/geometry';
import { cameraOf, type Frame, type Look } from './part-camera';
import type { PartView } from './part-info';

/** A part as it stands: file → bed as a matrix of rows, its box, and what is cut out of it. mm */
export interface Standing {
  matrix: number[];
  size: { width: number; depth: number; height: number };
  from: number;
  to: number;
  box?: { x0: number; y0: number; x1: number; y1: number };
  /** Whether the box is drawn even where it takes the whole part: its sides can be pulled. */
  framed?: boolean;
  /** All above this is taken away to look into it, mm. */
  opened: number;
}

/** Colours of the page, as CSS gives them. */
export interface Inks {
  sheet: string;
  ink: string;
  soft: string;
  line: string;
  well: string;
  madder: string;
  fault: string;
}

/** A side so near to one of the part lies on it, mm. */
const ON = 1e-3;
/** More lines than these are left out while the view moves. */
const MOST_LINES = 8000;
/** A heavy part that takes longer to draw, ms, is drawn at this share of the screen’s dots while it is turned. */
const SLOW = { above: 45, share: 0.5 };

const vertex = /* glsl */ `
  varying vec3 at;
  void main() {
    vec4 world = modelMatrix * vec4(position, 1.0);
    at = world.xyz;
    gl_Position = projectionMatrix * viewMatrix * world;
  }
`;

/** Paper that is shaded a little by its slope; what hangs over by more than 45° is hatched in ink, the denser the further. */
const fragment = /* glsl */ `
  varying vec3 at;
  uniform vec3 sheet;
  uniform vec3 ink;
  uniform vec3 well;
  uniform vec3 low;
  uniform vec3 high;
  uniform float foot;
  uniform bool cut;
  uniform bool within;
  void main() {
    if (any(lessThan(at, low)) || any(greaterThan(at, high))) discard;
    vec3 n = normalize(cross(dFdx(at), dFdy(at)));
    float across = mod(gl_FragCoord.x + gl_FragCoord.y, 7.0);
    if (cut) {
      // The outline of the cut, as wide as a line.
      vec3 wide = 1.2 * fwidth(at);
      if (any(lessThan(at - low, wide)) || any(lessThan(high - at, wide))) {
        gl_FragColor = vec4(ink, 1.0);
        return;
      }
      // A face seen from within: all on the way to it is solid, so what one sees there is the cut.
      if (within) {
        gl_FragColor = vec4(mix(well, ink, across < 1.4 ? 0.28 : 0.06), 1.0);
        return;
      }
    }
    float light = 0.93 + 0.07 * n.z - 0.05 * abs(n.x);
    vec3 colour = mix(ink, sheet, light);
    if (n.z < -0.7072 && at.z > foot + 0.3) {
      float wide = mix(1.2, 3.6, (-n.z - 0.7072) / 0.2928);
      colour = mix(colour, ink, across < wide ? 0.62 : 0.06);
    }
    gl_FragColor = vec4(colour, 1.0);
  }
`;

const lineFragment = /* glsl */ `
  varying vec3 at;
  uniform vec3 ink;
  uniform vec3 line;
  uniform vec3 low;
  uniform vec3 high;
  uniform float top;
  void main() {
    if (at.z > top) discard;
    bool beyond = any(lessThan(at, low)) || any(greaterThan(at, high));
    gl_FragColor = vec4(beyond ? line : ink, 1.0);
  }
`;

const lines = (points: readonly number[]): BufferGeometry => {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(points), 3));
  return geometry;
};

/** Faces of the part. @param mark what stays in the stencil where they are seen */
const faces = (mark: 0 | 1): ShaderMaterial =>
  new ShaderMaterial({
    vertexShader: vertex,
    fragmentShader: fragment,
    side: mark === 1 ? BackSide : DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: 1.5,
    polygonOffsetUnits: 2,
    stencilWrite: true,
    stencilRef: mark,
    stencilZPass: ReplaceStencilOp,
    uniforms: {
      sheet: { value: new Color() },
      ink: { value: new Color() },
      well: { value: new Color() },
      low: { value: new Vector3() },
      high: { value: new Vector3() },
      foot: { value: 0 },
      cut: { value: false },
      within: { value: mark === 1 },
    },
  });

/** The drawing in space: a part on its bed, drawn when something changed. */
export class PartScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera();
  private readonly part = new Group();
  private readonly faces = faces(0);
  /** Where the part is cut, faces seen from within: they mark where the cut lies, and no line shows through it. */
  private readonly within = faces(1);
  private readonly edges = new ShaderMaterial({
    vertexShader: vertex,
    fragmentShader: lineFragment,
    stencilWrite: true,
    stencilFunc: EqualStencilFunc,
    stencilRef: 0,
    uniforms: {
      ink: { value: new Color() },
      line: { value: new Color() },
      low: { value: new Vector3() },
      high: { value: new Vector3() },
      top: { value: 1e6 },
    },
  });
  private readonly gaps = new LineBasicMaterial({ depthTest: false });
  private readonly ground = new LineBasicMaterial();
  private readonly frame = new LineBasicMaterial();
  private bed: LineSegments | undefined;
  private box: LineSegments | undefined;
  private whole: Mesh[] = [];
  private thin: Mesh[] = [];
  /** What is drawn at rest alone. */
  private resting: LineSegments[] = [];
  private standing: Standing | undefined;
  private sized = '';
  private slow = false;

  /** @throws Error where the browser draws nothing in space */
  constructor(canvas: OffscreenCanvas) {
    // Colours are the page’s own, as they stand: nothing is lit, and nothing is to be converted.
    ColorManagement.enabled = false;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, stencil: true });
    this.renderer.outputColorSpace = LinearSRGBColorSpace;
    this.camera.matrixAutoUpdate = false;
    this.part.matrixAutoUpdate = false;
    this.scene.add(this.part);
  }

  show({ corners, moving, sharp, open }: PartView): void {
    for (const child of [...this.part.children]) {
      this.part.remove(child);
      (child as Mesh).geometry.dispose();
    }
    this.resting = [];
    this.whole = this.bodies(corners);
    this.thin = moving.length < corners.length ? this.bodies(moving) : [];
    for (const [points, material] of [
      [sharp, this.edges],
      [open, this.gaps],
    ] as const) {
      if (points.length === 0) continue;
      const drawn = new BufferGeometry();
      drawn.setAttribute('position', new BufferAttribute(points, 3));
      const segments = new LineSegments(drawn, material);
      segments.frustumCulled = false;
      segments.renderOrder = material === this.gaps ? 2 : 1;
      if (points.length > 6 * MOST_LINES) this.resting.push(segments);
      this.part.add(segments);
    }
  }

  /** Its faces, from without and from within. */
  private bodies(corners: Float32Array): Mesh[] {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(corners, 3));
    return [this.faces, this.within].map((material) => {
      const mesh = new Mesh(geometry, material);
      mesh.frustumCulled = false;
      this.part.add(mesh);
      return mesh;
    });
  }

  /** Rings of the bed, mm from its middle, with a hairline every 10 mm. */
  lay(rings: readonly (readonly Point[])[], half: { x: number; y: number }): void {
    const points: number[] = [];
    for (const ring of rings)
      ring.forEach((p, i) => {
        const q = ring[(i + 1) % ring.length]!;
        points.push(p.x, p.y, 0, q.x, q.y, 0);
      });
    const tick = (v: number) => (v % 50 === 0 ? 4 : 2);
    for (let x = Math.ceil(-half.x / 10) * 10; x <= half.x; x += 10)
      points.push(x, -half.y, 0, x, -half.y + tick(x), 0);
    for (let y = Math.ceil(-half.y / 10) * 10; y <= half.y; y += 10)
      points.push(-half.x, y, 0, -half.x + tick(y), y, 0);
    if (this.bed) this.scene.remove(this.bed);
    this.bed = new LineSegments(lines(points), this.ground);
    this.scene.add(this.bed);
  }

  place(standing: Standing): void {
    this.standing = standing;
    const m = standing.matrix;
    this.part.matrix = new Matrix4().set(
      m[0]!,
      m[1]!,
      m[2]!,
      m[9]!,
      m[3]!,
      m[4]!,
      m[5]!,
      m[10]!,
      m[6]!,
      m[7]!,
      m[8]!,
      m[11]!,
      0,
      0,
      0,
      1,
    );
    const { from, to, box, opened, size } = standing;
    const far = 1e5;
    // A side of the box that lies on one of the part cuts nothing: its face would be there and not there by rounding.
    const low = (at: number | undefined, edge: number) => (at === undefined || at <= edge + ON ? -far : at);
    const high = (at: number | undefined, edge: number) => (at === undefined || at >= edge - ON ? far : at);
    const [x, y] = [size.width / 2, size.depth / 2];
    const least = new Vector3(low(box?.x0, -x), low(box?.y0, -y), low(from, 0));
    const most = new Vector3(high(box?.x1, x), high(box?.y1, y), Math.min(high(to, size.height), opened));
    for (const material of [this.faces, this.within, this.edges]) {
      material.uniforms['low']!.value = least;
      material.uniforms['high']!.value = most;
    }
    this.edges.uniforms['top']!.value = opened < standing.size.height ? opened : far;
    const cut = from > 0 || Math.min(to, opened) < standing.size.height - 1e-6 || box !== undefined;
    for (const material of [this.faces, this.within]) {
      material.uniforms['foot']!.value = from;
      material.uniforms['cut']!.value = cut;
    }
    this.within.visible = cut;
    const side = cut ? FrontSide : DoubleSide;
    if (this.faces.side !== side) {
      this.faces.side = side;
      this.faces.needsUpdate = true;
    }
    this.frameCut(standing);
  }

  private frameCut({ size, from, to, box, framed }: Standing): void {
    if (this.box) {
      this.scene.remove(this.box);
      this.box.geometry.dispose();
      this.box = undefined;
    }
    if (from <= 0 && to >= size.height && !box && !framed) return;
    const { x0, y0, x1, y1 } = box ?? {
      x0: -size.width / 2,
      y0: -size.depth / 2,
      x1: size.width / 2,
      y1: size.depth / 2,
    };
    const corners = [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ] as const;
    const points: number[] = [];
    corners.forEach(([x, y], i) => {
      const [u, v] = corners[(i + 1) % 4]!;
      for (const z of [from, to]) points.push(x, y, z, u, v, z);
      points.push(x, y, from, x, y, to);
    });
    this.box = new LineSegments(lines(points), this.frame);
    this.scene.add(this.box);
  }

  ink(inks: Inks): void {
    const set = (material: ShaderMaterial, name: string, css: string) =>
      (material.uniforms[name]!.value as Color).setStyle(css);
    for (const material of [this.faces, this.within]) {
      set(material, 'sheet', inks.sheet);
      set(material, 'ink', inks.ink);
      set(material, 'well', inks.well);
    }
    set(this.edges, 'ink', inks.ink);
    set(this.edges, 'line', inks.line);
    this.gaps.color.setStyle(inks.fault);
    this.ground.color.setStyle(inks.soft);
    this.frame.color.setStyle(inks.madder);
  }

  /** Draws it. @param moving while it is turned, a heavy part is drawn thinned out */
  draw(look: Look, frame: Frame, moving: boolean): void {
    const light = moving && this.thin.length > 0;
    const ratio = light && this.slow ? frame.ratio * SLOW.share : frame.ratio;
    const as = `${frame.width} ${frame.height} ${ratio}`;
    // What is drawn on is made anew with every size.
    if (as !== this.sized) {
      this.sized = as;
      this.renderer.setPixelRatio(ratio);
      this.renderer.setSize(frame.width, frame.height, false);
    }
    const { right, up, back, middle, half, far } = cameraOf(
      look,
      this.standing?.size ?? { width: 20, depth: 20, height: 20 },
      frame,
    );
    Object.assign(this.camera, { left: -half.x, right: half.x, top: half.y, bottom: -half.y, near: 1, far: 2 * far });
    this.camera.matrix
      .makeBasis(new Vector3(...right), new Vector3(...up), new Vector3(...back))
      .setPosition(new Vector3(...back).multiplyScalar(far).add(new Vector3(...middle)));
    this.camera.updateMatrixWorld(true);
    this.camera.updateProjectionMatrix();
    for (const mesh of this.whole) mesh.visible = !light;
    for (const mesh of this.thin) mesh.visible = light;
    for (const lines of this.resting) lines.visible = !moving;
    const began = performance.now();
    this.renderer.render(this.scene, this.camera);
    if (!light || this.slow) return;
    // Only who asks for a dot of it waits until it is drawn.
    const gl = this.renderer.getContext();
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
    this.slow = performance.now() - began > SLOW.above;
  }
}
