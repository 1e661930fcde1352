/** Commands that no file may hold, with what they do: written so by any firmware, whatever a macro of that name may do. */
const forbiddenCommands: Record<string, string> = {
  M302: 'allows cold extrusion',
  M500: 'writes settings into the printer for good',
  M501: 'reloads settings in the middle of a file',
  M502: 'resets the printer’s settings',
  M112: 'stops the printer',
  M303: 'starts a heater test',
  M304: 'changes how the bed is heated',
  M301: 'changes how the nozzle is heated',
  M851: 'moves the nozzle’s zero height',
  M290: 'moves the nozzle’s zero height',
  M206: 'shifts the coordinates',
  M211: 'switches the end stops off',
  G10: 'retracts by a length that the file does not say',
  G11: 'pushes by a length that the file does not say',
  SET_GCODE_OFFSET: 'shifts the coordinates',
  SET_KINEMATIC_POSITION: 'tells the printer that its head is elsewhere',
  FORCE_MOVE: 'moves a motor past its limits',
  PID_CALIBRATE: 'starts a heater test',
  SAVE_CONFIG: 'writes settings into the printer for good',
  FIRMWARE_RESTART: 'restarts the printer',
  RESTART: 'restarts the printer',
  M563: 'redefines the tools',
  M997: 'updates the firmware',
  M999: 'restarts the printer',
  M98: 'runs a file of the printer',
  M32: 'runs a file of the printer',
};

/** Commands that bring the nozzle or a probe down to the bed, wherever they are called. */
const probes = new Set([
  'G29',
  'G30',
  'G32',
  'G33',
  'G34',
  'G35',
  'G38',
  'G76',
  'M48',
  'PROBE',
  'PROBE_ACCURACY',
  'PROBE_CALIBRATE',
  'BED_MESH_CALIBRATE',
  'BED_TILT_CALIBRATE',
  'DELTA_CALIBRATE',
  'QUAD_GANTRY_LEVEL',
  'SCREWS_TILT_CALCULATE',
  'Z_ENDSTOP_CALIBRATE',
  'Z_TILT_ADJUST',
]);

/** Why a command must not stand in a file; undefined where nothing is against it. */
export const forbidden = (name: string): string | undefined =>
  Object.hasOwn(forbiddenCommands, name) ? forbiddenCommands[name] : undefined;

/** Whether a command probes the bed. */
export const probesBed = (name: string): boolean => probes.has(name);

/**
 * What a command in words asks of the heaters, by the names of its parameters: °C for the bed and for the nozzle.
 *
 * @example heatAsked('READY BED=80 NOZZLE=240') // { bed: [80], nozzle: [240] }
 */
export function heatAsked(call: string): { bed: number[]; nozzle: number[] } {
  const asked = { bed: [] as number[], nozzle: [] as number[] };
  // SET_HEATER_TEMPERATURE names its heater beside the figure.
  const heater = /\bHEATER\s*=\s*"?(\w+)/i.exec(call)?.[1] ?? '';
  for (const [, key, text] of call.matchAll(/\b([A-Za-z_]\w*)\s*=\s*([-+]?[\d.]+(?:[eE][-+]?\d+)?)/g)) {
    const value = Number(text);
    if (/BED/i.test(key!) || (/^(TARGET|MINIMUM|MAXIMUM)$/i.test(key!) && /BED/i.test(heater))) asked.bed.push(value);
    else if (/CHAMBER/i.test(key!) || /CHAMBER/i.test(heater)) continue;
    else if (/TEMP|TARGET|NOZZLE|EXTRUDER|HOTEND|HEAT/i.test(key!)) asked.nozzle.push(value);
  }
  return asked;
}
