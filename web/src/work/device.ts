import type { Observable } from 'rxjs';

/** What a device says of itself beside its lines, where it is one that we can look into: mm, °C. */
export interface Standing {
  x: number;
  y: number;
  z: number;
  nozzle: number;
  target: number;
  bed: number;
  bedTarget: number;
}

/** A printer at the other end of a wire, whatever the wire is: lines go out, lines come in. */
export interface Device {
  /** What it is, so that practice and real are told apart everywhere. */
  readonly kind: 'practice' | 'network' | 'serial';
  /** What it says, line by line; an error when the wire breaks, and its end when it is closed. */
  readonly lines$: Observable<readonly string[]>;
  connect(): Promise<void>;
  /** Characters as they are to go over the wire, with their line ends. */
  write(text: string): void;
  /** Lets go of the wire; what waits for the end of that can open it again. */
  close(): void | Promise<void>;
}
