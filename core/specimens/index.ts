import { block } from './block';
import { feedCheck } from './feed-check';
import { flowTile } from './forms/flow-tile';
import { coolingLadder } from './forms/cooling-ladder';
import { shrinkingPost } from './forms/shrinking-post';
import { spanComb } from './forms/span-comb';
import { infillCoupon } from './forms/infill-coupon';
import { supportBench } from './forms/support-bench';
import { smallVase } from './forms/small-vase';
import { sizeGauge } from './forms/size-gauge';
import { fitPlug } from './forms/fit-plug';
import { liftBar } from './forms/lift-bar';
import { purgeCoupon } from './forms/purge-coupon';
import { toolTower } from './forms/tool-tower';
import { lyingBar, standingBar } from './forms/bars';
import { dome } from './forms/dome';
import { figurePlate } from './forms/figure-plate';
import { slimFins } from './forms/slim-fins';
import { bedLoops } from './lines/bed-loops';
import { bedPads } from './lines/bed-pads';
import { dashes } from './lines/dashes';
import { fence } from './lines/fence';
import { gaugeBox } from './lines/gauge-box';
import { loopWall } from './lines/loop-wall';
import { starWall } from './lines/star-wall';
import { surgeRibbon } from './lines/surge-ribbon';
import { ownPart } from './own-part';
import { bodies, checkSpecimen } from './reference';
import type { Specimen } from './specimen';
import { temperatureTower } from './temperature-tower';
import { userPart } from './user-part';
import { userPlate } from './user-plate';

/** The catalogue of specimens; a new one is a file and a line here. */
export const specimens: readonly Specimen[] = [
  temperatureTower as unknown as Specimen,
  ...([
    feedCheck,
    bedLoops,
    bedPads,
    dashes,
    loopWall,
    gaugeBox,
    surgeRibbon,
    starWall,
    fence,
    flowTile,
    coolingLadder,
    shrinkingPost,
    spanComb,
    infillCoupon,
    supportBench,
    smallVase,
    sizeGauge,
    fitPlug,
    liftBar,
    purgeCoupon,
    toolTower,
    lyingBar,
    standingBar,
    slimFins,
    figurePlate,
    dome,
  ] as unknown as Specimen[]),
  block as unknown as Specimen,
  ownPart as unknown as Specimen,
  userPart as unknown as Specimen,
  userPlate as unknown as Specimen,
  ...bodies.map((body) => checkSpecimen(body) as unknown as Specimen),
];

/** A specimen by id. */
export const specimenOf = (id: string): Specimen | undefined => specimens.find((s) => s.id === id);

/** Whether a specimen is made of parts of the user’s own. */
export const isOfParts = (id: string): boolean => id === userPart.id || id === userPlate.id;

export { edgeRings } from './edge-rings';
export { MARK_BEYOND } from './feed-check';
export { isBar, tensile } from './tensile';
export * from './label-map';
export { bordersOf, SLICES, STRIPES_ABOVE, withBorders } from './own-part';
export { bodies, finThicknesses, type Body } from './reference';
export { ownBands, userPartStart } from './user-part';
export { tilesOf } from './tiles';
export { ledgeReach } from './temperature-tower';
export * from './specimen';
