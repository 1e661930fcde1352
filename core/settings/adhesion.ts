import type { Settings } from './settings';

/** Height of a raft with the gap above it, mm; 0 without one. */
export const raftHeight = (s: Settings): number =>
  s.raftLayers > 0 ? s.firstLayerHeight + (s.raftLayers - 1) * s.layerHeight + s.raftGap : 0;

/** How far what is laid around the part on the bed reaches beyond it, mm. */
export const adhesionReach = (s: Settings): number =>
  Math.max(
    s.brimWidth,
    s.earRadius,
    s.raftLayers > 0 ? s.raftMargin : 0,
    s.skirtLoops > 0 ? Math.max(s.skirtGap, s.brimWidth + 2) + s.skirtLoops * s.lineWidth : 0,
  );
