import { InjectionToken } from '@angular/core';
import type { PhotoWanted } from '#core/careful';
import { lengthOf, type Context } from '#core/context';
import { faultsOf, type LabFaults } from '#core/lab';
import type { TrialRecord } from '#core/route';
import type { Manner, Reached } from '#core/wire';
import type { Device } from '../work/device';
import { NetworkDevice, networkPrinter } from '../work/network-device';
import { PracticeDevice } from '../work/practice-device';
import { SerialDevice, serialOf, type Port } from '../work/serial-device';

/** Over which wire it is printed; a cable has a speed, bit/s. */
export type Via = { kind: 'practice' | 'network' } | { kind: 'serial'; baud: number };

/** What is printed: a file that passed the check, for which trial, on what, and how it is to be photographed. */
export interface Job {
  via: Via;
  trial: string;
  /** Which print, of a trial by print. */
  index: number;
  byPrint: boolean;
  title: string;
  /** What was planned, as `printedPlan` tells it. */
  plan: string;
  context: Context;
  /** As fast as it can, or as long as it takes. */
  fast: boolean;
  today: string;
  /** Filament, g, and time with heating, s, by the plan. */
  mass: number;
  planned?: number;
  /** Seconds of each layer by its height, mm, as planned. */
  layers: { z: number; time: number }[];
  wanted: PhotoWanted[];
  /** Which cell lies from what height up to which, mm; empty where cells lie beside one another. */
  bands: { cell: number; from: number; to: number }[];
  /** What is asked to go wrong on the practice printer, and whether that is told before a value is settled. */
  mishaps?: readonly string[];
  untold?: boolean;
}

/** What goes wrong in the practice printer with a print. */
export const faultsIn = ({
  mishaps = [],
  context,
  layers,
  mass,
}: Pick<Job, 'mishaps' | 'context' | 'layers' | 'mass'>): LabFaults =>
  faultsOf(mishaps, context, { height: layers.at(-1)?.z ?? 0, length: lengthOf(context.filament, mass) });

/** How a print that is under way stands: heights mm, temperatures °C, times s. */
export interface Under extends Job {
  /** `asking`: the machine says that it is another than the shelf’s; `apart`: the wire broke, the machine may go on. */
  state: 'connecting' | 'asking' | 'printing' | 'paused' | 'apart' | 'photographing' | 'done' | 'stopped' | 'failed';
  why: string | undefined;
  /** What the machine is, as it says itself. */
  met: Met;
  /** What it says of itself that the printer on the shelf is not. */
  differences: string[];
  place: number;
  total: number;
  z: number;
  nozzle: number | undefined;
  target: number | undefined;
  bed: number | undefined;
  bedTarget: number | undefined;
  marks: Mark[];
  /** What the nozzle showed and was to have, °C, over the height reached, mm. */
  heat: Heat[];
}

/** What a nozzle showed at a height. */
export interface Heat {
  z: number;
  shown: number;
  target: number;
}

/** What matters of how a machine introduced itself. */
export interface Met {
  practice: boolean;
  firmware: string | undefined;
}

/** A height at which the person saw it fail while it printed, mm, in which cell, and what was noted. */
export interface Mark {
  z: number;
  cell: number;
  note: string;
}

/** What of a trial decides what lies where on the bed, as text. */
export const printedPlan = ({ trial }: Pick<TrialRecord, 'trial'>): string =>
  JSON.stringify([trial.axes, trial.specimen, trial.frozen]);

/** A device that a print can be sent to, and what lies on its bed afterwards, where it is the practice printer. */
export type PracticeLike = Device & Pick<PracticeDevice, 'develop' | 'pace'>;

const nothingKnown: Omit<Under, keyof Job | 'met'> = {
  state: 'connecting',
  why: undefined,
  differences: [],
  place: 0,
  total: 0,
  z: 0,
  nozzle: undefined,
  target: undefined,
  bed: undefined,
  bedTarget: undefined,
  marks: [],
  heat: [],
};

/** A print of which nothing is known yet. */
export const freshly = (job: Job): Under => ({
  ...job,
  ...nothingKnown,
  met: { practice: job.via.kind === 'practice', firmware: undefined },
});

/** What was asked for, of a print that is under way. */
export const jobOf = (under: Under): Job =>
  Object.fromEntries(
    Object.entries(under).filter(([key]) => key !== 'met' && !(key in nothingKnown)),
  ) as unknown as Job;

/** What is kept of a print that is under way. */
export interface Kept {
  job: Job;
  reached: Reached;
  shown: [number, { times: number; sum: number }][];
  /** Lines that lead back where it is paused. */
  back: string[];
  marks: Mark[];
  met: Met;
  heat?: Heat[];
  /** When it began, for how long it did not print, and when this was kept: ms, since 1970. */
  began: number;
  idle?: number;
  at?: number;
}

/** How the practice printer is switched on; another way where there are no workers. */
export const PRACTICE = new InjectionToken<
  (job: Job, done: { lines: readonly string[]; last: number } | undefined) => PracticeLike
>('practice printer', {
  factory: () => (job, done) => new PracticeDevice(job.context, job.today, job.fast, faultsIn(job), done),
});

/** How real wires are opened; other ways where there are none. */
export const WIRES = new InjectionToken<{
  network(): Device;
  serial(port: Port, baud: number): Device;
  ports: ReturnType<typeof serialOf>;
  /** The name of the printer that the server leads to. */
  there(): Promise<string | undefined>;
}>('wires', {
  factory: () => ({
    network: () => new NetworkDevice(),
    serial: (port, baud) => new SerialDevice(port, baud),
    ports: serialOf(navigator),
    there: networkPrinter,
  }),
});

/** Lines under way, and seconds of silence after which a line is asked for again. A cable’s far end holds two lines. */
export const MANNERS: Record<Via['kind'], Manner> = {
  practice: { window: 48, stall: 4 },
  network: { window: 16, stall: 4 },
  serial: { window: 2, stall: 8 },
};
/** The height at which something was laid last when each line of a file is done, mm: lifts on a way do not count. */
export function heightsOf(commands: readonly string[]): number[] {
  let [z, laid] = [0, 0];
  return commands.map((line) => {
    if (line.startsWith('G1') || line.startsWith('G0')) {
      const at = line.indexOf('Z');
      const value = at > 0 ? Number.parseFloat(line.slice(at + 1)) : NaN;
      if (Number.isFinite(value)) z = value;
      if (line.includes('E') && !line.includes('E-') && (line.includes('X') || line.includes('Y'))) laid = z;
    }
    return laid;
  });
}

/** Where the head waits: at the left of the bed’s middle, where it is within reach of every bed. */
export function parkOf({ printer }: Context): { x: number; y: number } {
  const { bed } = printer;
  if (bed.shape === 'round') return { x: -0.6 * (bed.diameter / 2), y: 0 };
  const [x0, y0] = bed.origin === 'centre' ? [-bed.width / 2, -bed.depth / 2] : [0, 0];
  return { x: x0 + 0.15 * bed.width, y: y0 + 0.85 * bed.depth };
}
