import type { CellReading } from './print';

const fine = (v: number): number => Math.round(v * 1e4) / 1e4;

/** How far each way was lifted, mm. */
export const zHop: CellReading = ({ ways }) => ways.map((w) => ({ value: fine(w.hop), weight: 1 }));
/** How far the nozzle ran back over its line before each way, mm. */
export const wipe: CellReading = ({ ways }) => ways.map((w) => ({ value: fine(w.wipe), weight: 1 }));
/** What was pushed beyond what had been drawn back, mm; negative where less. */
export const unretractExtra: CellReading = ({ extras }) => extras.map((e) => ({ value: fine(e), weight: 1 }));
