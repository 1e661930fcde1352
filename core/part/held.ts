import { fault, refuse, done, type Job } from '#core/base';
import type { Bytes } from '#core/base';
import { madeBy, type PartAsked } from './at-hand';
import { boundsOfMesh, type Mesh } from './mesh';
import { PartPiece } from './piece';
import { readPart } from './read-part';
import type { PartFile } from './three-mf';

/** Parts that are held at once: two, so that one can be compared with another; as many as the fullest plate has. */
const LEAST_ROOM = 2;
let mostHeld = LEAST_ROOM;
/** Pieces that are held at once: each remembers its sections, and where its outline stays open. */
let mostPieces = LEAST_ROOM + 1;

/** Makes room for the parts of one plate, which are needed together; what others need beside them takes none away. */
export function roomForParts(count: number): void {
  mostHeld = Math.max(mostHeld, count);
  mostPieces = mostHeld + 1;
}

// What a hash stands for never changes: whoever asks gets the same, or nothing where it is not held.
const parts = new Map<string, PartFile>();
const pieces = new Map<string, PartPiece>();

function lastOf<T>(map: Map<string, T>, key: string, value: T, most: number): T {
  map.delete(key);
  map.set(key, value);
  while (map.size > most) map.delete(map.keys().next().value!);
  return value;
}

/** Holds a part by its hash, so that trials which name it can be made. */
export function holdPart(hash: string, part: PartFile): void {
  madeBy(pieceOf);
  lastOf(parts, hash, part, mostHeld);
}

/** Whether a part is held. */
export const isPartHeld = (hash: string): boolean => parts.has(hash);

/** Lets go of all parts. */
export function releaseParts(): void {
  parts.clear();
  pieces.clear();
  mostHeld = LEAST_ROOM;
  mostPieces = LEAST_ROOM + 1;
}

/** Reads a part and holds it; one that is held is not read again. */
export function* readAndHold(hash: string, bytes: () => Bytes | undefined, name: string): Job<PartFile> {
  const held = parts.get(hash);
  // Held for longer from now on: what a plate needs beside it must not push it out.
  if (held) return done(lastOf(parts, hash, held, mostHeld));
  const given = bytes();
  if (!given)
    return refuse(
      fault(
        'part.not-there',
        'part',
        `${name} is not kept here`,
        'give its file again: it is known by what is in it, whatever its name',
      ),
    );
  const part = yield* readPart(given, name);
  if (part.ok) holdPart(hash, part.value);
  return part;
}

/** The objects of a part that a pose takes, as one mesh in the unit of the file; undefined where there is none. */
export function meshOf({ objects }: PartFile, object: number): Mesh | undefined {
  return asOne((object === 0 ? objects : objects.slice(object - 1, object)).map((o) => o.mesh));
}

function asOne(meshes: readonly Mesh[]): Mesh | undefined {
  const [first, second] = meshes;
  if (!first || !second) return first;
  const corners = new Float32Array(meshes.reduce((n, m) => n + m.corners.length, 0));
  let at = 0;
  for (const mesh of meshes) {
    corners.set(mesh.corners, at);
    at += mesh.corners.length;
  }
  return { name: first.name, n: corners.length / 9, corners };
}

/** What of a part each tool prints; none where one tool prints all of it. */
function byTool({ objects }: PartFile, { pose, tools }: PartAsked): { tool: number; mesh: Mesh }[] {
  if (!tools || pose.object !== 0) return [];
  const used = [...new Set(objects.map((_, i) => tools[i] ?? 1))];
  if (used.length < 2) return [];
  return used.flatMap((tool) => {
    const mesh = asOne(objects.filter((_, i) => (tools[i] ?? 1) === tool).map((o) => o.mesh));
    return mesh ? [{ tool, mesh }] : [];
  });
}

/** The longest side of what a part file holds, object by object, in the unit of the file. */
export const longestOf = ({ objects }: PartFile): number =>
  Math.max(
    ...objects.map(({ mesh }) => {
      const box = boundsOfMesh(mesh);
      return box ? Math.max(...box.max.map((v, k) => v - box.min[k]!)) : 0;
    }),
  );

/** The piece of a held part; undefined where it is not held, or has no such object. */
export function pieceOf(asked: PartAsked): PartPiece | undefined {
  const { hash, pose, cut, tools } = asked;
  const key = JSON.stringify([hash, pose, cut, tools]);
  const known = pieces.get(key);
  if (known) return lastOf(pieces, key, known, mostPieces);
  const part = parts.get(hash);
  const mesh = part && meshOf(part, pose.object);
  return mesh && lastOf(pieces, key, new PartPiece(mesh, pose, cut, byTool(part, asked)), mostPieces);
}
