import type { Quality } from './quality';
import { topSkin } from './top-skin';
import { skinJoint } from './skin-joint';
import { wallFullness } from './wall-fullness';
import { gloss } from './gloss';
import { corners } from './corners';
import { speedChange } from './speed-change';
import { echo } from './echo';
import { restart } from './restart';
import { curl } from './curl';
import { firstLayer } from './first-layer';
import { cornerLift } from './corner-lift';
import { release } from './release';
import { infill } from './infill';
import { removal } from './removal';
import { scars } from './scars';
import { underside } from './underside';
import { seam } from './seam';
import { detail } from './detail';
import { fit } from './fit';
import { bleed } from './bleed';
import { streaks } from './streaks';
import { hairs } from './hairs';
import { bridge } from './bridge';
import { layerStrength } from './layer-strength';
import { overhang } from './overhang';
import { stringing } from './stringing';
import { surface } from './surface';

/** The catalogue of qualities; a new one is a file and a line here. */
export const qualities: readonly Quality[] = [
  stringing,
  overhang,
  bridge,
  surface,
  layerStrength,
  topSkin,
  skinJoint,
  wallFullness,
  gloss,
  corners,
  speedChange,
  echo,
  restart,
  curl,
  firstLayer,
  cornerLift,
  release,
  infill,
  removal,
  scars,
  underside,
  seam,
  detail,
  fit,
  bleed,
  streaks,
  hairs,
];

/** A quality by id. */
export const qualityOf = (id: string): Quality | undefined => qualities.find((q) => q.id === id);
