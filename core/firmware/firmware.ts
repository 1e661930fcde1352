/** The firmware families spoken; a new one is a line here, an entry in `dialects`, and its own spellings in `families`. */
export const firmwares = ['marlin', 'klipper', 'reprap'] as const;

/** The firmware that a file is written for. */
export type Firmware = (typeof firmwares)[number];

/** What one firmware family does in its own way. */
export interface Dialect {
  id: Firmware;
  label: string;
  /** The longest push that the firmware takes at once, mm. */
  longestPush: number;
  /** Whether `M109 S` also waits while the nozzle cools. */
  waitsBothWays: boolean;
  /** Whether `G90` and `G91` decide over E too; else `M82` and `M83` alone do. */
  axesRuleE: boolean;
  /** Whether a fan figure up to 1 is a share; else 255 is all. */
  fanByShare: boolean;
  /** Seconds in the unit of time in which limits of speed are counted. */
  limitSeconds: 1 | 60;
  /** Whether a tool that is put away cools to a standby of its own. */
  standby: boolean;
  /** Whether commands in small letters, and comments in brackets, are taken. */
  takesLowerCase: boolean;
}

/** All dialects by id. */
export const dialects: Record<Firmware, Dialect> = {
  marlin: {
    id: 'marlin',
    label: 'Marlin',
    longestPush: 200,
    waitsBothWays: false,
    axesRuleE: true,
    fanByShare: false,
    limitSeconds: 1,
    standby: false,
    takesLowerCase: false,
  },
  klipper: {
    id: 'klipper',
    label: 'Klipper',
    longestPush: 50,
    waitsBothWays: true,
    axesRuleE: false,
    fanByShare: false,
    limitSeconds: 1,
    standby: false,
    takesLowerCase: true,
  },
  reprap: {
    id: 'reprap',
    label: 'RepRapFirmware',
    longestPush: 200,
    waitsBothWays: false,
    axesRuleE: false,
    fanByShare: true,
    limitSeconds: 60,
    standby: true,
    takesLowerCase: true,
  },
};
