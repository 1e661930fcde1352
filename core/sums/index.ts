import { parse, type Result } from '#core/base';
import type { Calculator, Sum } from './calculator';
import { compare } from './compare';
import { count } from './count';
import { creep } from './creep';
import { fanRamp } from './fan-ramp';
import { feed } from './feed';
import { flow } from './flow';
import { flowLimit } from './flow-limit';
import { height } from './height';
import { layerTime } from './layer-time';
import { cost, mass } from './mass';
import { purge } from './purge';
import { size } from './size';
import { stress } from './stress';
import { wallFlow } from './wall-flow';

/** The calculators; a new one is a file and a line here. */
export const calculators: readonly Calculator[] = [
  feed,
  flow,
  wallFlow,
  height,
  count,
  fanRamp,
  layerTime,
  mass,
  cost,
  flowLimit,
  purge,
  stress,
  compare,
  size,
  creep,
];

/** Runs a calculator on an unknown input. */
export function calculate(c: Calculator, input: unknown): Result<Sum> {
  const parsed = parse(c.input, input, '');
  return parsed.ok ? c.run(parsed.value) : parsed;
}

export const calculatorOf = (id: string): Calculator | undefined => calculators.find((c) => c.id === id);
export type { Calculator, Sum, SumField, SumForm } from './calculator';
