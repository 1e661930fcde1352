import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Select } from 'primeng/select';
import { show } from '#core/base';
import { bottomOf, layerFrom } from '#core/carry';
import { bordersOf, withBorders } from '#core/specimens';
import { TrialDesk } from './trial-desk';

/** Where each band of a carried sweep begins: a list of layers or of heights, typed at once. */
@Component({
  selector: 'st-band-borders',
  imports: [FormsModule, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label for="borders">bands begin at</label>
    <div class="both">
      <input
        id="borders"
        [value]="inHand() ?? typed() ?? shown()"
        (focus)="inHand.set(textOf($event))"
        (blur)="inHand.set(undefined)"
        (change)="put(textOf($event))"
        [attr.aria-invalid]="problem() !== undefined"
        aria-describedby="borders-say"
        autocomplete="off"
        spellcheck="false"
      />
      <p-select
        [options]="units"
        optionLabel="label"
        optionValue="id"
        [ngModel]="unit()"
        (ngModelChange)="inUnit($event)"
        ariaLabel="Borders in"
      />
    </div>
    <span id="borders-say" class="say" [class.wrong]="problem()">{{ problem() ?? words() }}</span>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto auto 17px;
      align-content: start;
      width: 350px;
    }
    label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .both {
      display: flex;
      gap: 6px;
    }
    input {
      flex: 1;
      min-width: 0;
      font: inherit;
      font-family: var(--figures);
      font-size: 13.5px;
      padding: 5px 8px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      color: var(--ink);
    }
    input[aria-invalid='true'] {
      border-color: var(--fault);
    }
    .say {
      font-size: 12px;
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .say:not(.wrong) {
      color: var(--ink-soft);
    }
  `,
})
export class BandBorders {
  private readonly desk = inject(TrialDesk);
  /** Words that belong to the trial in hand: with another one they are gone. */
  private readonly ofTrial = () =>
    linkedSignal({ source: this.desk.id, computation: (): string | undefined => undefined });
  protected readonly unit = signal<'layer' | 'mm'>('layer');
  protected readonly units = [
    { id: 'layer', label: 'layers' },
    { id: 'mm', label: 'mm' },
  ];
  /** What stood there when the field was entered: nothing changes under the hand that types, whatever is made meanwhile. */
  protected readonly inHand = this.ofTrial();
  /** What was typed while the file was being made: taken once its layers are known. */
  private readonly waiting = this.ofTrial();
  /** What was typed and could not be taken. */
  protected readonly typed = this.ofTrial();
  protected readonly problem = this.ofTrial();

  private readonly trial = this.desk.trial;
  private readonly count = computed(() => this.trial()?.axes[0]?.levels.length ?? 1);
  private readonly borders = computed(() => {
    const trial = this.trial();
    return trial ? bordersOf(trial.specimen.params as Parameters<typeof bordersOf>[0], this.count()) : [];
  });
  private readonly layers = computed(() => this.desk.inspection()?.layers ?? []);

  protected readonly shown = computed(() =>
    this.borders()
      .slice(0, -1)
      .map((z) => (this.unit() === 'mm' ? show(z, 2) : this.layers().length > 0 ? layerFrom(this.layers(), z) : '…'))
      .join(' '),
  );

  protected readonly words = computed(() => {
    const layers = this.layers();
    if (this.waiting() !== undefined) return 'taken once the file is made';
    if (layers.length === 0) return '';
    const last = layers.findLastIndex((l) => l.z - l.height / 2 < this.borders().at(-1)!) + 1;
    return this.unit() === 'layer'
      ? `the last ends with layer ${last} of ${layers.length}`
      : `the last ends at ${show(this.borders().at(-1)!, 2)} mm`;
  });

  private readonly takeWaiting = effect(() => {
    const text = this.waiting();
    if (text === undefined || this.layers().length === 0) return;
    untracked(() => this.put(text));
  });

  protected inUnit(unit: 'layer' | 'mm'): void {
    this.unit.set(unit);
    for (const said of [this.typed, this.problem, this.waiting]) said.set(undefined);
  }

  protected textOf(event: Event): string {
    return (event.target as HTMLInputElement).value;
  }

  protected put(text: string): void {
    this.waiting.set(undefined);
    const fail = (words: string) => {
      this.typed.set(text);
      this.problem.set(words);
    };
    const parts = text.split(/[\s;]+|,\s+/).filter((p) => p !== '');
    const figures = parts.map((p) => Number(p.replace(',', '.')));
    const wrong = parts.find((_, i) => !Number.isFinite(figures[i]));
    if (wrong !== undefined) return fail(`${wrong} is no figure; give figures with blanks between`);
    if (figures.length !== this.count())
      return fail(`${figures.length} figures for ${this.count()} bands; give one for each`);
    const layers = this.layers();
    if (this.unit() === 'layer' && layers.length === 0) {
      this.typed.set(text);
      this.problem.set(undefined);
      this.waiting.set(text);
      return;
    }
    if (this.unit() === 'layer') {
      const off = figures.find((n) => !Number.isInteger(n) || n < 1 || n > layers.length);
      if (off !== undefined) return fail(`there is no layer ${show(off)}; give 1 to ${layers.length}`);
    }
    const starts = this.unit() === 'mm' ? figures : figures.map((n) => bottomOf(layers, n));
    const end = this.borders().at(-1)!;
    const at = [...starts, end].findIndex((z, i, all) => i > 0 && !(z > all[i - 1]! + 1e-6));
    if (at > 0)
      return fail(
        at === starts.length ? 'the last band begins above its end' : 'each band begins above the one before',
      );
    this.typed.set(undefined);
    this.problem.set(undefined);
    this.desk.changeTrial('borders of the bands', (t) => ({
      ...t,
      specimen: { ...t.specimen, params: withBorders(t.specimen.params, [...starts, end]) },
    }));
  }
}
