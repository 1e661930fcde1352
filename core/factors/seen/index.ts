import { settingOf, type SettingId } from '#core/settings';
import { infillDensity, infillPattern } from './infill';
import type { CellReading } from './print';
import {
  firstSkinFlow,
  ironing,
  ironingFlow,
  ironingSpacing,
  skinOrder,
  topLayers,
  topPattern,
  topSkinFlow,
} from './skins';
import { supportDensity, supportGapAbove, supportInterfaceLayers, supportStructure } from './supports';
import { unretractExtra, wipe, zHop } from './travel';
import { firstLayerInset, lineWidth, overhangSpeed, seam, thinWalls, wallOrder } from './walls';
import { fanRampLayers, layerHeights, minimumLayerTime, purgeStrength } from './whole';

/** Settings that show in what is printed of a cell as a whole, and how far such a reading may lie off. */
export const shownInCell: Partial<Record<SettingId, { read: CellReading; rounding: number }>> = {
  zHop: { read: zHop, rounding: 0.002 },
  wipe: { read: wipe, rounding: 0.02 },
  unretractExtra: { read: unretractExtra, rounding: 2e-4 },
  wallOrder: { read: wallOrder, rounding: 0 },
  lineWidth: { read: lineWidth, rounding: 0.008 },
  thinWalls: { read: thinWalls, rounding: 0 },
  firstLayerInset: { read: firstLayerInset, rounding: 0.01 },
  overhangSpeed: { read: overhangSpeed, rounding: 0.06 },
  seam: { read: seam, rounding: 0 },
  topLayers: { read: topLayers, rounding: 0 },
  topSkinFlow: { read: topSkinFlow, rounding: 0.02 },
  firstSkinFlow: { read: firstSkinFlow, rounding: 0.02 },
  skinOrder: { read: skinOrder, rounding: 0 },
  topPattern: { read: topPattern, rounding: 0 },
  ironing: { read: ironing, rounding: 0 },
  ironingSpacing: { read: ironingSpacing, rounding: 0.004 },
  ironingFlow: { read: ironingFlow, rounding: 0.012 },
  infillDensity: { read: infillDensity, rounding: 0.02 },
  infillPattern: { read: infillPattern((settingOf('infillPattern').choices ?? []).map(String)), rounding: 0 },
  supportGapAbove: { read: supportGapAbove, rounding: 0.002 },
  supportDensity: { read: supportDensity, rounding: 0.012 },
  supportInterfaceLayers: { read: supportInterfaceLayers, rounding: 0 },
  supportStructure: { read: supportStructure, rounding: 0 },
  fanRampLayers: { read: fanRampLayers, rounding: 0 },
  minimumLayerTime: { read: minimumLayerTime, rounding: 0.3 },
  layerHeights: { read: layerHeights, rounding: 0 },
  purgeStrength: { read: purgeStrength, rounding: 0.05 },
};

export { infillDensity, infillPattern } from './infill';
export { inLoop, nearLine } from './lines';
export { ironingFlow, ironingSpacing, sequenceShown } from './skins';
export { fitClearance, wallOrder } from './walls';
export type { CellPrint, CellReading, Ends, Laid, Shown, Way } from './print';
