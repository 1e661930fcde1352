import type { Command } from '#core/moves';
import type { Belief, Step } from '../belief';

/** Says that a rule is broken: its code, the line, what is wrong, what would be right. */
export type Say = (code: string, line: number, wrong: string | (() => string), right: string) => void;

/** Rules of one kind. Each looks at the belief as it stands before what is said or moved takes effect. */
export interface RuleFamily {
  said?(command: Command, belief: Belief, say: Say): void;
  moved?(step: Step, belief: Belief, say: Say): void;
  ended?(belief: Belief, line: number, say: Say): void;
}
