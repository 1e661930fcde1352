import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Checkbox } from 'primeng/checkbox';
import { Select } from 'primeng/select';
import { duration, show } from '#core/base';
import { everyFactor, factorOf } from '#core/factors';
import { isWhole, units, upOf, wholeCut, type Telling, type Unit } from '#core/part';
import { alongWords, type Axis } from '#core/plan';
import { freeStop, planOf, stopOfFactor, withPlan } from '#core/route';
import { partTrial, planned, titled, unseenOn, withPart, type Trial } from '#core/trial';
import { FileShelf } from '../data/file-shelf';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { NumberField } from '../ui/number-field';
import { SpecimenPicture } from '../ui/specimen-picture';
import { PartPlacing, type Doing, type Takes } from './part-placing';
import { PartSeen } from './part-seen';
import { PartSpace } from './part-space';

const shows: Record<Telling['shows'], (amount: number) => string> = {
  overhang: (v) => `the steepest overhang, ${show(v, 0)}°`,
  ceiling: (v) => `the widest span, ${show(v, 1)} mm`,
  slim: () => 'the slimmest wall',
  smallest: (v) => `the smallest layer, ${show(v, 0)} mm²`,
};

/** Objects that are each given a tool; a file of more is printed by one. */
const MOST_OBJECTS = 12;

const layouts: readonly Axis['along'][] = ['print', 'tile', 'height'];

