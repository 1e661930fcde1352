/** Commands that neither move, heat nor change a limit in a way that could hurt. */
export const passive = new Set([
  'M17',
  'M18',
  'M84',
  'M73',
  'M75',
  'M76',
  'M77',
  'M105',
  'M110',
  'M115',
  'M117',
  'M118',
  'M155',
  'M201',
  'M203',
  'M205',
  'M300',
  'M400',
  'M566',
  'G17',
  'G29',
  'G27',
]);

const always: Record<string, string> = {
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
};
const only: Record<string, Record<string, string>> = {
  marlin: {},
  klipper: {
    SET_GCODE_OFFSET: 'shifts the coordinates',
    SAVE_CONFIG: 'writes settings into the printer for good',
    FIRMWARE_RESTART: 'restarts the printer',
  },
  reprap: {
    M563: 'redefines the tools',
    M997: 'updates the firmware',
    M999: 'restarts the printer',
    M98: 'runs a file of the printer',
  },
};

/** Why a command must not stand in a file; undefined where nothing is against it. */
export const forbidden = (name: string, firmware: string): string | undefined => always[name] ?? only[firmware]?.[name];
