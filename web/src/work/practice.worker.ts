import { expose, transfer } from 'comlink';
import { done, type Progress, type Result } from '#core/base';
import { filamentOf, shadeOf, type Context } from '#core/context';
import { Camera, ownTraits, photograph, PracticeFirmware, printFile, type Room, type View } from '#core/lab';
import { cancelled, drive } from './drive';
import { hashOf } from './hash';

/** A filament whose colour no word tells. */
const GREY: [number, number, number] = [140, 140, 138];
/** Every so many ms the machine goes on. */
const TURN = 40;
/** As fast as it can it works for so many ms of a turn, in steps of so many seconds of its own. */
const WORKS = 14;
const LEAP = 2;

/** A photograph to be taken: what is to fill it, from where, and places whose spots in the picture are wanted, mm. */
export interface Wanted {
  name: string;
  view: View;
  room: Room;
  corners: readonly [number, number, number][];
  width: number;
  height: number;
}

/** A photograph as it was taken, and where the places wanted are in it. */
export interface Taken {
  name: string;
  jpeg: ArrayBuffer;
  /** SHA-256 of the JPEG. */
  hash: string;
  width: number;
  height: number;
  corners: [number, number][];
}

/** What came off the bed: mass g, time s. */
export interface OffTheBed {
  mass: number;
  time: number;
  photos: Taken[];
}

let context: Context | undefined;
let machine: PracticeFirmware | undefined;
let fast = true;
let tell: (lines: string[]) => void = () => undefined;
let before = 0;

function turn(): void {
  if (!machine) return;
  const now = performance.now();
  if (fast) {
    // Until its planner has room again, or nothing is left to do.
    do machine.pass(machine.standing.idle ? 0.05 : LEAP);
    while (!machine.standing.idle && performance.now() - now < WORKS);
  } else machine.pass(Math.min(1, (now - before) / 1000));
  before = now;
  const lines = machine.hear();
  if (lines.length > 0) tell(lines);
}

const api = {
  /** Switches the practice printer on: a machine with traits of its own in place of the one on the shelf. */
  open(of: Context, today: string, listen: (lines: string[]) => void): void {
    context = of;
    tell = listen;
    machine = new PracticeFirmware(of.printer, ownTraits(of, today).printer);
    before = performance.now();
    setInterval(turn, TURN);
  },

  /** Has it where it was before the page was loaded anew: these lines are done. */
  restore(lines: readonly string[], last: number): void {
    machine?.restore(lines, last);
  },

  pace(asFastAsItCan: boolean): void {
    fast = asFastAsItCan;
  },

  write(text: string): void {
    machine?.receive(text);
    if (fast) turn();
  },

  standing() {
    return machine?.standing;
  },

  /** What lies on the bed, weighed and photographed. */
  async develop(
    id: number,
    today: string,
    seed: number,
    wanted: readonly Wanted[],
    report: (p: Progress) => void,
  ): Promise<Result<OffTheBed>> {
    const of = context!;
    const bytes = new TextEncoder().encode(machine!.executed.join('\n') + '\n');
    const printed = await drive(id, printFile(bytes, of, ownTraits(of, today), { seed }), report);
    if (!printed.ok) return printed;
    const outcome = printed.value;
    const colours = Array.from({ length: of.printer.tools }, (_, tool) => shadeOf(filamentOf(of, tool).colour) ?? GREY);
    const photos: Taken[] = [];
    for (const { name, view, room, corners, width, height } of outcome.laid.n > 0 ? wanted : []) {
      const taken = await drive(id, photograph(outcome, { view, room, width, height, colours, seed }), report);
      if (!taken.ok) return taken;
      const canvas = new OffscreenCanvas(width, height);
      const { pixels } = taken.value;
      canvas.getContext('2d')!.putImageData(new ImageData(new Uint8ClampedArray(pixels), width, height), 0, 0);
      const jpeg = await (await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.88 })).arrayBuffer();
      const camera = new Camera(room, view, width, height);
      photos.push({
        name,
        jpeg,
        hash: await hashOf(jpeg),
        width,
        height,
        corners: corners.map(([x, y, z]) => camera.seen(x, y, z)),
      });
    }
    const { mass, time } = outcome;
    return transfer(
      done({ mass, time, photos }),
      photos.map((p) => p.jpeg),
    );
  },

  cancel(id: number): void {
    cancelled.add(id);
  },
};

export type PracticeApi = typeof api;

expose(api);
