import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { reachOf, zoneHeight, type Printer } from '#core/context';
import { NumberField } from '../ui/number-field';

type Zone = Printer['keepOut'][number];

/** Where the bed must stay free: clips, screws, a worn spot. Nothing is ever extruded there, and the head passes above. */
@Component({
  selector: 'st-keep-out-list',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-labelledby="keep-out">
      <h2 id="keep-out">Keep-out zones of the bed</h2>
      <svg [attr.viewBox]="view()" width="120" height="120" aria-hidden="true">
        @if (printer().bed.shape === 'round') {
          <circle [attr.r]="reach().x1" />
        } @else {
          <rect
            [attr.x]="reach().x0"
            [attr.y]="-reach().y1"
            [attr.width]="reach().x1 - reach().x0"
            [attr.height]="reach().y1 - reach().y0"
          />
        }
        @for (z of printer().keepOut; track $index) {
          <rect class="zone" [attr.x]="z.x" [attr.y]="-z.y - z.depth" [attr.width]="z.width" [attr.height]="z.depth" />
        }
      </svg>
      <div class="zones">
        @for (z of printer().keepOut; track $index) {
          <div class="zone-row" role="group" [attr.aria-label]="z.label">
            <span>{{ z.label }}</span>
            @for (f of fields; track f.key) {
              <st-number-field
                [fieldId]="'zone-' + $index + '-' + f.key + '-' + z.label"
                [label]="f.label"
                unit="mm"
                [value]="f.key === 'height' ? tall(z) : z[f.key]"
                (changed)="set(z, f.key, $event)"
              />
            }
            <button type="button" class="act bare" (click)="remove(z)" [attr.aria-label]="'Remove ' + z.label">
              <i class="pi pi-times" aria-hidden="true"></i>
            </button>
          </div>
        } @empty {
          <p class="soft small">
            None. Name clips and other places where nothing may be printed; the head passes over them.
          </p>
        }
        <button type="button" class="act" (click)="add()"><i class="pi pi-plus" aria-hidden="true"></i>Zone</button>
      </div>
    </section>
  `,
  styles: `
    section {
      display: grid;
      grid-template-columns: 130px minmax(0, 1fr);
      gap: 8px 20px;
    }
    h2 {
      grid-column: 1 / -1;
      font-size: 14px;
      border-bottom: 1px solid var(--line);
      padding-bottom: 6px;
    }
    .zone-row {
      display: grid;
      grid-template-columns: 90px repeat(5, minmax(72px, 110px)) auto;
      gap: 12px;
      align-items: center;
    }
    .zones {
      display: grid;
      gap: 6px;
      justify-items: start;
      align-content: start;
    }
    svg rect,
    svg circle {
      fill: var(--sheet);
      stroke: var(--ink);
      stroke-width: 1;
      vector-effect: non-scaling-stroke;
    }
    svg .zone {
      fill: var(--line-strong);
    }
  `,
})
export class KeepOutList {
  readonly printer = input.required<Printer>();
  readonly changed = output<Zone[]>();
  protected readonly fields = [
    { key: 'x', label: 'from X' },
    { key: 'y', label: 'from Y' },
    { key: 'width', label: 'width' },
    { key: 'depth', label: 'depth' },
    { key: 'height', label: 'height' },
  ] as const;
  protected readonly tall = zoneHeight;
  protected readonly reach = computed(() => reachOf(this.printer()));
  protected readonly view = computed(() => {
    const r = this.reach();
    return `${r.x0 - 4} ${-r.y1 - 4} ${r.x1 - r.x0 + 8} ${r.y1 - r.y0 + 8}`;
  });

  protected set(zone: Zone, key: (typeof this.fields)[number]['key'], value: number): void {
    this.changed.emit(this.printer().keepOut.map((z) => (z === zone ? { ...z, [key]: value } : z)));
  }

  protected add(): void {
    const r = this.reach();
    const taken = this.printer().keepOut.map((z) => z.label);
    let n = taken.length + 1;
    while (taken.includes(`zone ${n}`)) n++;
    this.changed.emit([...this.printer().keepOut, { label: `zone ${n}`, x: r.x0, y: r.y0, width: 10, depth: 10 }]);
  }

  protected remove(zone: Zone): void {
    this.changed.emit(this.printer().keepOut.filter((z) => z !== zone));
  }
}
