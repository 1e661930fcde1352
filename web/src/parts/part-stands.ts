import { ChangeDetectionStrategy, Component, computed, inject, model, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Select } from 'primeng/select';
import { show } from '#core/base';
import { units, type Unit } from '#core/part';
import { NumberField } from '../ui/number-field';
import { partFields } from './part-fields';
import { PartPlacing } from './part-placing';

/** Objects that are each given a tool; a file of more is printed by one. */
const MOST_OBJECTS = 12;

/** How a part stands: its unit, its turn, on which side it lies, and which tool prints which object of it. */
@Component({
  selector: 'st-part-stands',
  imports: [Checkbox, FormsModule, NumberField, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown)': 'key($event)' },
  template: `
    <section aria-labelledby="stands">
      <h2 id="stands">
        How it stands
        <span class="steps">
          <button type="button" class="act bare small" [disabled]="!place.undoable()" (click)="place.undo()">
            Undo
          </button>
          <button type="button" class="act bare small" [disabled]="!place.redoable()" (click)="place.redo()">
            Redo
          </button>
        </span>
      </h2>
      <div class="fields three">
        <div class="field">
          <span class="name">its figures are</span>
          <p-select
            inputId="unit"
            ariaLabel="its figures are"
            size="small"
            [options]="units"
            optionLabel="label"
            optionValue="mm"
            [ngModel]="pose()?.unit"
            (ngModelChange)="place.pose({ unit: $event })"
          />
          <span class="usual">{{ place.file()?.part?.said ? 'as the file says' : 'guessed from size' }}</span>
        </div>
        @if (objects().length > 1) {
          <div class="field">
            <span class="name">object</span>
            <p-select
              inputId="object"
              ariaLabel="object"
              size="small"
              [options]="objects()"
              optionLabel="label"
              optionValue="id"
              [ngModel]="pose()?.object"
              (ngModelChange)="place.pose({ object: $event })"
            />
          </div>
        }
        <st-number-field
          fieldId="scale"
          label="scale"
          unit="%"
          [shown]="100"
          [value]="pose()?.scale ?? 1"
          [bounds]="{ min: 0.01, max: 100 }"
          [outside]="bad()"
          (changed)="scale($event)"
        />
        <st-number-field
          fieldId="spin"
          label="turned"
          unit="°"
          [value]="pose()?.spin ?? 0"
          (changed)="place.pose({ spin: $event % 360 })"
        />
        <label class="tick">
          <p-checkbox [binary]="true" [ngModel]="pose()?.mirror" (ngModelChange)="place.pose({ mirror: $event })" />
          mirrored
        </label>
      </div>
      @if (tools().length > 0) {
        <ul class="tools" aria-label="Which tool prints which object">
          @for (t of tools(); track $index) {
            <li>
              <span class="dot" [style.background]="t.colour ?? null" aria-hidden="true"></span>
              <span class="named">{{ t.name }}</span>
              <p-select
                size="small"
                [options]="toolChoices()"
                optionLabel="label"
                optionValue="id"
                [ngModel]="t.tool"
                (ngModelChange)="useTool($index, $event)"
                [ariaLabel]="t.name + ' is printed by'"
              />
            </li>
          }
        </ul>
      }
      <div class="row">
        <button
          type="button"
          class="act small"
          [class.main]="picking()"
          [attr.aria-pressed]="picking()"
          (click)="picking.set(!picking())"
        >
          Press a face to lie on
        </button>
        <p-select
          class="grows"
          size="small"
          placeholder="or lie on …"
          [options]="lyings()"
          optionLabel="words"
          optionValue="id"
          [ngModel]="lies()"
          (ngModelChange)="lieOn($event)"
          ariaLabel="Lie on another side"
        />
      </div>
    </section>
  `,
  styles: [
    partFields,
    `
      .usual {
        font-size: 12px;
        color: var(--ink-soft);
      }
      .tick {
        display: flex;
        gap: 8px;
        align-items: center;
        padding-bottom: 6px;
      }
      .tools {
        list-style: none;
        margin: 0 0 6px;
        padding: 0;
        display: grid;
        gap: 4px;
      }
      .tools li {
        display: grid;
        grid-template-columns: 12px minmax(0, 1fr) 110px;
        gap: 8px;
        align-items: center;
        font-size: 13px;
      }
      .tools .named {
        overflow: hidden;
        text-overflow: ellipsis;
        white-space: nowrap;
      }
      .dot {
        width: 12px;
        height: 12px;
        border-radius: 50%;
        border: 1px solid var(--line-strong);
      }
      .three {
        grid-template-columns: repeat(3, minmax(0, 1fr));
      }
      .row {
        display: flex;
        gap: 8px;
        align-items: center;
      }
      .row .grows {
        flex: 1;
        min-width: 0;
      }
      .row button {
        white-space: nowrap;
      }
    `,
  ],
})
export class PartStands {
  /** Whether the next face pressed in the drawing is lain on. */
  readonly picking = model(false);
  protected readonly place = inject(PartPlacing);
  protected readonly units = (Object.keys(units) as Unit[]).map((u) => ({ label: u, mm: units[u] }));
  protected readonly bad = signal<string | undefined>(undefined);
  protected readonly pose = this.place.posed;

