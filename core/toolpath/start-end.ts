import type { Fault } from '#core/base';
import { toolTarget, cornerAction, zoneHeight, fillPlaceholders, reachOf } from '#core/context';
import type { Chunk } from '#core/moves';
import type { Settings } from '#core/settings';
import type { Planned } from '#core/trial';
import { copyOf, type Head } from './head';
import { Emitter } from './emit';

const CLEAR = 5;

/** Start and end code of the printer with their placeholders filled; a fault where one is unknown. */
export function machineCodes(
  { trial, built }: Planned,
  s: Settings,
): { start: string[]; end: string[] } | { faults: Fault[] } {
  const { printer, filament } = trial.context;
  const reach = reachOf(printer);
  const values = {
    nozzle: s.firstLayerTemperature,
    nozzle_later: s.nozzleTemperature,
    bed: s.bedTemperature,
    width: reach.x1 - reach.x0,
    depth: reach.y1 - reach.y0,
    height: printer.height,
    top: Math.round(built.height * 100) / 100,
    diameter: printer.nozzle.diameter,
    material: filament.material,
  };
  const begin = fillPlaceholders(printer.startCode, printer.placeholders, values, 'context.printer.startCode');
  const finish = fillPlaceholders(printer.endCode, printer.placeholders, values, 'context.printer.endCode');
  if (!begin.ok || !finish.ok) return { faults: [begin, finish].flatMap((r) => (r.ok ? [] : r.faults)) };
  return { start: begin.value, end: finish.value };
}

/** The user's start code, then every state that the file relies on, asserted. */
export function start(
  { trial }: Planned,
  s: Settings,
  head: Head,
  code: string[],
  tool: number,
  used: readonly number[],
  sink: (chunk: Chunk) => void,
): void {
  const { context } = trial;
  const e = new Emitter(trial.context, head, s);
  // The user's code is read as by a machine just switched on, whatever the last file left it in.
  modes(e, 'absolute');
  for (const text of code) e.command({ kind: 'raw', text });
  modes(e, trial.context.printer.extrusion);
  e.command({ kind: 'override', what: 'speed', share: 1 });
  e.command({ kind: 'override', what: 'flow', share: 1 });
  e.command({ kind: 'bed', target: s.bedTemperature, wait: s.bedTemperature > 0 });
  head.bed = s.bedTemperature;
  for (const other of used) {
    if (other === tool) continue;
    const target = toolTarget(context, other, s.firstLayerTemperature) - s.standbyDrop;
    e.command({ kind: 'heat', tool: other, target, wait: false });
  }
  // Another file may have left another tool in hand, and the start code may have heated that one.
  if (context.printer.tools > 1) {
    e.command({ kind: 'tool', to: tool });
    for (let other = 0; other < context.printer.tools; other++)
      if (other !== tool && !used.includes(other)) e.command({ kind: 'heat', tool: other, target: 0, wait: false });
  }
  head.tool = tool;
  e.command({ kind: 'heat', tool, target: toolTarget(context, tool, s.firstLayerTemperature), wait: true });
  e.command({ kind: 'advance', value: s.pressureAdvance, tool });
  e.command({ kind: 'acceleration', print: s.acceleration, travel: s.travelAcceleration });
  head.acceleration = `${s.acceleration}/${s.travelAcceleration}`;
  head.advance = s.pressureAdvance;
  e.command({ kind: 'position', axes: { e: 0 } });
  e.fan(0);
  // Over whatever stands on the bed.
  const clear = Math.max(CLEAR, ...context.printer.keepOut.map((k) => zoneHeight(k) + 1));
  e.command({ kind: 'raw', text: `G0 Z${clear} F${Math.round(s.zSpeed * 60)}` });
  head.hop = clear;
  e.finish().forEach(sink);
}

function modes(e: Emitter, extrusion: 'relative' | 'absolute'): void {
  e.command({ kind: 'mode', what: 'units', value: 'mm' });
  e.command({ kind: 'mode', what: 'axes', value: 'absolute' });
  e.command({ kind: 'mode', what: 'extrusion', value: extrusion });
}

/** Every value that the trial changed is set back, then the user's end code, then all heaters off. */
export function end(
  { trial }: Planned,
  s: Settings,
  head: Head,
  code: string[],
  highest: number,
  sink: (chunk: Chunk) => void,
): void {
  const b = trial.baseline;
  const e = new Emitter(trial.context, copyOf(head), s);
  // Drawn back as the pair does it: the next file gives so much back.
  const { retractionDistance, retractionSpeed } = b;
  const own = { ...(head.by?.settings ?? s), retractionDistance, retractionSpeed };
  e.retract(-1, Math.max(0, Math.min(highest + 10, trial.context.printer.height) - head.z), 0, own);
  e.command({ kind: 'advance', value: b.pressureAdvance, tool: head.tool });
  e.command({ kind: 'acceleration', print: b.acceleration, travel: b.travelAcceleration });
  if (head.corner !== 0) e.command(cornerAction(trial.context.printer, 0));
  for (const text of code) e.command({ kind: 'raw', text });
  for (let tool = 0; tool < trial.context.printer.tools; tool++)
    e.command({ kind: 'heat', tool, target: 0, wait: false });
  e.command({ kind: 'bed', target: 0, wait: false });
  e.command({ kind: 'fan', share: 0 });
  e.finish().forEach(sink);
}
