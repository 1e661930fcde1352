import type { Command } from '../command';
import { extrusion } from './extrusion';
import { fan } from './fan';
import { heat } from './heat';
import { host } from './host';
import { limits } from './limits';
import { motion } from './motion';
import { offsets } from './offsets';
import { overrides } from './overrides';
import { tools } from './tools';

/** Every command by family; a new family is a file and a line here. */
export const families: Readonly<Record<string, readonly Command[]>> = {
  motion,
  heat,
  fan,
  extrusion,
  limits,
  offsets,
  tools,
  overrides,
  host,
};
