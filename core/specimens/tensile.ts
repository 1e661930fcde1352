/**
 * The small tensile specimen of ISO 527-2, type 1BA, mm: 75 long, 10 wide at the ends, 5 wide over 30 mm, ends joined by
 * arcs of at least 30 mm radius; 58 mm between the broad parts.
 */
export const tensile = { length: 75, broad: 10, narrow: 5, parallel: 30, between: 58, radius: 30 };

/** The bars that are pulled until they break. */
export const barIds = { lying: 'lying-bar', standing: 'standing-bar' } as const;

/** Whether a specimen is such a bar; known without building one. */
export const isBar = (id: string): boolean => id === barIds.lying || id === barIds.standing;
