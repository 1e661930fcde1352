import type { Kind } from './kind';
import { amongFins, axis, retractions } from './levels';

export const retractionFence: Kind = {
  id: 'retraction-fence',
  label: 'Retraction fence',
  stop: 'retraction',
  about: 'distance from gap to gap and speed from band to band: two settings as one map',
  specimen: 'fence',
  shorter: 'retraction-strips',
  recipe: (context, s) => {
    const top = context.printer.extruder.maximumSpeed;
    const speeds = [15, 25, 35, 45, 55].filter((v) => v <= top);
    const distances = retractions(context);
    return {
      axes: [
        axis('retraction-speed', 'height', speeds),
        axis(
          'retraction-distance',
          'row',
          distances.filter((_, i) => distances.length <= 7 || i % 2 === 0),
        ),
      ],
      frozen: { ...amongFins, fan: Math.min(s.fan, 0.4) },
    };
  },
};
