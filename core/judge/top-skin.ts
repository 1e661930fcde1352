import type { Quality } from './quality';

export const topSkin: Quality = {
  id: 'top-skin',
  label: 'top skin',
  anchors: ['open gaps', 'gaps between lines', 'lines show', 'closed, a little ridged', 'closed and even'],
  look: 'In raking light, then with a fingertip: gaps say too little, ridges and a plough mark of the nozzle say too much.',
  fault: { flow: 'either', 'top-skin-flow': 'either', 'line-width': 'either', 'top-layers': 'too low' },
  side: 'look',
};
