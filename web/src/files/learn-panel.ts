import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  inject,
  input,
  signal,
  type OnInit,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { Select } from 'primeng/select';
import { Checkbox } from 'primeng/checkbox';
import { from, switchMap } from 'rxjs';
import { dayOf, sentence, show, type Progress } from '#core/base';
import type { Learnt, LearntValue } from '#core/carry';
import { tunedBaseline, withSetting, type Origin } from '#core/route';
import { settingOf, type SettingId, type Settings } from '#core/settings';
import { settingFaults, settingWords } from '#core/trial';
import { Keeper } from '../data/keeper';
import { WorkerPool } from '../work/worker-pool';
import { Limit } from '../ui/limit';

/** A pair as a file shows it: each value with how sure it is, to be corrected and saved. */
@Component({
  selector: 'st-learn-panel',
  imports: [Checkbox, FormsModule, Limit, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-labelledby="learnt">
      <h2 id="learnt">A pair learnt from this file</h2>
      @if (progress(); as p) {
        <p role="status">{{ p.stage }} … <progress [value]="p.done" [max]="p.of"></progress></p>
      }
      @for (f of faults(); track f) {
        <p class="wrong" role="alert">{{ f }}</p>
      }
      @if (learnt(); as l) {
        <p class="soft small">
          Correct what is wrong, then make a pair of its own of it, or take the marked values into the pair in hand:
          your own prints will behave like this file.
        </p>
        <div class="names">
          <label>printer <input [value]="printer()" (input)="printer.set(text($event))" [stLimit]="60" /></label>
          <label>filament <input [value]="filament()" (input)="filament.set(text($event))" [stLimit]="60" /></label>
          <button type="button" class="act main" (click)="save()" [disabled]="wrong().size > 0">Save as a pair</button>
          @if (pair()) {
            <button type="button" class="act" (click)="takeIn()" [disabled]="wrong().size > 0 || !marked().length">
              Take {{ marked().length }} {{ marked().length === 1 ? 'value' : 'values' }} into {{ pairLabel() }}
            </button>
          }
        </div>
        @if (l.others.length > 0) {
          <p class="soft small">{{ others() }}</p>
        }
        <div class="values">
          @for (v of rows(); track v.setting) {
            <div class="value" [class.bad]="wrong().has(v.setting)">
              <label [for]="v.setting"
                >{{ v.label }} <span class="soft">{{ v.unit }}</span></label
              >
              @if (v.choices) {
                <p-select
                  [inputId]="v.setting"
                  size="small"
                  [options]="v.choices"
                  [ngModel]="v.shown"
                  (ngModelChange)="put(v, $event)"
                  [ariaLabel]="v.label"
                />
              } @else {
                <input [id]="v.setting" [value]="v.shown" (change)="put(v, text($event))" inputmode="decimal" />
              }
              <span class="small" [class.soft]="v.sure !== 'guess'" [class.wrong]="v.sure === 'guess'"
                >{{ v.sure }}: {{ v.from }}</span
              >
              @if (v.present !== undefined) {
                <span class="into small">
                  <p-checkbox
                    [inputId]="'into-' + v.setting"
                    [binary]="true"
                    [ngModel]="v.marked"
                    (ngModelChange)="mark(v.setting, $event)"
                  />
                  <label [for]="'into-' + v.setting">the pair has {{ v.present }}</label>
                </span>
              }
              @if (wrong().get(v.setting); as w) {
                <span class="small wrong" role="alert">{{ w }}</span>
              }
            </div>
          }
        </div>
        @for (o of l.open; track o) {
          <p class="soft small">{{ o }}; it starts from what is usual.</p>
        }
      }
    </section>
  `,
  styles: `
    section {
      margin-top: 24px;
      border-top: 1px solid var(--line);
    }
    .into {
      display: inline-flex;
      gap: 6px;
      align-items: center;
    }
    .names {
      display: flex;
      gap: 14px;
      align-items: flex-end;
      margin: 10px 0 16px;
      flex-wrap: wrap;
    }
    .names label {
      display: grid;
      gap: 2px;
      font-size: 13px;
    }
    .values {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
      gap: 12px 20px;
    }
    .value {
      display: grid;
      gap: 2px;
      font-size: 13.5px;
    }
    input {
      font: inherit;
      padding: 5px 8px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      color: var(--ink);
    }
    .values input {
      font-family: var(--figures);
    }
    .bad input {
      border-color: var(--fault);
    }
  `,
})
export class LearnPanel implements OnInit {
  readonly hash = input.required<string>();
  /** The name of the file, kept with what is learnt from it. */
  readonly name = input('');
  private readonly keeper = inject(Keeper);
  private readonly pool = inject(WorkerPool);
  private readonly router = inject(Router);
  private readonly destroyed = inject(DestroyRef);
  protected readonly progress = signal<Progress | undefined>({ stage: 'starting', done: 0, of: 1 });
  protected readonly faults = signal<string[]>([]);
  protected readonly learnt = signal<Learnt | undefined>(undefined);
  protected readonly printer = signal('');
  protected readonly filament = signal('');
  private readonly corrected = signal<Partial<Record<string, number | string>>>({});
  protected readonly wrong = signal<ReadonlyMap<string, string>>(new Map());

  /** The pair in hand, which can take values in. */
  protected readonly pair = this.keeper.currentPair;
  private readonly context = computed(() => this.keeper.contextOf(this.pair()));
  protected readonly pairLabel = computed(() => this.keeper.labelOf(this.pair()));
  /** What the person marked or unmarked; else what differs and is no guess is marked. */
  private readonly byHand = signal<Partial<Record<SettingId, boolean>>>({});

  ngOnInit(): void {
    const context = this.context();
    this.printer.set(`${context?.printer.name ?? 'Printer'}, learnt`);
    this.filament.set(`${context?.filament.name ?? 'Filament'}, learnt`);
    from(this.keeper.file(this.hash()))
      .pipe(
        switchMap((file) => this.pool.learn(file ?? new Blob(), context)),
        takeUntilDestroyed(this.destroyed),
      )
      .subscribe((said) => {
        if ('progress' in said) this.progress.set(said.progress);
        else {
          this.progress.set(undefined);
          if (said.result.ok) this.learnt.set(said.result.value);
          else this.faults.set(said.result.faults.map(sentence));
        }
      });
  }

  /** What the further tools print with, in words. */
  protected readonly others = computed(() =>
    (this.learnt()?.others ?? [])
      .map(
        ({ material, temperature: t }, k) =>
          `Tool ${k + 2} prints ${material}, ${show(t.min)} to ${show(t.max)} °C: a filament of its own is made for it.`,
      )
      .join(' '),
  );

  protected readonly rows = computed(() => {
    const pair = this.pair();
    const settings = pair && tunedBaseline(pair.baseline, pair.values);
    return (this.learnt()?.values ?? []).map((v) => {
      const setting = settingOf(v.setting);
      const value = this.corrected()[v.setting] ?? v.value;
      const differs = settings !== undefined && settings[v.setting] !== value;
      return {
        ...v,
        now: value as Settings[SettingId],
        present: differs ? settingWords(v.setting, settings[v.setting]) : undefined,
        marked: differs && (this.byHand()[v.setting] ?? v.sure !== 'guess'),
        label: setting.label,
        unit: setting.unit,
        choices: setting.choices?.map(String),
        shown: typeof value === 'number' ? show(value * (setting.shown ?? 1), 4) : value,
      };
    });
  });
  protected readonly marked = computed(() => this.rows().filter((r) => r.marked));

  protected mark(id: SettingId, on: boolean): void {
    this.byHand.update((all) => ({ ...all, [id]: on }));
    if (!on) this.wrong.update((all) => new Map([...all].filter(([key]) => key !== id)));
  }

  private origin(): Origin {
    return { from: 'learnt', on: dayOf(), words: this.name().slice(0, 200) };
  }

  /** Takes the marked values into the pair in hand; what its printer and filament forbid is said beside the value. */
  protected takeIn(): void {
    const [pair, context] = [this.pair(), this.context()];
    if (!pair || !context) return;
    const origin = this.origin();
    const next = this.marked().reduce((p, r) => withSetting(p, context, r.setting, r.now, origin), pair);
    const faults = settingFaults(tunedBaseline(next.baseline, next.values), context);
    const bad = this.marked().flatMap((r) => {
      const fault = faults.find((f) => f.at === `baseline.${r.setting}`);
      return fault ? [[r.setting, `${fault.wrong}; ${fault.right}`] as const] : [];
    });
    if (bad.length > 0) return void this.wrong.set(new Map(bad));
    if (this.keeper.save('pairs', next)) void this.router.navigate(['/pair', pair.id, 'values']);
  }

  protected text(event: Event): string {
    return (event.target as HTMLInputElement).value;
  }

  protected put(v: LearntValue, text: string): void {
    const setting = settingOf(v.setting);
    const value = setting.choices
      ? text
      : Number(text.trim().replace(',', '.').replace('−', '-')) / (setting.shown ?? 1);
    const parsed = setting.schema.safeParse(value);
    const wrong = new Map(this.wrong());
    if (parsed.success && text.trim() !== '') {
      wrong.delete(v.setting);
      this.corrected.update((c) => ({ ...c, [v.setting]: value }));
    } else
      wrong.set(
        v.setting,
        parsed.success ? 'give a figure' : (parsed.error.issues[0]?.message ?? 'give another figure'),
      );
    this.wrong.set(wrong);
  }

  /** A new printer, a new filament and their pair; nothing that stands on the shelf is changed. */
  protected save(): void {
    const learnt = this.learnt();
    if (!learnt) return;
    const [printer, filament] = [`printer-${crypto.randomUUID()}`, `filament-${crypto.randomUUID()}`];
    const baseline = { ...learnt.baseline, ...(this.corrected() as Partial<Settings>) };
    this.keeper.save('printers', { ...learnt.printer, id: printer, name: this.printer().trim() || 'Learnt printer' });
    const name = this.filament().trim() || 'Learnt filament';
    this.keeper.save('filaments', { ...learnt.filament, id: filament, name });
    const others = learnt.others.map((other, k) => {
      const own = { ...other, id: `filament-${crypto.randomUUID()}`, name: `${name}, tool ${k + 2}`.slice(0, 60) };
      this.keeper.save('filaments', own);
      return own.id;
    });
    const id = `${printer}-${filament}`.slice(0, 160);
    this.keeper.save('pairs', {
      kind: 'steady-tune/pair-record',
      version: 1,
      id,
      printer,
      filament,
      ...(others.length > 0 && { others }),
      baseline,
      origins: Object.fromEntries(learnt.values.map((v) => [v.setting, this.origin()])),
      values: [],
    });
    this.keeper.choosePair(id);
    void this.router.navigate(['/pair', id]);
  }
}
