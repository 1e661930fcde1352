import type { Quality } from './quality';

export const seam: Quality = {
  id: 'seam',
  label: 'seam',
  anchors: ['blobs and gaps', 'a ridge', 'clearly seen', 'faint', 'not to be found'],
  look: 'Turn the wall in raking light until the seam shows.',
  fault: { seam: 'either', 'pressure-advance': 'either', 'unretract-extra': 'too high' },
  side: 'look',
};
