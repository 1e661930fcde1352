import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { rounded, show } from '#core/base';
import { engineCheck } from '#core/demo';
import { engineCheckStop } from '#core/route';
import { bodies } from '#core/specimens';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';

/** What tells most of a body: its side where that has a shape, else its outline from above. */
function drawingOf(b: (typeof bodies)[number]): { side: string; box: string } {
  const boxed = (high: number, low: number) => `${-b.width / 2 - 1} ${-high - 1} ${b.width + 2} ${high - low + 2}`;
  if (/[LA]/.test(b.side) || b.side.split('M').length > 3) return { side: b.side, box: boxed(b.height, 0) };
  const rings = b.at(b.height * 0.9).flatMap((p) => [p.outer, ...p.holes]);
  const side = rings.map((r) => `M${r.map((p) => `${rounded(p.x, 2)} ${rounded(p.y, 2)}`).join('L')}Z`).join('');
  return { side, box: boxed(b.depth / 2, -b.depth / 2) };
}

/** The reference set: solids of known measures on which any setting can be seen side by side. */
@Component({
  selector: 'st-checks-page',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair()) {
      <h1>Engine checks</h1>
      <p class="soft about">
        Solids whose volume and edges are known. Print one to see what the engine does, or choose what varies: any
        setting can take another value in each tile or band of one print.
      </p>
      <table>
        <thead>
          <tr>
            <th scope="col"><span class="visually-hidden">drawing</span></th>
            <th scope="col">solid</th>
            <th scope="col">trials</th>
            <th scope="col"><span class="visually-hidden">plan one</span></th>
          </tr>
        </thead>
        <tbody>
          @for (b of rows(); track b.id) {
            <tr>
              <td>
                <svg width="92" height="56" [attr.viewBox]="b.box" aria-hidden="true">
                  <g transform="scale(1 -1)">
                    <path [attr.d]="b.side" vector-effect="non-scaling-stroke" />
                  </g>
                </svg>
              </td>
              <th scope="row">
                {{ b.label }}
                <span class="soft">{{ b.purpose }}</span>
                <span class="soft figures">{{ b.measures }}</span>
              </th>
              <td>
                @for (r of b.records; track r.id) {
                  <a [routerLink]="['/trial', r.id]">{{ r.words }}</a>
                } @empty {
                  <span class="soft">none yet</span>
                }
              </td>
              <td><button type="button" class="act" (click)="plan(b.id)">Plan one</button></td>
            </tr>
          }
        </tbody>
      </table>
    } @else {
      <h1>There is no such pair</h1>
    }
  `,
  styleUrl: './table.css',
  styles: `
    :host {
      display: block;
    }
    .about {
      max-width: 720px;
      margin: 6px 0 14px;
    }
    tbody th span {
      display: block;
      font-weight: 400;
      font-size: 13px;
    }
    td a {
      display: block;
    }
    path {
      fill: var(--sheet);
      fill-rule: evenodd;
      stroke: var(--ink);
      stroke-width: 1.2;
    }
  `,
})
export class ChecksPage {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));

  protected readonly rows = computed(() => {
    const records = this.keeper
      .documents()
      .records.filter((r) => r.pair === this.pairId() && r.stop === engineCheckStop)
      .toReversed();
    return bodies.map((b) => ({
      id: b.id,
      label: b.label.replace(/^Check: /, ''),
      purpose: b.purpose,
      ...drawingOf(b),
      measures: `${show(b.width, 1)} × ${show(b.depth, 1)} × ${show(b.height, 1)} mm, ${show(b.volume, 0)} mm³`,
      records: records
        .filter((r) => r.trial.specimen.id === b.id)
        .map((r) => ({ id: r.id, words: r.trial.title.split(', ').slice(1).join(', ') || 'plain' })),
    }));
  });

  protected plan(specimen: string): void {
    const pair = this.pair();
    const context = this.keeper.contextOf(pair);
    const trial = pair && context && engineCheck(specimen, context, pair.baseline);
    if (pair && trial) void this.router.navigate(['/trial', this.maker.open(pair.id, engineCheckStop, trial)]);
  }
}
