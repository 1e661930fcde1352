import { fault, type Fault } from '#core/base';
import { alongWords, type Axis } from '#core/plan';

/** Why a specimen of pieces in a row cannot carry axes: it has one factor, in that row. */
export const onlyInRow =
  (many: string, right: string) =>
  (axes: readonly Axis[]): Fault[] =>
    axes.length > 1
      ? [fault('specimens.axes', 'axes', `${many} carry one factor`, 'choose one factor')]
      : axes.flatMap((a, i) =>
          a.along === 'row'
            ? []
            : [
                fault(
                  'specimens.layout',
                  `axes.${i}.along`,
                  `${many} do not carry levels ${alongWords[a.along]}`,
                  right,
                ),
              ],
        );
