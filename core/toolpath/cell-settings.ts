import { levelSettings, rampAt } from '#core/plan';
import { resolved, type Settings } from '#core/settings';
import type { Planned } from '#core/trial';

/** The settings of every cell, at every height where a value runs on: baseline ← frozen ← the cell's levels. */
export class CellSettings {
  private readonly known = new Map<string, Settings>();
  private readonly merged = new Map<Settings, Map<string, Settings>>();
  private readonly first: number;

  constructor(private readonly plan: Planned) {
    this.first = plan.cells[0]!.id;
  }

  /** The trial's own settings, without any level. */
  get plain(): Settings {
    return this.once('plain', () => this.plan.settings);
  }

  /** The cell that an id of a region stands for: its own, but for a part that sets something for itself. */
  cellOf(id: number): number {
    return this.ownOf(id)?.cell ?? id;
  }

  private ownOf(id: number) {
    return this.plan.built.own?.find((o) => o.id === id);
  }

  /** Settings of a cell (−1: those of the first cell), at a height in mm where it matters. */
  of(cell: number, z?: number): Settings {
    const part = this.ownOf(cell);
    if (part) return this.with(this.of(part.cell, z), part.own);
    const id = cell < 0 ? this.first : cell;
    if (z !== undefined && cell >= 0) {
      const levels = this.rampLevels(id, z);
      if (levels) return this.once(`${id} ${z}`, () => this.resolve(levels));
    }
    return this.once(String(id), () => this.resolve(this.plan.cells.find((c) => c.id === id)!.levels));
  }

  /** Settings with some of them changed; the same object for the same change. */
  with(settings: Settings, own: Partial<Settings>): Settings {
    let mine = this.merged.get(settings);
    if (!mine) this.merged.set(settings, (mine = new Map()));
    const key = JSON.stringify(own);
    let merged = mine.get(key);
    if (!merged) mine.set(key, (merged = { ...settings, ...own }));
    return merged;
  }

  private rampLevels(id: number, z: number): Record<string, number> | undefined {
    const { trial, cells, built } = this.plan;
    const k = trial.axes.findIndex((a) => a.kind === 'ramp' && a.along === 'height');
    const axis = trial.axes[k];
    const place = built.places.find((p) => p.cell === id);
    const cell = cells.find((c) => c.id === id);
    if (!axis || !place || !cell) return undefined;
    const share = (z - place.z[0]) / (place.z[1] - place.z[0]);
    const band = axis.levels.indexOf(cell.levels[axis.factor]!);
    return { ...cell.levels, [axis.factor]: rampAt(axis.levels, band + Math.min(1, Math.max(0, share))) };
  }

  private resolve(levels: Record<string, number>): Settings {
    const { baseline, frozen } = this.plan.trial;
    return resolved(baseline, frozen, levelSettings(levels, { ...baseline, ...frozen }));
  }

  private once(key: string, make: () => Settings): Settings {
    let s = this.known.get(key);
    if (!s) this.known.set(key, (s = make()));
    return s;
  }
}
