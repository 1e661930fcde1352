import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Checkbox } from 'primeng/checkbox';
import { duration, show, sizeWords } from '#core/base';
import type { KeptFile } from '#core/route';

import { Keeper } from '../data/keeper';
import { FileShelf } from '../data/file-shelf';

/** Files sliced elsewhere: taken in, checked, learned from, compared, and given a sweep. */
@Component({
  selector: 'st-files-page',
  imports: [RouterLink, Checkbox, FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1>Files</h1>
    <p class="soft">
      G-code from your own slicing program: see what it does{{ pair() && ' on ' + pair() }}, learn a pair from it, carry
      a sweep into it, or compare several. Parts of your own (STL, OBJ, 3MF): made here at every level. Drop files
      anywhere; they stay in this browser.
    </p>
    <div class="bar">
      <button type="button" class="act main" (click)="chooser.click()">Open files</button>
      <input
        #chooser
        type="file"
        class="visually-hidden"
        multiple
        accept=".gcode,.gco,.g,.nc,.gz,.stl,.obj,.3mf,text/plain"
        aria-label="Files to take in"
        (change)="open($event)"
      />
      <button type="button" class="act" (click)="shelf.takeSamples()">Take the sample files</button>
      <button type="button" class="act" (click)="shelf.takeSamples('parts')">Take the sample parts</button>
      @if (chosen().length > 1) {
        <a class="act" routerLink="/files/compare" [queryParams]="{ f: chosen().join(',') }"
          >Compare {{ chosen().length }} files</a
        >
      } @else if ((shelf.files()?.length ?? 0) > 1) {
        <span class="soft small">Tick two or more to compare them.</span>
      }
      @if (shelf.taking(); as t) {
        <span role="status">Taking {{ t.name }} in{{ t.share > 0 ? ', ' + figure(100 * t.share) + ' %' : ' …' }}</span>
        <button type="button" class="act bare" (click)="shelf.stop()">Cancel</button>
      }
    </div>
    @for (f of shelf.faults(); track f) {
      <p class="wrong" role="alert">{{ f }}</p>
    }
    @if (shelf.parts()?.length) {
      <h2>Parts</h2>
      <ul class="parts">
        @for (p of shelf.parts(); track p.hash) {
          <li>
            <a [routerLink]="['/parts', p.hash]">{{ p.name }}</a>
            <span class="soft small figures">{{ trianglesOf(p) }}</span>
            <button
              type="button"
              class="act bare"
              (click)="shelf.forget(p.hash)"
              [attr.aria-label]="'Forget ' + p.name"
            >
              <i class="pi pi-trash" aria-hidden="true"></i>
            </button>
          </li>
        }
      </ul>
    }
    @if (shelf.files(); as files) {
      @if (files.length > 0) {
        <h2>G-code</h2>
        <table>
          <thead>
            <tr>
              <th><span class="visually-hidden">compare</span></th>
              <th>file</th>
              <th>size</th>
              <th>time</th>
              <th>filament</th>
              <th>layers</th>
              <th>to look at</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            @for (f of rows(); track f.hash) {
              <tr>
                <td>
                  <p-checkbox
                    [binary]="true"
                    [ngModel]="chosen().includes(f.hash)"
                    (ngModelChange)="tick(f.hash)"
                    [ariaLabel]="'Compare ' + f.name"
                  />
                </td>
                <th scope="row">
                  <a [routerLink]="['/files', f.hash]">{{ f.name }}</a>
                </th>
                <td class="figures">{{ f.size }}</td>
                @if (f.inspection; as i) {
                  <td class="figures">{{ f.time }}</td>
                  <td class="figures">{{ f.mass }}</td>
                  <td class="figures">{{ i.layers.length }}</td>
                  <td>{{ f.findings }}</td>
                } @else {
                  <td colspan="4" class="soft">{{ f.state }}</td>
                }
                <td>
                  <button
                    type="button"
                    class="act bare"
                    (click)="shelf.forget(f.hash)"
                    [attr.aria-label]="'Forget ' + f.name"
                  >
                    <i class="pi pi-trash" aria-hidden="true"></i>
                  </button>
                </td>
              </tr>
            }
          </tbody>
        </table>
      } @else if (!shelf.parts()?.length) {
        <p class="empty">
          No file yet. Open one, drop one here, or take the samples to see what can be done with them.
        </p>
      }
    }
  `,
  styleUrl: '../route/table.css',
  styles: `
    :host {
      display: block;
      max-width: 1080px;
    }
    .bar {
      display: flex;
      gap: 10px;
      align-items: center;
      margin: 16px 0;
    }
    td.figures {
      white-space: nowrap;
    }
    .parts {
      list-style: none;
      margin: 6px 0 18px;
      padding: 0;
    }
    .parts li {
      display: flex;
      align-items: baseline;
      gap: 14px;
      border-bottom: 1px solid var(--line);
      padding: 2px 0;
    }
    .parts a {
      font-weight: 560;
      overflow-wrap: anywhere;
    }
    .parts button {
      margin-left: auto;
    }
    tbody th {
      overflow-wrap: anywhere;
    }
    .empty {
      padding: 36px;
      border: 1.5px dashed var(--line);
      border-radius: 6px;
      text-align: center;
      color: var(--ink-soft);
    }
  `,
})
export class FilesPage {
  protected readonly shelf = inject(FileShelf);
  private readonly keeper = inject(Keeper);
  private readonly router = inject(Router);
  protected readonly chosen = signal<string[]>([]);
  protected readonly pair = computed(() => this.keeper.labelOf(this.keeper.currentPair()));

  constructor() {
    void this.shelf.load();
    effect(() => {
      const context = this.keeper.contextOf(this.keeper.currentPair());
      const files = this.shelf.files();
      if (context && files)
        this.shelf.check(
          files.map((f) => f.hash),
          context,
        );
    });
  }

  protected trianglesOf({ part, length }: KeptFile): string {
    return `${(part?.triangles ?? 0).toLocaleString('en')} triangles · ${sizeWords(length)}`;
  }

  protected figure(v: number): string {
    return show(v, 0);
  }

  protected readonly rows = computed(() =>
    (this.shelf.files() ?? []).map((f) => {
      const checked = this.shelf.checked(f.hash);
      const inspection = checked.state === 'checked' ? checked.inspection : undefined;
      const found = (severity: string) => inspection?.findings.filter((x) => x.severity === severity).length ?? 0;
      const [stops, warnings, notes] = [found('stop'), found('warn'), found('note')];
      return {
        ...f,
        size: sizeWords(f.length),
        inspection,
        time: inspection && duration(inspection.time),
        mass: inspection && `${show(inspection.filament.mass, 1)} g`,
        findings: stops
          ? `${stops} against printing it`
          : warnings
            ? `${warnings} to look at`
            : notes
              ? notes === 1
                ? '1 note'
                : `${notes} notes`
              : 'nothing',
        state:
          checked.state === 'refused'
            ? checked.faults[0]
            : checked.state === 'working'
              ? `${checked.progress.stage} ${show((100 * checked.progress.done) / Math.max(1, checked.progress.of), 0)} %`
              : 'not checked yet',
      };
    }),
  );

  protected tick(hash: string): void {
    this.chosen.update((c) => (c.includes(hash) ? c.filter((h) => h !== hash) : [...c, hash].slice(-12)));
  }

  protected async open(event: Event): Promise<void> {
    const input = event.target as HTMLInputElement;
    const taken = await this.shelf.take([...(input.files ?? [])]);
    input.value = '';
    const [only] = taken;
    if (taken.length === 1 && only) void this.router.navigate([only.part ? '/parts' : '/files', only.hash]);
  }
}
