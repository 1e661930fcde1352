import { ChangeDetectionStrategy, Component, computed, inject, model } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Drawer } from 'primeng/drawer';
import { Select } from 'primeng/select';
import { factorOf } from '#core/factors';
import { settingIds, settingOf, type SettingId, type Settings } from '#core/settings';
import { NumberField } from '../ui/number-field';
import { TrialDesk } from './trial-desk';

/** Every process setting of the print: the pair's baseline, and what this trial holds otherwise. */
@Component({
  selector: 'st-settings-drawer',
  imports: [Drawer, NumberField, Select, FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-drawer
      [(visible)]="open"
      position="right"
      header="Settings of this print"
      [style]="{ width: 'min(720px, 96vw)' }"
    >
      <p class="soft small">
        Values of this trial only; the pair’s baseline stays. A changed value is marked and can be put back.
      </p>
      @if (open()) {
        @if (own() > 0 && !desk.locked()) {
          <button type="button" class="act" (click)="desk.keepAsBaseline()">
            Make {{ own() === 1 ? 'this value' : 'these ' + own() + ' values' }} the pair’s baseline
          </button>
        }
        @for (g of groups(); track g.name) {
          <h3>{{ g.name }}</h3>
          <div class="fields">
            @for (s of g.settings; track s.id) {
              <div class="setting" [class.own]="s.own">
                @if (s.choices) {
                  <label [attr.for]="'set-' + s.id">{{ s.label }}</label>
                  <p-select
                    [inputId]="'set-' + s.id"
                    [options]="$any(s.choices)"
                    [ngModel]="s.value"
                    (ngModelChange)="set(s.id, $event)"
                    [disabled]="s.varied || desk.locked()"
                    [ariaLabel]="s.label"
                  />
                } @else {
                  <st-number-field
                    [fieldId]="'set-' + s.id"
                    [label]="s.label"
                    [unit]="s.unit"
                    [shown]="s.shown"
                    [usual]="s.usual"
                    [value]="$any(s.value)"
                    [outside]="faultOf(s.id)"
                    [disabled]="s.varied || desk.locked()"
                    (changed)="set(s.id, $event)"
                  />
                }
                @if (s.varied) {
                  <span class="note">varied by this trial</span>
                } @else if (s.own && !desk.locked()) {
                  <button type="button" class="back" (click)="putBack(s.id)">back to the baseline</button>
                }
              </div>
            }
          </div>
        }
      }
    </p-drawer>
  `,
  styles: `
    h3 {
      margin: 16px 0 8px;
      font-size: 14px;
      font-weight: 640;
      border-bottom: 1px solid var(--line);
      padding-bottom: 4px;
    }
    .fields {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr));
      gap: 6px 16px;
    }
    .setting {
      display: grid;
      align-content: start;
    }
    .own {
      border-left: 2px solid var(--madder);
      padding-left: 8px;
    }
    label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .note,
    .back {
      font-size: 12px;
      color: var(--ink-soft);
    }
    .back {
      justify-self: start;
      border: 0;
      padding: 0;
      background: none;
      color: var(--madder);
      text-decoration: underline;
      cursor: pointer;
    }
    @media (max-width: 760px) {
      .fields {
        grid-template-columns: 1fr 1fr;
      }
    }
  `,
})
export class SettingsDrawer {
  protected readonly desk = inject(TrialDesk);
  readonly open = model(false);

  protected readonly groups = computed(() => {
    const trial = this.desk.record()?.trial;
    if (!trial) return [];
    const varied = new Set(trial.axes.map((a) => factorOf(a.factor)?.setting));
    const groups: { name: string; settings: ReturnType<typeof entry>[] }[] = [];
    const entry = (id: SettingId) => {
      const s = settingOf(id);
      const own = trial.frozen[id] !== undefined && trial.frozen[id] !== trial.baseline[id];
      return {
        id,
        label: s.label,
        unit: s.unit,
        shown: s.shown ?? 1,
        usual: s.usual?.(trial.context),
        choices: s.choices,
        value: trial.frozen[id] ?? trial.baseline[id],
        own,
        varied: varied.has(id),
      };
    };
    for (const id of settingIds) {
      const name = settingOf(id).group;
      const group = groups.find((g) => g.name === name);
      if (group) group.settings.push(entry(id));
      else groups.push({ name, settings: [entry(id)] });
    }
    return groups;
  });

  protected readonly own = computed(() =>
    this.groups().reduce((n, g) => n + g.settings.filter((s) => s.own).length, 0),
  );

  protected faultOf(id: SettingId): string | undefined {
    const f = this.desk.faults().find((fault) => fault.at === `baseline.${id}` || fault.at === `trial.frozen.${id}`);
    return f && `${f.wrong}; ${f.right}`;
  }

  protected set(id: SettingId, value: Settings[SettingId]): void {
    this.desk.changeTrial(settingOf(id).label, (t) => ({ ...t, frozen: { ...t.frozen, [id]: value } }));
  }

  protected putBack(id: SettingId): void {
    this.desk.changeTrial(settingOf(id).label, (t) => {
      const frozen = { ...t.frozen };
      delete frozen[id];
      return { ...t, frozen };
    });
  }
}
