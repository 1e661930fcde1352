import { volumetricFlow } from '#core/factors';
import { lineArea } from '#core/settings';
import type { Kind } from './kind';
import { axis, roundBelow, span } from './levels';

const COUNT = 9;

export const flowLimit: Kind = {
  id: 'flow-limit',
  label: 'Flow limit',
  stop: 'flow-limit',
  about: 'one long loop that gets faster with height until it no longer melts',
  specimen: 'loop-wall',
  recipe: (context, s) => {
    const usual = volumetricFlow.start(context);
    // A slim line cannot use up a large hotend: the printer’s own speed ends the sweep.
    const most = 0.95 * context.printer.maximum.speed * lineArea(s.lineWidth, s.layerHeight, s.lineVolume) * s.flow;
    const high = Math.min(usual[usual.length - 1]!, most);
    // In round steps, as many as make about so many levels, up to the last that is reached.
    const step = roundBelow(high / COUNT);
    const levels = high < usual[usual.length - 1]! ? span(2 * step, high, step) : usual;
    return {
      axes: [axis('volumetric-flow', 'height', levels, 'ramp')],
      params: { bandHeight: 1.5 },
      frozen: { brimWidth: 0 },
    };
  },
};
