import type { Polygon } from '#core/geometry';
import type { Cut, ToolOutline } from './piece';
import type { Pose } from './pose';

/** Which part, how it stands, and what of it is printed: all from which its sections follow. */
export interface PartAsked {
  hash: string;
  pose: Pose;
  cut: Cut;
  /** The tool of each object, counted from 1, where not one tool prints them all. */
  tools?: readonly number[] | undefined;
}

/** What a specimen needs of a part: its outline at any height above its foot, and where that jumps, mm. */
export interface Sliceable {
  breaks: readonly number[];
  at(height: number): Polygon[];
  /** The same by tool; none where one tool prints all of it. */
  inTools(height: number): ToolOutline[];
}

let maker: (asked: PartAsked) => Sliceable | undefined = () => undefined;

/** Says who makes the pieces of parts that are held: pages that hold none need not know how a mesh is cut. */
export const madeBy = (make: typeof maker): void => {
  maker = make;
};

/** The piece of a part that is at hand; undefined where it is not. */
export const sliceable = (asked: PartAsked): Sliceable | undefined => maker(asked);
