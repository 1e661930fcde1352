import type { Filament } from './filament';

/** A usual range with its step, in the unit of what it belongs to. */
export interface Range {
  min: number;
  max: number;
  step: number;
}

/** Usual nozzle temperatures by material, °C; the filament's own range wins where it is narrower. */
export const usualTemperature: Record<Filament['material'], Range> = {
  PLA: { min: 190, max: 230, step: 5 },
  PETG: { min: 220, max: 260, step: 5 },
  ASA: { min: 235, max: 265, step: 5 },
  ABS: { min: 225, max: 260, step: 5 },
  TPU: { min: 210, max: 240, step: 5 },
  PA: { min: 240, max: 280, step: 5 },
  PC: { min: 260, max: 300, step: 5 },
  other: { min: 190, max: 270, step: 5 },
};

/**
 * How a value stands to its usual range: inside, outside, or ten times beyond it, which is a question. Nothing at all (no
 * retraction, no pressure advance) is no slip of the finger.
 */
export function standing(value: number, usual: Range): 'usual' | 'unusual' | 'question' {
  if (value >= usual.min && value <= usual.max) return 'usual';
  if (value === 0) return 'unusual';
  const low = usual.min > 0 ? usual.min / 10 : usual.min - 9 * Math.max(usual.max - usual.min, Math.abs(usual.min));
  const high = usual.max > 0 ? usual.max * 10 : usual.max + 9 * Math.max(usual.max - usual.min, Math.abs(usual.max));
  return value < low || value > high ? 'question' : 'unusual';
}
