import { expose, transfer } from 'comlink';
import { done, type Progress, type Result } from '#core/base';
import type { PhotoWanted } from '#core/careful';
import type { Context } from '#core/context';
import { ownTraits, PracticeFirmware, printFile, type LabFaults } from '#core/lab';
import { cancelled, drive } from './drive';
import { photographed, type Taken } from './photographed';

/** Every so many ms the machine goes on. */
const TURN = 40;
/** As fast as it can it works for so many ms of a turn, in steps of so many seconds of its own. */
const WORKS = 14;
const LEAP = 2;

/** What came off the bed: mass g, time s. */
export interface OffTheBed {
  mass: number;
  time: number;
  photos: Taken[];
}

let context: Context | undefined;
let machine: PracticeFirmware | undefined;
let faults: LabFaults = {};
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

  /** What lies on the bed, weighed and photographed. */
  async develop(
    id: number,
    today: string,
    seed: number,
    wanted: readonly PhotoWanted[],
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
