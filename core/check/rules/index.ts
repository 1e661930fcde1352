import { commands } from './commands';
import { extrusion } from './extrusion';
import { heat } from './heat';
import { limits } from './limits';
import { motion } from './motion';
import type { RuleFamily } from './rule';

/** All rules by family; a new family is a file and a line here. */
export const families: readonly RuleFamily[] = [motion, heat, extrusion, limits, commands];

export type { RuleFamily, Say } from './rule';
