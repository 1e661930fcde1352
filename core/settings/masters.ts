import type { Context } from '#core/context';
import { settingOf, type SettingId, type Settings } from './settings';

/** A setting that must be on for others to do anything: the value at which it is off, and one that turns it on. */
interface Master {
  id: SettingId;
  off: number | string;
  /** Left out: its starting value. */
  on?: number | string;
  of: readonly SettingId[];
}

const masters: readonly Master[] = [
  {
    id: 'layerHeights',
    off: 'even',
    on: 'adaptive',
    of: ['adaptiveLeast', 'adaptiveMost', 'adaptiveStep', 'adaptiveFineness'],
  },
  { id: 'wallCount', off: 1, on: 2, of: ['innerWallSpeed', 'wallOrder'] },
  { id: 'ironing', off: 'none', on: 'top surfaces', of: ['ironingSpacing', 'ironingFlow', 'ironingSpeed'] },
  { id: 'infillDensity', off: 0, of: ['infillPattern', 'infillAngle', 'infillAnchor', 'infillSpeed'] },
  { id: 'tightCurveRadius', off: 0, on: 5, of: ['tightCurveSpeed'] },
  { id: 'fanByLayerTime', off: 'no', on: 'yes', of: ['leastFan', 'leastFanAbove', 'fullFanBelow'] },
  { id: 'minimumLayerTime', off: 0, of: ['floorSpeed', 'slowOuterWall'] },
  { id: 'retractionDistance', off: 0, of: ['retractionSpeed', 'unretractExtra', 'wipe'] },
  {
    id: 'supports',
    off: 'none',
    on: 'everywhere',
    of: [
      'supportAngle',
      'supportStructure',
      'supportDensity',
      'supportGapAbove',
      'supportGapBelow',
      'supportGapSide',
      'supportInterfaceLayers',
      'supportInterfaceDensity',
      'supportInterfacePattern',
      'supportInterfaceFlow',
      'supportLeastArea',
      'supportSpeed',
    ],
  },
  {
    id: 'supportInterfaceLayers',
    off: 0,
    of: ['supportInterfaceDensity', 'supportInterfacePattern', 'supportInterfaceFlow'],
  },
  { id: 'skirtLoops', off: 0, on: 2, of: ['skirtGap'] },
  { id: 'edgeLoops', off: 0, on: 2, of: ['edgeDistance', 'edgePitch', 'edgePause'] },
  { id: 'earRadius', off: 0, on: 8, of: ['earAngle'] },
  { id: 'raftLayers', off: 0, on: 3, of: ['raftMargin', 'raftGap'] },
];

/** The settings of which another must be on, each with that one. */
export const mastered: readonly { id: SettingId; master: SettingId }[] = masters.flatMap((m) =>
  m.of.map((id) => ({ id, master: m.id })),
);

/** Why a setting does nothing: the setting that is off, its value, and one that turns it on. */
export interface Idle {
  master: SettingId;
  off: number | string;
  on: number | string;
}

/** What is off that a setting needs; undefined where it takes effect. */
export function idleBy(id: SettingId, settings: Settings, context: Context): Idle | undefined {
  const master = masters.find((m) => m.of.includes(id) && settings[m.id] === m.off);
  return master && { master: master.id, off: master.off, on: master.on ?? settingOf(master.id).start(context) };
}
