import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { DomSanitizer } from '@angular/platform-browser';
import { RouterLink } from '@angular/router';
import { labelMap } from '#core/specimens';
import { planned } from '#core/trial';
import { download, fileName } from '../data/download';
import { Keeper } from '../data/keeper';

/** The label map at 1:1, to be printed and laid beside the specimen. */
@Component({
  selector: 'st-labels-page',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (svg(); as s) {
      <div class="top no-print">
        <h1>Label map</h1>
        <span class="gap"></span>
        <button type="button" class="act main" (click)="print()">
          <i class="pi pi-print" aria-hidden="true"></i>Print
        </button>
        <button type="button" class="act" (click)="save()"><i class="pi pi-download" aria-hidden="true"></i>SVG</button>
        <a class="act" [routerLink]="['/trial', id()]">Back to the sheet</a>
      </div>
      <p class="soft no-print">
        Print it at 100 %: the bar at its foot must measure 50 mm. On paper it lies beside the specimen at its true
        size.
      </p>
      <div class="paper">
        <img
          [src]="source()"
          [alt]="'Label map: ' + title()"
          [style.width.mm]="size()[0]"
          [style.height.mm]="size()[1]"
        />
      </div>
    } @else {
      <h1>There is no plan to label</h1>
      <p class="soft">The trial is not here, or its plan has faults. <a routerLink="/">Go to the route</a>.</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      align-content: start;
      padding: 20px 24px 40px;
    }
    .top {
      display: flex;
      gap: 10px;
      align-items: center;
    }
    .gap {
      flex: 1;
    }
    .paper {
      justify-self: start;
      padding: 8mm;
      background: #fff;
      border: 1px solid var(--line);
      max-width: 100%;
      overflow: auto;
    }
    img {
      display: block;
      max-width: none;
    }
    @media print {
      .no-print {
        display: none;
      }
      :host,
      .paper {
        padding: 0;
        border: 0;
      }
    }
  `,
})
export class LabelsPage {
  readonly id = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly sanitizer = inject(DomSanitizer);
  private readonly plan = computed(() => {
    const record = this.keeper.find('records', this.id());
    const plan = record && planned(record.trial);
    return plan?.ok ? plan.value : undefined;
  });
  protected readonly title = computed(() => this.plan()?.trial.title ?? '');
  protected readonly svg = computed(() => {
    const plan = this.plan();
    return plan && labelMap(plan.built, plan.cells, plan.trial.title);
  });
  protected readonly size = computed(() => {
    const found = /width="([\d.]+)mm" height="([\d.]+)mm"/.exec(this.svg() ?? '');
    return [Number(found?.[1] ?? 0), Number(found?.[2] ?? 0)];
  });
  // As an image the drawing can run no script, whatever a title says.
  protected readonly source = computed(() =>
    this.sanitizer.bypassSecurityTrustUrl(`data:image/svg+xml;charset=utf-8,${encodeURIComponent(this.svg() ?? '')}`),
  );

  protected print(): void {
    window.print();
  }

  protected save(): void {
    download(fileName(`${this.title()} labels`, 'svg'), this.svg() ?? '', 'image/svg+xml');
  }
}
