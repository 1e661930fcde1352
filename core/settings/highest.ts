import { hottest, type Context } from '#core/context';

/** The highest value that printer and filament allow of a setting, in its unit, and what sets it. */
export interface Highest {
  value: number;
  whose: string;
}

const hotWords = {
  hotend: 'the hotend’s limit',
  liner: 'what the PTFE liner bears',
  filament: 'the filament’s highest temperature',
};

/** The hottest nozzle, °C. */
export const nozzleHeat = (c: Context): Highest => {
  const { value, by } = hottest(c);
  return { value, whose: hotWords[by] };
};
/** The hottest bed, °C. */
export const bedHeat = ({ printer }: Context): Highest => ({
  value: printer.maximum.bedTemperature,
  whose: 'the bed’s limit',
});
/** The printer’s speed limit, mm/s. */
export const printerSpeed = ({ printer }: Context): Highest => ({
  value: printer.maximum.speed,
  whose: 'the printer’s speed limit',
});
/** The printer’s limit of Z, mm/s. */
export const printerZSpeed = ({ printer }: Context): Highest => ({
  value: printer.maximum.zSpeed,
  whose: 'the printer’s Z speed limit',
});
/** The printer’s acceleration limit, mm/s². */
export const printerAcceleration = ({ printer }: Context): Highest => ({
  value: printer.maximum.acceleration,
  whose: 'the printer’s acceleration limit',
});
/** The extruder’s speed limit, mm/s of filament. */
export const extruderSpeed = ({ printer }: Context): Highest => ({
  value: printer.extruder.maximumSpeed,
  whose: 'the extruder’s speed limit',
});
/** A length that is bound to the nozzle. */
export const underNozzle =
  (share: number) =>
  ({ printer }: Context): Highest => ({ value: share * printer.nozzle.diameter, whose: `${share} × the nozzle` });
