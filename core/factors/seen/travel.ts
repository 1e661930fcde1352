import type { CellReading } from './print';

const fine = (v: number): number => Math.round(v * 1e4) / 1e4;

export const zHop: CellReading = ({ ways }) => ways.map((w) => ({ value: fine(w.hop), weight: 1 }));
export const wipe: CellReading = ({ ways }) => ways.map((w) => ({ value: fine(w.wipe), weight: 1 }));
export const unretractExtra: CellReading = ({ extras }) => extras.map((e) => ({ value: fine(e), weight: 1 }));
