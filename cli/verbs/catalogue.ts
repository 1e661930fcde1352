import { calculators, demoPairs, dialects, everyFactor, rules, specimens, kinds, type Factor } from '#core';
import type { Cli } from '../cli';

/** The specimens that can carry a factor in some layout. */
const carriers = (f: Factor): string[] =>
  specimens
    .filter((s) =>
      f.layouts.some(
        (along) => along === 'print' || s.accepts([{ factor: f.id, levels: [0], kind: 'step', along }]).length === 0,
      ),
    )
    .map((s) => s.id);

export function catalogueVerb({ verb, print }: Cli): void {
  verb('catalogue', 'everything that can be varied, printed and chosen').action(() => {
    const context = demoPairs[0]!.context;
    print({
      factors: everyFactor().map((f) => {
        const { min, max } = f.usual?.(context) ?? f.limits(context);
        return {
          id: f.id,
          label: f.label,
          unit: f.unit,
          usual: { min, max },
          layouts: f.layouts,
          specimens: carriers(f),
        };
      }),
      specimens: specimens.map((s) => ({
        id: s.id,
        label: s.label,
        factors: everyFactor()
          .filter((f) => carriers(f).includes(s.id))
          .map((f) => f.id),
        layouts: [...s.layouts, 'print'],
      })),
      trials: kinds.map((k) => ({ id: k.id, label: k.label, stop: k.stop, specimen: k.specimen, about: k.about })),
      dialects: Object.values(dialects).map((d) => ({ id: d.id, label: d.label })),
      rules: rules.map((r) => ({ id: r.id, label: r.label })),
      calcs: calculators.map((c) => ({ id: c.id, label: c.label, formula: c.formula })),
    });
  });
}