/** A part of the user’s own: placed on the bed, cut to the piece that tells, and made a trial. */
@Component({
  selector: 'st-part-page',
  imports: [Checkbox, FormsModule, NumberField, PartSeen, PartSpace, RouterLink, Select, SpecimenPicture],
  providers: [PartPlacing],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown)': 'key($event)' },
  template: `
    @if (file(); as f) {
      <header>
        <p class="small"><a routerLink="/files">Files</a></p>
        <h1>{{ f.name }}</h1>
        <p class="soft figures size">{{ size() }}</p>
      </header>
      <div class="both">
        <section class="space" aria-label="The part on the bed">
          <st-part-space
            [view]="view()"
            [standing]="standing()"
            [printer]="place.context()?.printer"
            [words]="f.name + ' on the bed, ' + size()"
            [picking]="picking()"
            (laid)="lay($event)"
          />
          <label class="open">
            <span>look into it, up to {{ figure(opened() ?? height(), 1) }} mm</span>
            <input
              type="range"
              min="0"
              [max]="height()"
              step="any"
              [value]="opened() ?? height()"
              (input)="open($event)"
              aria-label="Look into it up to this height, mm"
            />
          </label>
        </section>
        <div class="side">
          @if (place.view().state === 'working') {
            <p role="status">Reading the part … {{ progress(place.view()) }}</p>
          }
          @for (w of wrong(); track w) {
            <p class="wrong" role="alert">{{ w }}</p>
          }
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
                <span class="usual">{{ f.part?.said ? 'as the file says' : 'guessed from size' }}</span>
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
                [outside]="bad().scale"
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
                <p-checkbox
                  [binary]="true"
                  [ngModel]="pose()?.mirror"
                  (ngModelChange)="place.pose({ mirror: $event })"
                />
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
          <section aria-labelledby="piece">
            <h2 id="piece">What of it is printed</h2>
            <div class="fields">
              <st-number-field
                fieldId="from"
                label="from height"
                unit="mm"
                [value]="cut().from"
                [outside]="bad().from"
                (changed)="between('from', $event)"
              />
              <st-number-field
                fieldId="to"
                label="to height"
                unit="mm"
                [value]="cut().to"
                [outside]="bad().to"
                (changed)="between('to', $event)"
              />
            </div>
            <div class="lie">
              @for (t of telling(); track t.words) {
                <button type="button" class="act bare small" (click)="place.cut(t.cut)">{{ t.words }}</button>
              }
              @if (place.placing()?.cut) {
                <button type="button" class="act bare small" (click)="place.cut(undefined)">all of it</button>
              }
            </div>
            <p class="takes" aria-live="polite">{{ takes() }}</p>
          </section>
          <section aria-labelledby="begin">
            <h2 id="begin">Begin a trial on it</h2>
            <div class="fields">
              <div class="field wide">
                <span class="name">what varies</span>
                <p-select
                  inputId="factor"
                  ariaLabel="what varies"
                  size="small"
                  [options]="factors()"
                  optionLabel="label"
                  optionValue="id"
                  [filter]="true"
                  filterBy="label"
                  [ngModel]="factor()"
                  (ngModelChange)="choose($event)"
                />
              </div>
              <div class="field">
                <span class="name">laid out</span>
                <p-select
                  inputId="along"
                  ariaLabel="laid out"
                  size="small"
                  [options]="ways()"
                  optionLabel="label"
                  optionValue="id"
                  [ngModel]="along()"
                  (ngModelChange)="along.set($event)"
                />
              </div>
            </div>
            @if (unseen(); as u) {
              <p class="unseen" role="status">It will not show here: {{ u }}.</p>
            }
            @if (trial(); as t) {
              <div class="begin">
                <st-specimen-picture [trial]="t" [width]="150" [height]="90" />
                <button type="button" class="act main" [disabled]="problem() !== undefined" (click)="begin()">
                  Begin the trial
                </button>
              </div>
              @if (from(); as r) {
                <p class="small">
                  <button type="button" class="act small" (click)="use()">Stand so in “{{ r.trial.title }}”</button>
                </p>
              }
              @if (problem(); as p) {
                <p class="wrong" role="alert">{{ p }}</p>
              }
            } @else {
              <p class="soft small">{{ waiting() }}</p>
            }
          </section>
          @if (looked(); as l) {
            <section aria-labelledby="seen">
              <h2 id="seen">What was seen</h2>
              <st-part-seen [looked]="l" />
              @if (l.open.length > 0 || l.mendedInAll > 0) {
                <st-number-field
                  fieldId="closes"
                  label="close gaps up to"
                  unit="mm"
                  [value]="pose()?.closes ?? 2"
                  [outside]="bad().closes"
                  (changed)="closes($event)"
                />
              }
            </section>
          } @else if (place.placed().state === 'working') {
            <p class="soft small" role="status">Looking it over … {{ progress(place.placed()) }}</p>
          }
        </div>
      </div>
    } @else if (shelf.parts() === undefined) {
      <p role="status">Looking for the part …</p>
    } @else {
      <h1>This part is not kept here</h1>
      <p>
        A trial names it by what is in it. Drop its file anywhere, or open it under <a routerLink="/files">Files</a>.
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      gap: 8px;
      height: 100%;
      padding: 12px 20px 10px;
    }
    header {
      display: flex;
      align-items: baseline;
      gap: 16px;
      flex-wrap: wrap;
    }
    h1 {
      overflow-wrap: anywhere;
    }
    .both {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 372px;
      gap: 20px;
      min-height: 0;
    }
    .space {
      display: grid;
      grid-template-rows: minmax(0, 1fr) auto;
      min-height: 340px;
    }
    .open {
      display: grid;
      grid-template-columns: 190px minmax(0, 1fr);
      align-items: center;
      gap: 12px;
      font-size: 13px;
      color: var(--ink-soft);
    }
    .open input {
      accent-color: var(--madder);
    }
    .side {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 14px;
      align-content: start;
      overflow-y: auto;
      padding-right: 6px;
    }
    section > h2 {
      display: flex;
      justify-content: space-between;
      align-items: baseline;
      margin-bottom: 4px;
    }
    .fields {
      display: grid;
      grid-template-columns: repeat(2, minmax(0, 1fr));
      gap: 2px 12px;
    }
    p-select {
      width: 100%;
      min-width: 0;
    }
    .field {
      display: grid;
      align-content: start;
      min-width: 0;
    }
    .name {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
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
    .lie {
      display: flex;
      flex-wrap: wrap;
      gap: 0 4px;
      margin-left: -6px;
    }
    .lie button {
      padding: 2px 6px;
      text-decoration: underline;
      text-decoration-color: var(--line-strong);
      text-underline-offset: 3px;
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
    .takes {
      margin-top: 6px;
    }
    .unseen {
      border-left: 3px solid var(--shaken);
      padding-left: 8px;
      font-size: 13px;
      margin-top: 4px;
    }
    .begin {
      display: flex;
      align-items: center;
      justify-content: space-between;
      gap: 12px;
      margin-top: 8px;
    }
    @media (max-width: 900px) {
      :host {
        height: auto;
      }
      .both {
        grid-template-columns: minmax(0, 1fr);
      }
      .side {
        overflow: visible;
      }
    }
  `,
})
export class PartPage {
  readonly hash = input.required<string>();
  /** The trial whose part is to stand here as it stands there. */
  readonly as = input<string | undefined>();
  protected readonly shelf = inject(FileShelf);
  protected readonly place = inject(PartPlacing);
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);

  protected readonly units = (Object.keys(units) as Unit[]).map((u) => ({ label: u, mm: units[u] }));
  protected readonly figure = show;
  protected readonly picking = signal(false);
  protected readonly opened = signal<number | undefined>(undefined);
  protected readonly factor = signal<string>('infill-density');
  protected readonly along = signal<Axis['along']>('print');
  protected readonly bad = signal<Partial<Record<'scale' | 'from' | 'to' | 'closes', string>>>({});

  protected readonly file = computed(() => this.shelf.parts()?.find((f) => f.hash === this.hash()));

  constructor() {
    if (!this.shelf.parts()) void this.shelf.load();
    effect(() => {
      const [file, as] = [this.file(), this.as()];
      if (!file) return;
      const part = as === undefined ? undefined : untracked(() => this.keeper.find('records', as)?.trial.part);
      const left =
        part?.hash === file.hash
          ? { pose: part.pose, ...(!isWhole(part.cut) && { cut: part.cut }), ...(part.tools && { tools: part.tools }) }
          : undefined;
      untracked(() => void this.place.open(file, left));
    });
  }

  protected readonly pose = computed(() => this.place.placing()?.pose);
  protected readonly view = computed(() => {
    const v = this.place.view();
    return v.state === 'done' ? v.value : undefined;
  });
  protected readonly looked = computed(() => this.done()?.looked);
  /** What was looked over last; a moment after an edit it is still that of before. */
  private readonly done = computed(() => {
    const p = this.place.placed();
    return p.state === 'done' ? p.value : undefined;
  });
  /** What was looked over of the part as it stands now. */
  private readonly now = computed(() => {
    const [done, placing] = [this.done(), this.place.placing()];
    const same = done && placing && JSON.stringify(done.part.pose) === JSON.stringify(placing.pose);
    const cut = placing?.cut ?? wholeCut;
    const tools = placing && new Set(placing.tools).size > 1 ? placing.tools : undefined;
    return same && JSON.stringify([done.part.cut, done.part.tools]) === JSON.stringify([cut, tools]) ? done : undefined;
  });
  protected readonly wrong = computed(() =>
    [this.place.view(), this.place.placed()].flatMap((d) => (d.state === 'refused' ? d.faults : [])),
  );
  protected readonly height = computed(() => this.place.stood()?.size.height ?? 0);
  protected readonly size = computed(() => {
    const [stood, file] = [this.place.stood(), this.file()];
    if (!stood || !file?.part) return '';
    // What is drawn of a heavy part is a little coarser than it is: what was cut knows better.
    const { width, depth, height } = (this.place.placing()?.cut ? undefined : this.now()?.part.size) ?? stood.size;
    const { triangles } = file.part;
    return `${show(width, 1)} × ${show(depth, 1)} × ${show(height, 1)} mm · ${triangles.toLocaleString('en')} triangles`;
  });

  /** What is printed, from and to, mm; as far as the part goes. */
  protected readonly cut = computed(() => {
    const cut = this.place.placing()?.cut;
    return { from: cut?.from ?? 0, to: Math.min(cut?.to ?? Infinity, this.height()) };
  });
  protected readonly standing = computed(() => {
    const stood = this.place.stood();
    const box = this.place.placing()?.cut?.box;
    return stood && { ...stood, ...this.cut(), opened: this.opened() ?? stood.size.height + 1, ...(box && { box }) };
  });

  protected readonly objects = computed(() => {
    const all = this.view()?.objects ?? [];
    const called = all.map(({ name }, i) => ({ id: i + 1, label: name ? `${i + 1} · ${name}` : `object ${i + 1}` }));
    return all.length > 1 ? [{ id: 0, label: 'all, as the file has them' }, ...called] : [];
  });

  /** Which tool prints which object, where the printer has several. */
  protected readonly tools = computed(() => {
    const [all, count] = [this.view()?.objects ?? [], this.place.context()?.printer.tools ?? 1];
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
    const [view, pose] = [this.view(), this.pose()];
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

  /** Pieces that tell, of the part as it stands whole; they stay when one of them is taken. */
  protected readonly telling = signal<{ words: string; cut: { from: number; to: number; box?: Telling['box'] } }[]>([]);
  private readonly tellingOfWhole = effect(() => {
    const now = this.now();
    if (!now || this.place.placing()?.cut) return;
    this.telling.set(
      now.looked.telling.map(({ shows: what, amount, from, to, box }) => ({
        words: shows[what](amount),
        cut: { from, to, ...(box && { box }) },
      })),
    );
  });

  protected readonly takes = computed(() => {
    const { piece, whole } = this.place.takes();
    const words = (d: Doing<Takes> | undefined) =>
      d?.state === 'done' ? `${duration(d.value.time)}, ${show(d.value.mass, 1)} g` : undefined;
    const name = this.place.placing()?.cut ? 'This piece' : 'One print';
    if (piece?.state === 'working') return `${name}: being made to see what it takes … ${this.progress(piece)}`;
    if (piece?.state === 'refused') return piece.faults[0]!;
    const own = words(piece);
    if (!own) return '';
    const all = words(whole);
    return `${name}: ${own}.${all ? ` The whole part: ${all}.` : ''}`;
  });

  protected readonly factors = computed(() => {
    const seen = this.done()?.part.seen;
    const context = this.place.context();
    return everyFactor()
      .filter((f) => f.layouts.some((l) => layouts.includes(l)) && context !== undefined)
      .map((f) => ({ id: f.id, label: seen && unseenOn(seen, f.id) ? `${f.label} (not seen here)` : f.label }));
  });
  protected readonly ways = computed(() =>
    layouts
      .filter((l) => l === 'print' || factorOf(this.factor())?.layouts.includes(l))
      .map((id) => ({ id, label: id === 'tile' ? 'as copies' : alongWords[id] })),
  );
  protected readonly unseen = computed(() => {
    const seen = this.done()?.part.seen;
    return seen && unseenOn(seen, this.factor());
  });

  protected readonly trial = computed((): Trial | undefined => {
    const [now, context, baseline] = [this.now(), this.place.context(), this.place.baseline()];
    return now && context && baseline ? partTrial(now.part, context, baseline, this.factor(), this.along()) : undefined;
  });
  /** The trial from which one came here, as long as its plan can change. */
  protected readonly from = computed(() => {
    const as = this.as();
    const record = as === undefined ? undefined : this.keeper.find('records', as);
    return record?.prints.length === 0 && record.trial.part?.hash === this.hash() ? record : undefined;
  });
  protected use(): void {
    const [record, now] = [this.from(), this.now()];
    if (!record || !now) return;
    const plan = titled(withPart(planOf(record), now.part));
    if (this.keeper.change(record, withPlan(record, plan), 'how the part stands'))
      void this.router.navigate(['/trial', record.id]);
  }

  protected readonly problem = computed(() => {
    const trial = this.trial();
    const plan = trial && planned(trial);
    return plan && !plan.ok ? `${plan.faults[0]!.wrong}; ${plan.faults[0]!.right}` : undefined;
  });
  protected readonly waiting = computed(() =>
    this.place.context()
      ? 'It is looked over first.'
      : 'Choose a printer and a filament first: a trial belongs to a pair.',
  );

  protected progress(d: Doing<unknown>): string {
    return d.state === 'working' && d.progress.of > 0 ? `${show((100 * d.progress.done) / d.progress.of, 0)} %` : '';
  }

  protected open(event: Event): void {
    const value = Number((event.target as HTMLInputElement).value);
    this.opened.set(value >= this.height() - 1e-9 ? undefined : value);
  }

  protected lay(normal: [number, number, number]): void {
    const pose = this.pose();
    this.picking.set(false);
    if (pose) this.place.pose({ up: upOf(pose, normal) });
  }

  protected scale(value: number): void {
    this.say('scale', value >= 0.01 && value <= 100 ? undefined : 'give 1 to 10000 %');
    if (value >= 0.01 && value <= 100) this.place.pose({ scale: value });
  }

  protected closes(value: number): void {
    const fits = value >= 0 && value <= 50;
    this.say('closes', fits ? undefined : 'give 0 to 50 mm');
    const placing = this.place.placing();
    if (fits && placing) this.place.to({ ...placing, pose: { ...placing.pose, closes: value } });
  }

  protected between(end: 'from' | 'to', value: number): void {
    const next = { ...this.cut(), [end]: value };
    const fits = next.from >= 0 && next.to > next.from && next.from < this.height();
    this.say(end, fits ? undefined : `give a height within 0 and ${show(this.height(), 1)} mm, the lower one first`);
    if (!fits) return;
    const box = this.place.placing()?.cut?.box;
    const all = next.from === 0 && next.to >= this.height() - 1e-6 && !box;
    this.place.cut(all ? undefined : { from: next.from, to: next.to, ...(box && { box }) });
  }

  private say(field: 'scale' | 'from' | 'to' | 'closes', words: string | undefined): void {
    this.bad.update((b) => ({ ...b, [field]: words }));
  }

  protected choose(factor: string): void {
    this.factor.set(factor);
    if (!this.ways().some((w) => w.id === this.along())) this.along.set('print');
  }

  protected begin(): void {
    const [trial, pair] = [this.trial(), this.keeper.currentPair()];
    if (!trial || !pair) return;
    const id = this.maker.open(pair.id, stopOfFactor(this.factor())?.id ?? freeStop, trial);
    void this.router.navigate(['/trial', id]);
  }

  protected key(event: KeyboardEvent): void {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
    if ((event.target as HTMLElement).tagName === 'INPUT') return;
    event.preventDefault();
    if (event.shiftKey) this.place.redo();
    else this.place.undo();
  }
}
