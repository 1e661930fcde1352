import { variedIn } from '#core/plan';
import { ChangeDetectionStrategy, Component, computed, inject, model, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Drawer } from 'primeng/drawer';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import { listed } from '#core/base';
import { factorOf } from '#core/factors';
import { settingIds, settingOf, type SettingId, type Settings } from '#core/settings';
import { personal } from '#core/trial';
import { Keeper } from '../data/keeper';
import { SettingField } from '../ui/setting-field';
import { littleByLittle } from '../ui/little-by-little';
import { TrialDesk } from './trial-desk';

/** Every process setting of the print: the pair's baseline, and what this trial holds otherwise. */
@Component({
  selector: 'st-settings-drawer',
  imports: [Drawer, InputText, SettingField, Select, FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-drawer
      [(visible)]="open"
      position="right"
      header="Settings of this print"
      ariaCloseLabel="Close the settings"
      [style]="{ width: 'min(720px, 96vw)' }"
    >
      <p class="soft small">
        Values of this trial only; the pair’s baseline stays. A changed value is marked and can be put back.
      </p>
      @if (open()) {
        @if (personal().length > 0 && !desk.locked()) {
          <button type="button" class="act" (click)="desk.keepAsBaseline()">
            Make {{ personalWords() }} the pair’s baseline
          </button>
        }
        <label class="find" for="find-setting"
          >find
          <input pInputText id="find-setting" [ngModel]="find()" (ngModelChange)="find.set($event)" autocomplete="off"
        /></label>
        @for (g of laidOut(); track g.name) {
          <h3>{{ g.name }}</h3>
          <div class="fields">
            @for (s of g.rows; track s.id) {
              <div class="setting" [class.own]="s.own">
                <st-setting-field
                  [id]="s.id"
                  [fieldId]="'set-' + s.id"
                  [value]="s.value"
                  [context]="s.context"
                  [outside]="faultOf(s.id)"
                  [disabled]="s.varied || desk.locked()"
                  (changed)="set(s.id, $event)"
                />
                @if (s.varied) {
                  <span class="note">varied by this trial</span>
                } @else if (s.own && !desk.locked()) {
                  <button type="button" class="step" (click)="putBack(s.id)">back to the baseline</button>
                }
              </div>
            }
            @if (g.name === 'tools') {
              @for (t of otherTools(); track t.tool) {
                <div class="setting">
                  <label [attr.for]="'tool-' + t.tool">filament in tool {{ t.tool + 1 }}</label>
                  <p-select
                    [inputId]="'tool-' + t.tool"
                    [options]="filaments()"
                    optionLabel="name"
                    optionValue="id"
                    [ngModel]="t.filament"
                    (ngModelChange)="setFilament(t.tool, $event)"
                    [disabled]="desk.locked()"
                    [ariaLabel]="'Filament in tool ' + (t.tool + 1)"
                  />
                </div>
              }
            }
          </div>
        } @empty {
          <p class="soft">No setting is called so.</p>
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
    .find {
      display: inline-flex;
      gap: 8px;
      align-items: center;
      margin: 8px 0 0;
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
    .note {
      font-size: 12px;
      color: var(--ink-soft);
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
  private readonly keeper = inject(Keeper);
  readonly open = model(false);

  protected readonly groups = computed(() => {
    const trial = this.desk.trial();
    if (!trial) return [];
    const varied = new Set(variedIn(trial.axes).map((id) => factorOf(id)?.setting));
    const groups: { name: string; rows: ReturnType<typeof entry>[] }[] = [];
    const entry = (id: SettingId) => {
      const s = settingOf(id);
      const own = trial.frozen[id] !== undefined && trial.frozen[id] !== trial.baseline[id];
      return {
        id,
        label: s.label,
        context: trial.context,
        value: trial.frozen[id] ?? trial.baseline[id],
        own,
        varied: varied.has(id),
      };
    };
    for (const id of settingIds) {
      const name = settingOf(id).group;
      const group = groups.find((g) => g.name === name);
      if (group) group.rows.push(entry(id));
      else groups.push({ name, rows: [entry(id)] });
    }
    return groups;
  });

  protected readonly find = signal('');
  /** The groups with the settings whose names have the words looked for. */
  protected readonly shown = computed(() => {
    const words = this.find().toLowerCase().split(/\s+/).filter(Boolean);
    if (words.length === 0) return this.groups();
    return this.groups().flatMap((g) => {
      const rows = g.rows.filter((s) => words.every((w) => `${g.name} ${s.label}`.toLowerCase().includes(w)));
      return rows.length > 0 ? [{ ...g, rows }] : [];
    });
  });
  protected readonly laidOut = littleByLittle(this.shown, this.open);

  protected readonly filaments = computed(() =>
    this.keeper.documents().filaments.map(({ id, name }) => ({ id, name })),
  );
  protected readonly otherTools = computed(() => {
    const context = this.desk.trial()?.context;
    const count = context?.printer.tools ?? 1;
    return Array.from({ length: count - 1 }, (_, i) => ({
      tool: i + 1,
      filament: (context?.others?.[i] ?? context?.filament)?.id,
    }));
  });

  protected setFilament(tool: number, id: string): void {
    const filament = this.keeper.find('filaments', id);
    if (!filament) return;
    this.desk.changeTrial(`filament in tool ${tool + 1}`, (t) => {
      const others = Array.from({ length: t.context.printer.tools - 1 }, (_, i) =>
        i === tool - 1 ? filament : (t.context.others?.[i] ?? t.context.filament),
      );
      return { ...t, context: { ...t.context, others } };
    });
  }

  /** What the person holds here, and not the test: only that can become the pair’s. */
  protected readonly personal = computed(() => {
    const trial = this.desk.trial();
    return trial ? (Object.keys(personal(trial)) as SettingId[]) : [];
  });
  protected readonly personalWords = computed(() => {
    const names = this.personal().map((id) => settingOf(id).label);
    return names.length > 3 ? `these ${names.length} values` : listed(names);
  });

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
