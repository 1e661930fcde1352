import { finish } from '#core/base';
import type { Context } from '#core/context';
import { settingsAt, factorOf } from '#core/factors';
import { dialects } from '#core/firmware';
import { GcodeWriter } from '#core/gcode';
import { printFile, type Traits } from '#core/lab';
import { contextInForce, givenValue } from '#core/route';
import type { Settings } from '#core/settings';
import { costScore } from '#core/settle';
import { toolpath } from '#core/toolpath';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { responseOf, together, truthOf } from '../../careful';
import { DAY, walked } from './walk';

/** What a pair prints with as far as it is walked: levels by factor. */
export type Sheet = Readonly<Record<string, number>>;

/** How good prints with a sheet are: by stop and quality without any noise 0–4, and all stops together. */
export interface Worth {
  all: number;
  byStop: Record<string, Record<string, number>>;
  /** The scores of each stop together. */
  of: Record<string, number>;
}

const LIMIT = 'volumetric-flow';

/** How far the best is looked for at a time. */
const STEPS: Sheet = {
  'nozzle-temperature': 4,
  flow: 0.01,
  'pressure-advance': 0.004,
  'retraction-distance': 0.1,
  fan: 0.15,
  [LIMIT]: 0.5,
};

/** The pieces by which a sheet is judged: of each stop its specimen with a single cell, nothing held by a trial. */
export class Judge {
  private readonly known = new Map<string, Record<string, number> | undefined>();
  /** The most that comes out full, mm³/s, by what it rests on. */
  private readonly most = new Map<string, number>();

  constructor(
    private readonly context: Context,
    private readonly baseline: Settings,
    private readonly traits: Traits,
  ) {}

  worth(sheet: Sheet): Worth {
    const byStop = Object.fromEntries(
      walked.map(({ stop, kind, factor }) => [stop, this.piece(kind, factor, sheet) ?? {}]),
    );
    const of = Object.fromEntries(
      Object.entries(byStop).flatMap(([stop, scores]) => {
        const score = together(scores);
        return score === undefined ? [] : [[stop, score] as const];
      }),
    );
    const means = Object.values(of);
    return { all: means.reduce((a, b) => a + b, 0) / means.length, byStop, of };
  }

  /** The best sheet that can be found, each factor by itself and around again, from some that are good. */
  best(from: readonly Sheet[]): { sheet: Sheet; worth: Worth } {
    let [at] = from.map((sheet) => ({ sheet, worth: this.worth(sheet) })).sort((a, b) => b.worth.all - a.worth.all) as [
      { sheet: Sheet; worth: Worth },
    ];
    for (const scale of [2, 1]) {
      for (const { factor } of walked) {
        const step = scale * STEPS[factor]! * (factor === 'pressure-advance' && this.bowden ? 10 : 1);
        const { min, max } = factorOf(factor)!.limits(this.context);
        for (const way of [1, -1]) {
          for (let k = 1; k <= 8; k++) {
            const level = Math.min(max, Math.max(min, at.sheet[factor]! + way * step));
            if (Math.abs(level - at.sheet[factor]!) < 1e-9) break;
            const sheet = { ...at.sheet, [factor]: level };
            const worth = this.worth(sheet);
            if (worth.all <= at.worth.all + 1e-4) break;
            at = { sheet, worth };
          }
        }
      }
    }
    return at;
  }

  private get bowden(): boolean {
    return this.context.printer.extruder.type === 'bowden';
  }

  /** What a piece shows with a sheet, all of which is in force on it; the same piece is printed once. */
  private piece(kind: string, factor: string, sheet: Sheet): Record<string, number> | undefined {
    const key = `${kind} ${walked.map((w) => sheet[w.factor]!.toFixed(5)).join()}`;
    if (!this.known.has(key)) this.known.set(key, this.shown(kind, factor, sheet));
    return this.known.get(key);
  }

  private shown(kind: string, factor: string, sheet: Sheet): Record<string, number> | undefined {
    let settings = this.baseline;
    for (const [id, level] of Object.entries(sheet))
      if (id !== LIMIT) settings = { ...settings, ...settingsAt(factorOf(id)!, level, settings) };
    // A flow limit caps the speeds of all that the pair prints; its own piece goes up to it.
    const capped = contextInForce(this.context, [givenValue(LIMIT, sheet[LIMIT]!, '', DAY)]);
    const trial = trialOfKind(kind, factor === LIMIT ? this.context : capped, settings)!;
    const one = (level: number): Trial => ({
      ...trial,
      baseline: settings,
      frozen: trial.specimen.id === 'flow-tile' ? trial.frozen : {},
      axes: [{ ...trial.axes[0]!, kind: 'step', levels: [level] }],
    });
    if (factor !== LIMIT) return this.seen(one(sheet[factor]!));
    const full = (level: number) => this.seen(one(level))?.['wall-fullness'];
    // All that is read of a limit’s trial counts, and the time that a lower one takes.
    const own = this.seen(one(sheet[LIMIT]!));
    if (!own) return undefined;
    const rests = JSON.stringify({ ...sheet, [LIMIT]: 0 });
    if (!this.most.has(rests)) this.most.set(rests, mostThatIsFull(full, this.traits.printer.melts));
    return { ...own, time: Math.min(4, costScore(1 / sheet[LIMIT]!, 1 / this.most.get(rests)!)) };
  }

  private seen(trial: Trial): Record<string, number> | undefined {
    const plan = planned(trial);
    if (!plan.ok) return undefined;
    const { printer } = trial.context;
    const writer = new GcodeWriter({ dialect: dialects[printer.firmware], extrusion: printer.extrusion, head: [] });
    if (!finish(toolpath(plan.value, (chunk) => writer.write(chunk))).ok) return undefined;
    const bytes = writer.finish();
    const outcome = finish(printFile(bytes, trial.context, this.traits, { seed: 1 }));
    if (!outcome.ok) return undefined;
    return responseOf(trial, truthOf(outcome.value, plan.value, bytes)[0]!.amounts, outcome.value);
  }
}

/** The largest flow at which walls are still read as faultless, by halving. */
function mostThatIsFull(full: (level: number) => number | undefined, melts: number): number {
  let [low, high] = [0.4 * melts, 2.2 * melts];
  for (let k = 0; k < 5; k++) {
    const middle = (low + high) / 2;
    if ((full(middle) ?? 0) >= 3.5) low = middle;
    else high = middle;
  }
  return low;
}
