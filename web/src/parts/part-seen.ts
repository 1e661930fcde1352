import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { show } from '#core/base';
import { MOST_CLOSED, type Gap, type LookedOver } from '#core/part';

const at = ({ x, y, z }: Pick<Gap, 'x' | 'y' | 'z'>) =>
  `at ${show(z, 1)} mm of height (${show(x, 1)}, ${show(y, 1)} from its middle)`;

/** What was seen when a part was looked over: what was mended, what cannot be printed, what is to be known. */
@Component({
  selector: 'st-part-seen',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (s of said(); track s.words) {
      <p [class.wrong]="s.wrong" [attr.role]="s.wrong ? 'alert' : null">
        {{ s.words }}
        @if (s.wrong && wide(); as c) {
          <button type="button" class="step" (click)="closing.emit(c)">close gaps up to {{ figure(c, 1) }} mm</button>
        }
      </p>
    } @empty {
      <p class="soft">Its outline closes everywhere, and nothing of it hangs over.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      font-size: 13px;
    }
  `,
})
export class PartSeen {
  readonly looked = input.required<LookedOver>();

  /** Up to how wide gaps are closed by now, mm. */
  readonly closes = input.required<number>();
  /** Gaps are to be closed up to so many mm. */
  readonly closing = output<number>();

  protected readonly figure = show;
  /** How wide the gaps are that would have to be closed, mm, where that can be asked for. */
  protected readonly wide = computed(() => {
    const widest = Math.ceil((this.looked().widestOpen?.width ?? 0) * 10 + 1e-6) / 10;
    // Of a heap of loose ends nothing is closed, however wide: then it is not offered again.
    return widest <= MOST_CLOSED && widest > this.closes() ? widest : 0;
  });

  protected readonly said = computed(() => {
    const { seen, mended, mendedInAll, open, openLayers, widestOpen } = this.looked();
    const said: { words: string; wrong: boolean }[] = [];
    const first = open[0];
    if (first)
      said.push({
        wrong: true,
        words: `Its outline stays open in ${openLayers} of ${seen.layers} layers: ${show(first.width, 1)} mm are missing ${at(first)}${widestOpen && widestOpen.width > first.width + 0.05 ? `, most ${at(widestOpen)}: ${show(widestOpen.width, 1)} mm` : ''}. Close wider gaps, cut that height away, or mend the mesh; until then no G-code leaves.`,
      });
    const widest = mended[0];
    if (widest)
      said.push({
        wrong: false,
        words: `${mendedInAll} ${mendedInAll === 1 ? 'gap was' : 'gaps were'} closed, the widest of ${show(widest.width, 2)} mm ${at(widest)}.`,
      });
    if (seen.inAir.count > 0)
      said.push({
        wrong: false,
        words: `${seen.inAir.count} ${seen.inAir.count === 1 ? 'island begins' : 'islands begin'} in the air, the lowest ${at(seen.inAir)}: without supports it falls.`,
      });
    if (seen.overhang.area > 1)
      said.push({
        wrong: false,
        words: `${show(seen.overhang.area, 0)} mm² hang over by more than 45°, up to ${show(seen.overhang.steepest, 0)}°.`,
      });
    if (seen.ceiling.across > 2)
      said.push({
        wrong: false,
        words: `A ceiling spans ${show(seen.ceiling.across, 1)} mm of air at ${show(seen.ceiling.z, 1)} mm.`,
      });
    if (seen.slim.area > 0)
      said.push({ wrong: false, words: `At ${show(seen.slim.z, 1)} mm it has walls slimmer than a line.` });
    return said;
  });
}
