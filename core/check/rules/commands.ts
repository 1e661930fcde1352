import { show } from '#core/base';
import type { RuleFamily } from './rule';

/** What no file may hold, and what is not known. */
export const commands: RuleFamily = {
  said(c, belief, say) {
    const forbid = (name: string, why: string) => say('check.forbidden', c.line, `${name} ${why}`, 'take the line out');
    switch (c.kind) {
      case 'danger':
        return forbid(c.name, c.why);
      case 'steps':
        return say('check.forbidden', c.line, 'it changes how far the motors turn', 'take the line out');
      case 'offset': {
        const zero = Object.values(c.axes).every((v) => v === 0);
        // Nothing is shifted by nothing; what is kept in the printer is lost by setting it, to nothing as well.
        if (!(zero && (c.adds || c.tool === 0 || c.name === 'SET_GCODE_OFFSET')))
          forbid(c.name, c.tool === undefined ? 'shifts the coordinates' : 'shifts the coordinates of a tool');
        return;
      }
      case 'tool':
        if (c.to >= belief.context.printer.tools)
          say(
            'check.tool',
            c.line,
            `tool ${show(c.to)} does not exist`,
            `use tools 0 to ${belief.context.printer.tools - 1}`,
          );
        return;
      case 'unknown':
        say(
          'check.unknown',
          c.line,
          `what “${c.text.slice(0, 40)}” does is not known`,
          'take it out, or name the macro and say what it does with the printer',
        );
    }
  },
};
