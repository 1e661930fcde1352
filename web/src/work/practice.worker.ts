import { expose, transfer } from 'comlink';
import { done, type Progress, type Result } from '#core/base';
import { HeldPrint, priceOf } from '#core/careful';
import { filamentOf, shadeOf, type Context } from '#core/context';
import {
  Camera,
  ownTraits,
  photograph,
  PracticeFirmware,
  printFile,
  type LabFaults,
  type Outcome,
  type Room,
  type View,
} from '#core/lab';
import { planned, type Trial } from '#core/trial';
import { firstCommands } from '#core/wire';
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

/** A print that is to be taken in hand: its file, the day on which it was made, how it fell, how far it got. */
export interface ToHold {
  trial: Trial;
  bytes: Uint8Array<ArrayBuffer>;
  today: string;
  seed: number;
  lines: number | undefined;
  wrong: LabFaults;
}

let context: Context | undefined;
let machine: PracticeFirmware | undefined;
let faults: LabFaults = {};
let fast = true;
let tell: (lines: string[]) => void = () => undefined;
let before = 0;
let held: HeldPrint | undefined;

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

/** Photographs what lies on the bed, as far as anything does. */
async function photographed(
  id: number,
  outcome: Outcome,
  of: Context,
  seed: number,
  wanted: readonly Wanted[],
  report: (p: Progress) => void,
): Promise<Result<Taken[]>> {
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
  return done(photos);
}

const api = {
  /** Switches the practice printer on: a machine with traits of its own in place of the one on the shelf. */
  open(of: Context, today: string, wrong: LabFaults, listen: (lines: string[]) => void): void {
    context = of;
    faults = wrong;
    tell = listen;
    machine = new PracticeFirmware(of.printer, ownTraits(of, today).printer, wrong);
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

  /** Prints a trial’s file anew, as it fell: it lies in the hand then. */
  async takeUp(id: number, { trial, bytes, today, seed, lines, wrong }: ToHold, report: (p: Progress) => void) {
    const plan = planned(trial);
    if (!plan.ok) return plan;
    context = trial.context;
    const own =
      lines === undefined ? bytes : new TextEncoder().encode(firstCommands(new TextDecoder().decode(bytes), lines));
    const print = printFile(own, context, ownTraits(context, today), { seed, faults: wrong });
    const printed = await drive(id, print, report);
    if (!printed.ok) return printed;
    held = new HeldPrint(printed.value, plan.value, bytes, seed);
    return done(printed.value.mass);
  },

  /** What a settled value costs against the best: both are printed. */
  price(
    id: number,
    trial: Trial,
    today: string,
    between: { factor: string; settled: number; best: number },
    report: (p: Progress) => void,
  ) {
    return drive(id, priceOf(trial, between, ownTraits(trial.context, today)), report);
  },

  measure: (cell: number, measure: string) => held?.measure(cell, measure),
  caliper: (u: number, v: number) => held?.caliper(u, v),
  snap: () => held?.snap(),
  brush: (cell: number) => held?.brush(cell),
  drips: (cell: number) => held?.drips(cell),
  finger: (cell: number) => held?.finger(cell),

  /** A photograph of what is left after brushing. */
  async brushed(id: number, seed: number, wanted: readonly Wanted[], report: (p: Progress) => void) {
    const photos = await photographed(id, held!.brushed(), context!, seed, wanted, report);
    if (!photos.ok) return photos;
    return transfer(
      photos,
      photos.value.map((p) => p.jpeg),
    );
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
    const printed = await drive(id, printFile(bytes, of, ownTraits(of, today), { seed, faults }), report);
    if (!printed.ok) return printed;
    const outcome = printed.value;
    const photos = await photographed(id, outcome, of, seed, wanted, report);
    if (!photos.ok) return photos;
    const { mass, time } = outcome;
    return transfer(
      done({ mass, time, photos: photos.value }),
      photos.value.map((p) => p.jpeg),
    );
  },

  cancel(id: number): void {
    cancelled.add(id);
  },
};

export type PracticeApi = typeof api;

expose(api);
