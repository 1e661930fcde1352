import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Checkbox } from 'primeng/checkbox';
import { InputText } from 'primeng/inputtext';
import { dayOf, listed, parse } from '#core/base';
import { factorOf } from '#core/factors';
import { newest, printsWith, tunedBaseline, withSetting, type PairRecord } from '#core/route';
import { settingOf, type SettingId, type Settings } from '#core/settings';
import { settingFaults, settingWords } from '#core/trial';
import { Keeper } from '../data/keeper';
import { littleByLittle } from '../ui/little-by-little';
import { SettingField } from '../ui/setting-field';

/** What a pair prints with: every setting with its value and where it is from. Here a baseline is kept. */
@Component({
  selector: 'st-values-page',
  imports: [Checkbox, FormsModule, InputText, RouterLink, SettingField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair() && context(); as c) {
      <h1>What this pair prints with</h1>
      <p class="soft">
        {{ label() }}. Every new trial starts from these values, and a plan that waits follows them. Where nothing is
        said below a value, it is a start value. A change of a settled value goes onto the tune sheet. To take values
        from a file, open it under <a routerLink="/files">Files</a> and press “Learn a pair from it”.
      </p>
      <div class="finds">
        <label for="find-value">find</label>
        <input pInputText id="find-value" [ngModel]="find()" (ngModelChange)="find.set($event)" autocomplete="off" />
        <p-checkbox inputId="own" [binary]="true" [ngModel]="own()" (ngModelChange)="own.set($event)" />
        <label for="own">only what is not a start value ({{ ownCount() }})</label>
      </div>
      <p class="said" role="status">
        @if (last(); as l) {
          {{ l.words }} <button type="button" class="act bare small" (click)="takeBack()">Take it back</button>
        }
      </p>
      @for (g of laidOut(); track g.name) {
        <section [attr.aria-labelledby]="'group-' + g.name">
          <h2 [id]="'group-' + g.name">{{ g.name }}</h2>
          <div class="rows">
            @for (r of g.rows; track r.setting) {
              <div class="row">
                <st-setting-field
                  [id]="r.setting"
                  [fieldId]="'value-' + r.setting"
                  [value]="r.value"
                  [context]="c"
                  [outside]="refused()[r.setting]?.why"
                  (changed)="put(r.setting, $event)"
                />
                <p class="source small">
                  @if (r.tuned; as t) {
                    @if (t.trial) {
                      <a [routerLink]="['/trial', t.trial]">{{ r.words }}</a>
                    } @else {
                      {{ r.words }}
                    }
                    @if (t.shakenBy) {
                      <span class="shaken">Shaken by {{ t.shakenBy }}.</span>
                    }
                  } @else if (r.source !== 'start') {
                    {{ r.words }}
                  }
                </p>
              </div>
            }
          </div>
        </section>
      } @empty {
        <p class="soft">
          {{
            find().trim()
              ? 'No setting is called so.'
              : 'All values are start values by now; change one, or settle a trial.'
          }}
        </p>
      }
    } @else {
      <h1>There is no such pair</h1>
      <p class="soft">It may have been removed. <a routerLink="/shelf">Go to the shelf</a> to make one.</p>
    }
  `,
  styles: `
    :host {
      display: block;
      padding: 20px 24px 40px;
    }
    .finds {
      display: flex;
      gap: 10px;
      align-items: center;
      margin-top: 12px;
    }
    .finds label {
      font-size: 13px;
    }
    .finds input {
      margin-right: 14px;
    }
    .said {
      position: sticky;
      top: 0;
      z-index: 1;
      min-height: 30px;
      margin: 4px 0 0;
      padding: 4px 0;
      background: var(--paper);
    }
    h2 {
      margin: 14px 0 6px;
      padding-bottom: 4px;
      border-bottom: 1px solid var(--line);
    }
    .rows {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
      gap: 10px 22px;
    }
    .row {
      min-width: 0;
    }
    .source {
      margin: 1px 0 0;
      overflow-wrap: anywhere;
    }
    .shaken {
      color: var(--shaken-ink);
    }
  `,
})
export class ValuesPage {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  protected readonly context = computed(() => this.keeper.contextOf(this.pair()));
  protected readonly label = computed(() => this.keeper.labelOf(this.pair()));
  protected readonly find = signal('');
  protected readonly own = signal(false);
  /** What was typed and cannot be, with why; the pair keeps its last good value. */
  protected readonly refused = linkedSignal<string, Partial<Record<SettingId, { value: unknown; why: string }>>>({
    source: this.pairId,
    computation: () => ({}),
  });
  /** The pair before each change made here, with what the last one did, in words. */
  private readonly before = linkedSignal<string, { pair: PairRecord; words: string }[]>({
    source: this.pairId,
    computation: () => [],
  });
  protected readonly last = computed(() => this.before().at(-1));

  private readonly rows = computed(() => {
    const [pair, context] = [this.pair(), this.context()];
    return pair && context ? printsWith(pair, context) : [];
  });
  protected readonly ownCount = computed(() => this.rows().filter((r) => r.source !== 'start').length);
  protected readonly groups = computed(() => {
    const words = this.find().toLowerCase().split(/\s+/).filter(Boolean);
    const groups: { name: string; rows: ReturnType<typeof printsWith> }[] = [];
    for (const row of this.rows()) {
      const { label, group } = settingOf(row.setting);
      const refused = this.refused()[row.setting];
      if (this.own() && row.source === 'start' && !refused) continue;
      if (!words.every((w) => `${group} ${label}`.toLowerCase().includes(w))) continue;
      const shown = refused ? { ...row, value: refused.value as typeof row.value } : row;
      const known = groups.find((g) => g.name === group);
      if (known) known.rows.push(shown);
      else groups.push({ name: group, rows: [shown] });
    }
    return groups;
  });
  protected readonly laidOut = littleByLittle(this.groups, this.pairId);

  protected put(id: SettingId, value: Settings[SettingId]): void {
    const [pair, context] = [this.pair(), this.context()];
    if (!pair || !context) return;
    const why = this.faultOf(id, value);
    this.refused.update(({ [id]: _, ...rest }) => (why === undefined ? rest : { ...rest, [id]: { value, why } }));
    if (why !== undefined) return;
    const old = tunedBaseline(pair.baseline, pair.values)[id];
    if (old === value) return;
    const on = dayOf();
    const next = withSetting(pair, context, id, value, { from: 'typed', on });
    if (!this.keeper.save('pairs', next)) return;
    const hit = newest(next.values).filter((v) => v.state === 'shaken' && !pair.values.includes(v));
    const shakes = hit.length > 0 ? ` It shakes ${listed(hit.map((v) => factorOf(v.factor)?.label ?? v.factor))}.` : '';
    const words = `${settingOf(id).label} ${settingWords(id, old)} → ${settingWords(id, value)}.${shakes}`;
    this.before.update((all) => [...all, { pair, words }]);
  }

  /** Why a value cannot be this pair’s: outside what can be set, or against what printer and filament allow. */
  private faultOf(id: SettingId, value: Settings[SettingId]): string | undefined {
    const parsed = parse<unknown>(settingOf(id).schema, value, id);
    if (!parsed.ok) return `${parsed.faults[0]!.wrong}; ${parsed.faults[0]!.right}`;
    const [pair, context] = [this.pair()!, this.context()!];
    const settings = tunedBaseline(pair.baseline, pair.values);
    const known = new Set(settingFaults(settings, context).map((f) => f.wrong));
    const fault = settingFaults({ ...settings, [id]: value }, context).find((f) => !known.has(f.wrong));
    return fault && `${fault.wrong}; ${fault.right}`;
  }

  protected takeBack(): void {
    const last = this.last();
    if (last && this.keeper.save('pairs', last.pair)) this.before.update((all) => all.slice(0, -1));
  }
}
