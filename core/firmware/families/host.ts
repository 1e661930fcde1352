import { forbidden, harmless, type Command } from '../command';

const pauses = (names: readonly string[], of?: Command['of']): Command[] =>
  names.map((name) => ({
    name,
    ...(of && { of }),
    does: 'pauses the print',
    read: () => [{ kind: 'pause', name }],
    examples: [name],
  }));

/** Display, pauses, host and card. */
export const host: readonly Command[] = [
  ...pauses(['M0', 'M1', 'M25', 'M226', 'M600', 'M125']),
  ...pauses(['PAUSE'], ['klipper']),
  ...harmless({
    M24: 'goes on after a pause',
    M73: 'shows progress',
    M75: 'starts the clock',
    M76: 'stops the clock',
    M77: 'stops the clock',
    M78: 'shows statistics',
    M105: 'asks for temperatures',
    M110: 'numbers lines anew',
    M113: 'keeps the host in touch',
    M114: 'asks for the place',
    M115: 'asks for the firmware',
    M117: 'shows a text',
    M118: 'sends a text',
    M119: 'asks for end stops',
    M150: 'sets lights',
    M155: 'reports temperatures',
    M240: 'takes a photo',
    M300: 'beeps',
    M355: 'sets lights',
    M486: 'names an object',
  }),
  ...harmless(
    {
      RESUME: 'goes on after a pause',
      SET_DISPLAY_TEXT: 'shows a text',
      RESPOND: 'sends a text',
      SET_PRINT_STATS_INFO: 'shows progress',
      EXCLUDE_OBJECT_DEFINE: 'names an object',
      EXCLUDE_OBJECT_START: 'names an object',
      EXCLUDE_OBJECT_END: 'names an object',
      GET_POSITION: 'asks for the place',
    },
    ['klipper'],
  ),
  ...forbidden({
    M28: 'writes what follows to the card instead of doing it',
    M32: 'runs a file of the printer',
    M98: 'runs a file of the printer',
    M112: 'stops the printer',
    M500: 'stores settings in the printer permanently',
    M501: 'reloads settings in the middle of a file',
    M502: 'resets the printer’s settings',
    M997: 'updates the firmware',
    M999: 'restarts the printer',
    SAVE_CONFIG: 'stores settings in the printer permanently',
    FIRMWARE_RESTART: 'restarts the printer',
    RESTART: 'restarts the printer',
  }),
];
