/** Figures by axis, in the unit of the action. */
export type ByAxis = Partial<Record<'x' | 'y' | 'z' | 'e', number>>;

/** What a limit bounds: speed mm/s, acceleration mm/s², the change of speed in a corner mm/s, junction deviation mm. */
export type LimitKind = 'speed' | 'acceleration' | 'corner' | 'junction-deviation';

/**
 * What a macro does, or a command that no firmware is known by: as the person says who has that printer. No file tells it.
 */
export interface Declared {
  name: string;
  homes: boolean;
  heatsNozzle: boolean;
  heatsBed: boolean;
  /** It switches heaters off; left out: no. */
  cools?: boolean | undefined;
  pauses?: boolean | undefined;
  /** It moves the head; left out: it may. */
  moves?: boolean | undefined;
  /** What it heats the nozzle to by itself, °C, where its words do not say so. */
  nozzle?: number | undefined;
}

/**
 * What a machine is told to do, whatever firmware it is said to: the one language of writer, reader, line interpreter
 * and check. Lengths mm, speeds mm/s, accelerations mm/s², temperatures °C, shares 0–1, times s.
 */
export type Action =
  | { kind: 'heat'; tool: number; target: number; wait: boolean }
  | { kind: 'bed'; target: number; wait: boolean }
  | { kind: 'chamber'; target: number; wait: boolean }
  /** What a tool is kept at while another prints. */
  | { kind: 'standby'; tool: number; target: number }
  /** Waits until heaters have got there: at least `least` where it is said, else their targets. */
  | { kind: 'settle'; heater: 'nozzle' | 'bed' | 'chamber' | 'all'; tool?: number; least?: number }
  | { kind: 'fan'; share: number }
  /** A fan of which the file does not say whether it cools the part. */
  | { kind: 'other-fan'; fan: string; share: number }
  | { kind: 'advance'; value: number; tool: number }
  /** Of printing and of travel, where each is told. */
  | { kind: 'acceleration'; print?: number | undefined; travel?: number | undefined }
  | { kind: 'limit'; of: LimitKind; axes: ByAxis }
  | { kind: 'steps'; axes: ByAxis }
  /** How the firmware draws back by itself: length, beyond it on the way forward, lift, mm; speed mm/s. */
  | {
      kind: 'drawing';
      length?: number | undefined;
      speed?: number | undefined;
      extra?: number | undefined;
      lift?: number | undefined;
    }
  /** The firmware draws back, or pushes forward again, by what it keeps. */
  | { kind: 'draw'; back: boolean }
  | { kind: 'dwell'; seconds: number }
  | { kind: 'tool'; to: number }
  /** Of all axes where none is named. */
  | { kind: 'home'; axes?: string }
  | { kind: 'probe'; name: string }
  /** The head goes to a place that the file does not say. */
  | { kind: 'park'; name: string }
  | { kind: 'override'; what: 'speed' | 'flow'; share: number }
  | { kind: 'mode'; what: 'units' | 'axes' | 'extrusion'; value: string }
  | { kind: 'position'; axes: ByAxis }
  /** Shifts what coordinates mean, by or to so much; of one tool where it is named. */
  | { kind: 'offset'; name: string; axes: ByAxis; adds: boolean; tool?: number }
  /** Motors hold no place any more; all where none is named. */
  | { kind: 'let-go'; axes: string }
  | { kind: 'pause'; name: string }
  /** What no file may hold, with the reason. */
  | { kind: 'danger'; name: string; why: string }
  /** What was declared of it follows as actions of their own; modes are uncertain after it. */
  | { kind: 'macro'; name: string; text: string }
  | { kind: 'unknown'; name: string; text: string }
  | { kind: 'layer'; number: number; z: number }
  /** Only written, never read: code of the user’s own. */
  | { kind: 'raw'; text: string };

/** What a line means to a reader: actions, or a move, which each reader follows by its own arithmetic. */
export type Meaning = Action | { kind: 'move'; arc?: 'clockwise' | 'counter' };
