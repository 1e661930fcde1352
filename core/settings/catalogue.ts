import { adhesion } from './groups/adhesion';
import { cooling } from './groups/cooling';
import { extrusion } from './groups/extrusion';
import { heat } from './groups/heat';
import { infill } from './groups/infill';
import { layers } from './groups/layers';
import { skins } from './groups/skins';
import { speed } from './groups/speed';
import { supports } from './groups/supports';
import { tools } from './groups/tools';
import { travel } from './groups/travel';
import { walls } from './groups/walls';

/**
 * Every process setting, once, in the order in which they are shown. The type `Settings`, its schema, the forms and the
 * G-code writer follow from this list. Lengths mm, speeds mm/s, temperatures °C, shares 0–1.
 */
export const catalogue = {
  ...heat,
  ...layers,
  ...walls,
  ...skins,
  ...infill,
  ...extrusion,
  ...speed,
  ...cooling,
  ...travel,
  ...supports,
  ...adhesion,
  ...tools,
} as const;
