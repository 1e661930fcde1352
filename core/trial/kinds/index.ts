import type { Kind } from './kind';
import { feedCheck } from './feed-check';
import { bedLoops } from './bed-loops';
import { nozzleHeight } from './nozzle-height';
import { bedHold } from './bed-hold';
import { bedCover } from './bed-cover';
import { temperatureAtLimit } from './temperature-at-limit';
import { temperatureTower } from './temperature-tower';
import { temperatureStrips } from './temperature-strips';
import { temperatureTwoTools } from './temperature-two-tools';
import { flowLimit } from './flow-limit';
import { flowCoarse } from './flow-coarse';
import { flowFine } from './flow-fine';
import { flowWall } from './flow-wall';
import { firstSkinFlow } from './first-skin-flow';
import { surgeRibbon } from './surge-ribbon';
import { starWall } from './star-wall';
import { retractionFence } from './retraction-fence';
import { retractionTower } from './retraction-tower';
import { retractionStrips } from './retraction-strips';
import { retractionTemperatures } from './retraction-temperatures';
import { zHop } from './z-hop';
import { unretract } from './unretract';
import { wipe } from './wipe';
import { fanLevel } from './fan-level';
import { fanRamp } from './fan-ramp';
import { layerTime } from './layer-time';
import { overhangSpeed } from './overhang-speed';
import { bridgeFlow } from './bridge-flow';
import { bridgeSpeed } from './bridge-speed';
import { bridgeFan } from './bridge-fan';
import { wallSpeed } from './wall-speed';
import { angleSequence } from './angle-sequence';
import { topSkinFlow } from './top-skin-flow';
import { acceleration } from './acceleration';
import { infillDensity } from './infill-density';
import { infillBands } from './infill-bands';
import { supportGap } from './support-gap';
import { supportDensity } from './support-density';
import { supportInterface } from './support-interface';
import { topLayers } from './top-layers';
import { ironing } from './ironing';
import { ironingFlow } from './ironing-flow';
import { topPattern } from './top-pattern';
import { wallOrder } from './wall-order';
import { travelInside } from './travel-inside';
import { slimFins } from './slim-fins';
import { smallText } from './small-text';
import { size } from './size';
import { foot } from './foot';
import { fit } from './fit';
import { layerHeights } from './layer-heights';
import { layerHeight } from './layer-height';
import { lineWidth } from './line-width';
import { purgeStrength } from './purge-strength';
import { strengthLying } from './strength-lying';
import { strengthStanding } from './strength-standing';

/** The catalogue of trials in the order of the route; a new one is a file and a line here. */
export const kinds: readonly Kind[] = [
  feedCheck,
  bedLoops,
  nozzleHeight,
  bedHold,
  bedCover,
  temperatureTower,
  temperatureAtLimit,
  temperatureStrips,
  temperatureTwoTools,
  flowLimit,
  flowCoarse,
  flowFine,
  flowWall,
  firstSkinFlow,
  topSkinFlow,
  surgeRibbon,
  starWall,
  retractionFence,
  retractionTower,
  retractionStrips,
  retractionTemperatures,
  zHop,
  unretract,
  wipe,
  fanLevel,
  fanRamp,
  layerTime,
  overhangSpeed,
  bridgeFlow,
  bridgeSpeed,
  bridgeFan,
  wallSpeed,
  acceleration,
  infillDensity,
  infillBands,
  supportGap,
  supportDensity,
  supportInterface,
  topLayers,
  ironing,
  ironingFlow,
  topPattern,
  angleSequence,
  wallOrder,
  travelInside,
  slimFins,
  smallText,
  size,
  foot,
  fit,
  layerHeights,
  layerHeight,
  lineWidth,
  purgeStrength,
  strengthLying,
  strengthStanding,
];

/** A kind by id. */
export const kindOf = (id: string): Kind | undefined => kinds.find((k) => k.id === id);

export { recipeOf, type Kind, type Recipe } from './kind';
