/** What a careful person read off the prints of the demo, by record and quality, cell by cell. Written by `npm run docs`. */
export const read: Record<string, Record<string, (number | 'broke')[]>> = {
  'demo-heron-fence': {
    stringing: [2, 4, 3, 4, 4, 1, 3, 3, 4, 4, 1, 3, 3, 4, 3, 1, 3, 3, 4, 4, 1, 3, 3, 4, 4],
    restart: [4, 3, 4, 4, 1, 4, 4, 4, 3, 0, 4, 4, 4, 4, 0, 3, 4, 4, 4, 1, 4, 3, 4, 4, 0],
    surface: [4, 3, 4, 4, 1, 4, 4, 4, 4, 1, 4, 4, 3, 3, 0, 4, 3, 3, 4, 1, 4, 4, 4, 4, 1],
  },
  'demo-heron-temperature': {
    stringing: [2, 3, 3, 4, 4, 4, 4, 4],
    overhang: [2, 2, 2, 2, 3, 3, 2, 3],
    bridge: [1, 2, 2, 2, 2, 2, 3, 3],
    surface: [2, 2, 2, 2, 3, 3, 3, 3],
    'layer-strength': [3, 2, 3, 3, 4, 3, 2, 0],
  },
  'demo-plover-temperature': {
    stringing: [4, 3, 4, 4, 4, 4, 4, 4],
    overhang: [3, 3, 4, 3, 4, 4, 3, 4],
    bridge: [1, 3, 2, 2, 2, 2, 3, 3],
    surface: [1, 1, 0, 0, 1, 1, 1, 1],
    'layer-strength': [1, 1, 1, 2, 2, 2, 1, 0],
  },
};
