import { arithmetic, done, type Result } from '#core/base';

/** What a scale shows a load in. */
export const loadUnits = ['N', 'kgf', 'kg'] as const;
/** What a scale shows a load in. */
export type LoadUnit = (typeof loadUnits)[number];

/** Newtons of a kilogram-force: the standard gravity of the SI. */
export const KGF = 9.80665;

/** A load in N, as a scale shows it; a unit that is typed goes before the one in which it shows. */
export function loadFrom(text: string, shows: LoadUnit): Result<number> {
  const typed = /^(.*?)\s*(kgf|kg|n)\s*$/i.exec(text.trim());
  const unit = typed ? typed[2]!.toLowerCase() : shows.toLowerCase();
  const figure = arithmetic(typed ? typed[1]! : text, '', 'load');
  return figure.ok ? done(figure.value * (unit === 'n' ? 1 : KGF)) : figure;
}

/** A load of so many N as its scale shows it. */
export const loadShown = (newtons: number, shows: LoadUnit): number => (shows === 'N' ? newtons : newtons / KGF);
