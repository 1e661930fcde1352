import { show } from '#core/base';
import { coldest, filamentOf, hottest } from '#core/context';
import { heatAsked } from '#core/firmware';
import type { Belief } from '../belief';
import type { RuleFamily, Say } from './rule';

function nozzle({ context }: Belief, tool: number, target: number, line: number, say: Say): void {
  if (!(target >= 0)) return say('check.number', line, 'a temperature is no number', 'write a finite figure');
  const limit = hottest({ ...context, filament: filamentOf(context, tool) });
  if (target > limit.value)
    say(
      'check.too-hot',
      line,
      `${show(target)} °C is over the limit of the ${limit.by}, ${show(limit.value)} °C`,
      `heat to at most ${show(limit.value)} °C`,
    );
}

function bed({ context }: Belief, target: number, line: number, say: Say): void {
  const most = context.printer.maximum.bedTemperature;
  if (!(target >= 0)) return say('check.number', line, 'a temperature is no number', 'write a finite figure');
  if (target > most)
    say('check.bed-hot', line, `${show(target)} °C is over the bed’s limit, ${show(most)} °C`, 'heat the bed less');
}

/** The highest that a chamber is heated to, °C: what stands in it is made of the same things. */
export const HOTTEST_CHAMBER = 100;

/** Heat: never beyond a limit, waited for before filament moves, off at the end. */
export const heat: RuleFamily = {
  said(c, belief, say) {
    switch (c.kind) {
      case 'heat':
      case 'standby':
        return nozzle(belief, c.tool, c.target, c.line, say);
      case 'bed':
        return bed(belief, c.target, c.line, say);
      case 'chamber':
        if (!(c.target >= 0 && c.target <= HOTTEST_CHAMBER))
          say(
            'check.chamber-hot',
            c.line,
            `the chamber is heated to ${show(c.target)} °C`,
            `heat it to at most ${HOTTEST_CHAMBER} °C`,
          );
        return;
      case 'macro':
      case 'unknown': {
        // What a macro hands on to heaters is held to their limits, whatever it does with it.
        const asked = heatAsked(c.text);
        for (const target of asked.bed) bed(belief, target, c.line, say);
        for (const target of asked.nozzle) nozzle(belief, belief.tool, target, c.line, say);
      }
    }
  },
  moved(step, belief, say) {
    if (step.e === 0) return;
    const certain = belief.certain.get(step.tool) ?? 0;
    const least = coldest(filamentOf(belief.context, step.tool));
    if (certain < least) cold(step.line, certain, least, say);
  },
  ended(belief, line, say) {
    const unless = belief.unsaid ? `, unless ${belief.unsaid} switches it off` : '';
    for (const [tool, target] of belief.target)
      if (target > 0)
        say(
          'check.end-hot',
          line,
          `tool ${tool} is still heated to ${target} °C at the end${unless}`,
          unless ? 'say what it does with the printer' : 'switch every heater off at the end',
        );
    if (belief.bed > 0)
      say(
        'check.end-bed',
        line,
        `the bed is still heated to ${belief.bed} °C at the end${unless}`,
        'switch the bed off at the end',
      );
    if (belief.chamber > 0)
      say(
        'check.end-bed',
        line,
        `the chamber is still heated to ${belief.chamber} °C at the end`,
        'switch it off at the end',
      );
  },
};

function cold(line: number, certain: number, least: number, say: Say): void {
  say(
    'check.cold',
    line,
    () => `filament is moved while the nozzle is sure of only ${show(certain)} °C; it needs ${show(least)} °C`,
    'wait for the temperature first (M109)',
  );
}
