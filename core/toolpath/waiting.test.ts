import { demoPairs } from '#core/demo';
import { trialOfKind } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { made } from '../testing/fixtures';
import { movesOf } from '../testing/lines-of';

describe('waiting at each new level', () => {
  it('holds for strips and bars one after the other: every one is at its level on all of it', () => {
    for (const { context, baseline } of demoPairs)
      for (const id of ['temperature-strips', 'strength-lying']) {
        const { inspection } = made(trialOfKind(id, context, baseline)!);
        for (const cell of inspection.cells)
          expect(cell.settled['nozzle-temperature']!.share, `${context.printer.name} ${id} ${cell.id}`).toBeGreaterThan(
            0.98,
          );
      }
  });
  it('goes on where that is asked, and then the file says which bars are late', () => {
    const { context, baseline } = demoPairs[0]!;
    const trial = trialOfKind('strength-lying', context, baseline)!;
    const waits = (t: typeof trial) =>
      movesOf(t).chunks.reduce((n, c) => n + c.commands.filter((q) => q.kind === 'heat' && q.wait).length, 0);
    const goesOn = { ...trial, frozen: { ...trial.frozen, temperatureWait: 'go on' as const } };
    // The first heating is always waited for; then each bar's foot and the bar itself, but for where nothing changes.
    expect(waits(goesOn)).toBe(1);
    expect(waits(trial)).toBeGreaterThanOrEqual(trial.axes[0]!.levels.length);
    // 30 °C take over half a minute of the minutes of a bar.
    const wide = { ...goesOn, axes: goesOn.axes.map((a) => ({ ...a, levels: [225, 255] })) };
    expect(made(wide).inspection.cells.some((c) => c.settled['nozzle-temperature']!.share < 0.98)).toBe(true);
  });
});
