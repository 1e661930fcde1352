// Writes docs/specimens.md from the catalogue: what each specimen is for, and what it takes on a demo printer.
import { writeFileSync } from 'node:fs';
import { duration, finish, show } from '#core/base';
import { demoPairs } from '#core/demo';
import { make } from '#core/make';
import { specimens } from '#core/specimens';
import { asPrint, kinds, trialOfKind } from '#core/trial';

/** The trials that are printed on a specimen, with time and filament of each on the first demo pair that carries it. */
function takes(id: string): string[] {
  return kinds
    .filter((k) => k.specimen === id)
    .flatMap((k) => {
      for (const { context, baseline } of demoPairs) {
        const trial = trialOfKind(k.id, context, baseline);
        if (!trial) continue;
        const byPrint = trial.axes.some((a) => a.along === 'print');
        const made = finish(make(asPrint(trial, byPrint ? 0 : undefined)));
        if (!made.ok) continue;
        const { time, filament } = made.value.report;
        const each = byPrint ? ' a print' : '';
        return [
          `| ${k.label} | ${k.about} | ${context.printer.name}, ${context.printer.nozzle.diameter} mm | ${duration(time)}${each} | ${show(filament.mass, 1)} g |`,
        ];
      }
      return [];
    });
}

/** The words of a specimen, without what it takes. */
export const specimenWords = (): { id: string; text: string }[] =>
  specimens.flatMap(({ id, label, purpose, guide }) =>
    guide
      ? [
          {
            id,
            text: [
              `## ${label}`,
              purpose,
              `- **Where to look.** ${guide.look}`,
              `- **Why this shape.** ${guide.why}`,
              `- **What it cannot tell.** ${guide.weak}`,
            ].join('\n\n'),
          },
        ]
      : [],
  );

const title = `# Specimens

What is printed to be judged: what each specimen shows, where to look at it, why it has its shape and what it cannot tell. The page is written from the catalogue by \`npm run docs\`; times and filament are those of the demo printers.`;

function page(): string {
  return [
    title,
    ...specimenWords().map(({ id, text }) => {
      const rows = takes(id);
      return rows.length === 0
        ? text
        : `${text}\n\n| trial | | printer | time | filament |\n| --- | --- | --- | --- | --- |\n${rows.join('\n')}`;
    }),
  ]
    .join('\n\n')
    .concat('\n');
}

if (process.argv[1]?.endsWith('specimens-page.ts')) writeFileSync('docs/specimens.md', page());
