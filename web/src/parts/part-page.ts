import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { show } from '#core/base';
import { isWhole, MOST_CLOSED, upOf } from '#core/part';
import { partsOn } from '#core/trial';
import { FileShelf } from '../data/file-shelf';
import { Keeper } from '../data/keeper';
import { NumberField } from '../ui/number-field';
import { PartBegin } from './part-begin';
import { partFields } from './part-fields';
import { PartPiece } from './part-piece';
import { howFar, PartPlacing } from './part-placing';
import { PartSeen } from './part-seen';
import { PartSpace } from './part-space';
import { PartStands } from './part-stands';
import { boxOfCut, cutOfBox, type PieceBox } from './piece-box';
import type { Pulled } from './piece-grips';

/** A part of the user’s own: placed on the bed, cut to the piece that tells, and made a trial. */
@Component({
  selector: 'st-part-page',
  imports: [NumberField, PartBegin, PartPiece, PartSeen, PartSpace, PartStands, RouterLink],
  providers: [PartPlacing],
  changeDetection: ChangeDetectionStrategy.OnPush,
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
            [view]="place.drawing()"
            [standing]="standing()"
            [printer]="place.context()?.printer"
            [words]="f.name + ' on the bed, ' + size()"
            [picking]="picking()"
            [box]="pullable()"
            (pulled)="pull($event)"
            (laid)="lay($event)"
          />
          <label class="open">
            <span>look into it, up to {{ figure(opened() ?? place.height(), 1) }} mm</span>
            <input
              type="range"
              min="0"
              [max]="place.height()"
              step="any"
              [value]="opened() ?? place.height()"
              (input)="open($event)"
              aria-label="Look into it up to this height, mm"
            />
          </label>
        </section>
        <div class="side">
          @if (place.view().state === 'working') {
            <p role="status">Reading the part … {{ howFar(place.view()) }}</p>
          }
          @for (w of wrong(); track w) {
            <p class="wrong" role="alert">{{ w }}</p>
          }
          <!-- Each in a task of its own: the fields of a page all at once are felt. -->
          @defer (on timer(0)) {
            <st-part-stands [(picking)]="picking" />
          }
          @defer (on timer(40ms)) {
            <st-part-piece [(pulling)]="pulling" />
          }
          @defer (on timer(80ms)) {
            <st-part-begin [trialId]="trialId()" [at]="at()" />
          }
          @if (place.last()?.looked; as l) {
            <section aria-labelledby="seen">
              <h2 id="seen">What was seen</h2>
              <st-part-seen [looked]="l" [closes]="place.posed()?.closes ?? 2" (closing)="closes($event)" />
              @if (l.open.length > 0 || l.mendedInAll > 0) {
                <st-number-field
                  fieldId="closes"
                  label="close gaps up to"
                  unit="mm"
                  [value]="place.posed()?.closes ?? 2"
                  [outside]="bad()"
                  (changed)="closes($event)"
                />
              }
            </section>
          } @else if (place.placed().state === 'working') {
            <p class="soft small" role="status">Looking it over … {{ howFar(place.placed()) }}</p>
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
  styles: [
    partFields,
    `
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
      .side {
        display: grid;
        grid-template-columns: minmax(0, 1fr);
        gap: 14px;
        align-content: start;
        overflow-y: auto;
        /* Focus rings of what stands at the edge are not cut off. */
        margin-left: -8px;
        padding: 0 6px 0 8px;
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
  ],
})
export class PartPage {
  readonly hash = input.required<string>();
  /** The trial whose part is to stand here as it stands there. */
  readonly as = input<string | undefined>();
  /** Which part of its plate, counted from 0. */
  readonly at = input<string | undefined>();
  // A template cannot say `as`.
  protected readonly trialId = computed(() => this.as());
  protected readonly shelf = inject(FileShelf);
  protected readonly place = inject(PartPlacing);
  private readonly keeper = inject(Keeper);

  protected readonly figure = show;
  protected readonly picking = signal(false);
  protected readonly opened = signal<number | undefined>(undefined);
  private readonly cutOut = computed(() => this.place.placing()?.cut);
  protected readonly bad = signal<string | undefined>(undefined);
  protected readonly howFar = howFar;

  protected readonly file = computed(() => this.shelf.parts()?.find((f) => f.hash === this.hash()));

  constructor() {
    if (!this.shelf.parts()) void this.shelf.load();
    effect(() => {
      const [file, as] = [this.file(), this.as()];
      if (!file) return;
      const record = as === undefined ? undefined : untracked(() => this.keeper.find('records', as));
      const part = record && partsOn(record.trial)[Number(this.at() ?? 0)]?.part;
      const left =
        part?.hash === file.hash
          ? { pose: part.pose, ...(!isWhole(part.cut) && { cut: part.cut }), ...(part.tools && { tools: part.tools }) }
          : undefined;
      untracked(() => void this.place.open(file, left));
    });
    // A piece that is cut out is there to be seen.
    effect(() => {
      this.cutOut();
      this.opened.set(undefined);
    });
  }

  protected readonly wrong = computed(() =>
    [this.place.view(), this.place.placed()].flatMap((d) => (d.state === 'refused' ? d.faults : [])),
  );
  protected readonly size = computed(() => {
    const [stood, file] = [this.place.stood(), this.file()];
    if (!stood || !file?.part) return '';
    // What is drawn of a heavy part is a little coarser than it is: what was cut knows better.
    const { width, depth, height } =
      (this.place.placing()?.cut ? undefined : this.place.now()?.part.size) ?? stood.size;
    const { triangles } = file.part;
    return `${show(width, 1)} × ${show(depth, 1)} × ${show(height, 1)} mm · ${triangles.toLocaleString('en')} triangles`;
  });

  /** While a side is pulled, the box that it makes; the part is looked over once it is let go. */
  private readonly beingPulled = signal<PieceBox | undefined>(undefined);
  protected readonly pulling = signal(false);
  protected readonly pullable = computed(() =>
    this.pulling() || this.place.placing()?.cut ? (this.beingPulled() ?? this.place.pieceBox()) : undefined,
  );
  protected readonly standing = computed(() => {
    const stood = this.place.stood();
    if (!stood) return undefined;
    const now = this.beingPulled();
    const cut = now ? cutOfBox(now, stood.size) : this.place.placing()?.cut;
    const { from, to } = boxOfCut(cut, stood.size);
    const opened = this.opened() ?? stood.size.height + 1;
    return { ...stood, from, to, opened, framed: this.pullable() !== undefined, ...(cut?.box && { box: cut.box }) };
  });

  protected pull({ box, done }: Pulled): void {
    const stood = this.place.stood();
    this.beingPulled.set(done ? undefined : box);
    if (done && stood) this.place.cut(cutOfBox(box, stood.size));
  }

  protected open(event: Event): void {
    const value = Number((event.target as HTMLInputElement).value);
    this.opened.set(value >= this.place.height() - 1e-9 ? undefined : value);
  }

  protected lay(normal: [number, number, number]): void {
    const pose = this.place.posed();
    this.picking.set(false);
    if (pose) this.place.pose({ up: upOf(pose, normal) });
  }

  protected closes(value: number): void {
    const fits = value >= 0 && value <= MOST_CLOSED;
    this.bad.set(fits ? undefined : `give 0 to ${MOST_CLOSED} mm`);
    const placing = this.place.placing();
    if (fits && placing) this.place.to({ ...placing, pose: { ...placing.pose, closes: value } });
  }
}