  protected readonly objects = computed(() => {
    const all = this.place.drawing()?.objects ?? [];
    const called = all.map(({ name }, i) => ({ id: i + 1, label: name ? `${i + 1} · ${name}` : `object ${i + 1}` }));
    return all.length > 1 ? [{ id: 0, label: 'all, as the file has them' }, ...called] : [];
  });

  /** Which tool prints which object, where the printer has several. */
  protected readonly tools = computed(() => {
    const [all, count] = [this.place.drawing()?.objects ?? [], this.place.context()?.printer.tools ?? 1];
    if (all.length < 2 || all.length > MOST_OBJECTS || count < 2 || this.pose()?.object !== 0) return [];
    const own = this.place.placing()?.tools ?? [];
    return all.map(({ name, colour }, i) => ({ name: name || `object ${i + 1}`, colour, tool: own[i] ?? 1 }));
  });
  protected readonly toolChoices = computed(() =>
    Array.from({ length: this.place.context()?.printer.tools ?? 1 }, (_, i) => ({ id: i + 1, label: `tool ${i + 1}` })),
  );
  protected useTool(object: number, tool: number): void {
    this.place.tools(this.tools().map((t, i) => (i === object ? tool : t.tool)));
  }

  protected readonly lyings = computed(() => {
    const [view, pose] = [this.place.drawing(), this.pose()];
    if (!view || !pose) return [];
    const by = pose.unit * pose.scale;
    return view.lyings.slice(0, 8).map((l, id) => ({
      id,
      up: l.up,
      words: `${show(l.height * by, 0)} mm high, about ${show(Number((l.overhang * by * by).toPrecision(2)), 0)} mm² over`,
    }));
  });

  protected readonly lies = computed(() => {
    const up = this.pose()?.up;
    return up && this.lyings().find((l) => l.up.every((v, k) => Math.abs(v - up[k]!) < 1e-3))?.id;
  });
  protected lieOn(id: number): void {
    const way = this.lyings().find((l) => l.id === id);
    if (way) this.place.pose({ up: way.up });
  }

  protected scale(value: number): void {
    const fits = value >= 0.01 && value <= 100;
    this.bad.set(fits ? undefined : 'give 1 to 10000 %');
    if (fits) this.place.pose({ scale: value });
  }

  protected key(event: KeyboardEvent): void {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
    if ((event.target as HTMLElement).tagName === 'INPUT') return;
    event.preventDefault();
    if (event.shiftKey) this.place.redo();
    else this.place.undo();
  }
}
