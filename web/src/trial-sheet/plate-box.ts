import { ChangeDetectionStrategy, Component, computed, inject, signal, type OnDestroy } from '@angular/core';
import { RouterLink } from '@angular/router';
import { from, switchMap, type Subscription } from 'rxjs';
import { sentence, show } from '#core/base';
import type { KeptFile } from '#core/route';
import { settingIds, settingOf, type SettingId, type Settings } from '#core/settings';
import { MOST_PARTS, partsOn, unseenIn, whyNotOwn, withBeside, withoutPart, withOwn } from '#core/trial';
import { FileShelf } from '../data/file-shelf';
import { Keeper } from '../data/keeper';
import { asLeft } from '../parts/as-left';
import { PickOne } from '../ui/pick-one';
import { SettingField } from '../ui/setting-field';
import { WorkerPool } from '../work/worker-pool';
import { TrialDesk } from './trial-desk';

/** The parts of the user’s own on the plate of a trial, and what each sets for itself. */
@Component({
  selector: 'st-plate-box',
  imports: [PickOne, RouterLink, SettingField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-label="Parts on the plate">
      @for (p of parts(); track $index; let k = $index) {
        <div class="part">
          <span class="what"
            ><b>{{ parts().length > 1 ? k + 1 + ' ' : '' }}{{ p.name }}</b
            >&ngsp;<span class="figures soft">{{ p.size }}</span></span
          >
          <a class="step" [routerLink]="['/parts', p.hash]" [queryParams]="{ as: desk.id(), at: k }"
            >how the part stands</a
          >
          @if (parts().length > 1) {
            <button
              type="button"
              class="step"
              (click)="remove(k)"
              [attr.aria-label]="'Take part ' + (k + 1) + ' off the plate'"
            >
              take it off
            </button>
          }
          @if (k > 0) {
            <st-pick-one
              [fieldId]="'own-' + k"
              [label]="'What part ' + (k + 1) + ' sets for itself'"
              placeholder="sets for itself …"
              [options]="settable()"
              (picked)="begin(k, $event.id)"
            />
          } @else if (parts().length > 1) {
            <span class="soft small">as the settings of this print say</span>
          }
          @for (o of p.own; track o.id) {
            <span class="own">
              <st-setting-field
                [id]="o.id"
                [fieldId]="'own-' + k + '-' + o.id"
                [value]="o.value"
                [context]="context()!"
                [outside]="faultOf(k, o.id)"
                (changed)="set(k, o.id, $event)"
              />
              <button type="button" class="step" (click)="set(k, o.id, undefined)">as the others</button>
            </span>
          }
        </div>
      }
      <div class="part">
        @if (parts().length < most) {
          <st-pick-one
            fieldId="beside"
            label="Put another part beside it"
            placeholder="put another part beside it …"
            none="No parts are kept here: drop one anywhere."
            [options]="kept()"
            shows="name"
            (picked)="put($event)"
          />
        } @else {
          <span class="soft small">{{ most }} parts are as many as one plate takes.</span>
        }
        @if (placing(); as name) {
          <span class="soft small" role="status">{{ name }} is looked over …</span>
        }
        @if (wrong(); as w) {
          <span class="wrong small" role="alert">{{ w }}</span>
        }
        @for (u of unseen(); track u) {
          <span class="unseen small">{{ u }}</span>
        }
      </div>
    </section>
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    section {
      display: grid;
      gap: 3px;
    }
    .part {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 2px 14px;
      font-size: 13px;
    }
    .own {
      display: grid;
      width: 150px;
      border-left: 2px solid var(--madder);
      padding-left: 8px;
    }
    .own .step {
      justify-self: start;
    }
    .unseen {
      border-left: 3px solid var(--shaken);
      padding-left: 8px;
    }
  `,
})
export class PlateBox implements OnDestroy {
  protected readonly desk = inject(TrialDesk);
  private readonly keeper = inject(Keeper);
  private readonly shelf = inject(FileShelf);
  private readonly pool = inject(WorkerPool);
  private work: Subscription | undefined;
  protected readonly most = MOST_PARTS;
  /** The part that is being looked over before it is put on the plate. */
  protected readonly placing = signal<string | undefined>(undefined);
  protected readonly wrong = signal<string | undefined>(undefined);

  protected readonly context = computed(() => this.desk.trial()?.context);
  protected readonly parts = computed(() => {
    const trial = this.desk.trial();
    return (trial ? partsOn(trial) : []).map(({ part, own }) => {
      const { width, depth, height } = part.size;
      const ids = settingIds.filter((id) => id in own);
      return {
        hash: part.hash,
        name: part.name,
        size: `${show(width, 1)} × ${show(depth, 1)} × ${show(height, 1)} mm`,
        own: ids.map((id) => ({ id, value: own[id]! })),
      };
    });
  });
  protected readonly kept = computed(() => this.shelf.parts() ?? []);
  protected readonly unseen = computed(() => {
    const trial = this.desk.trial();
    return trial ? unseenIn(trial) : [];
  });
  /** What a part can set for itself, as the parts are printed. */
  protected readonly settable = computed(() => {
    const trial = this.desk.trial();
    if (!trial) return [];
    const { arrangement } = { ...trial.baseline, ...trial.frozen };
    return settingIds
      .filter((id) => whyNotOwn(id, arrangement) === undefined)
      .map((id) => ({ id, label: settingOf(id).label }));
  });

  constructor() {
    if (!this.shelf.parts()) void this.shelf.load();
  }

  ngOnDestroy(): void {
    this.work?.unsubscribe();
  }

  protected async put(file: KeptFile): Promise<void> {
    const trial = this.desk.trial();
    if (!trial) return;
    this.work?.unsubscribe();
    this.wrong.set(undefined);
    this.placing.set(file.name);
    const { layerHeight, lineWidth } = trial.baseline;
    const { pose, cut, tools } = await asLeft(this.keeper, file);
    const placed = from(this.keeper.file(file.hash)).pipe(
      switchMap((blob) => this.pool.place(file, blob, { pose, cut, tools, lines: { layerHeight, lineWidth } })),
    );
    const refused = (why: string) => {
      this.placing.set(undefined);
      this.wrong.set(why);
    };
    this.work = placed.subscribe({
      next: (said) => {
        if (!('result' in said)) return;
        const { result } = said;
        if (!result.ok) return refused(result.faults.map(sentence).join(' '));
        this.placing.set(undefined);
        this.desk.changeTrial('a part on the plate', (t) => withBeside(t, result.value.part));
      },
      error: () => refused(`${file.name} could not be looked over; try it again`),
    });
  }

  protected remove(k: number): void {
    this.desk.changeTrial('a part off the plate', (t) => withoutPart(t, k));
  }

  /** A setting begins with the value that all have. */
  protected begin(k: number, id: SettingId): void {
    const trial = this.desk.trial();
    if (trial) this.set(k, id, { ...trial.baseline, ...trial.frozen }[id]);
  }

  protected set(k: number, id: SettingId, value: Settings[SettingId] | undefined): void {
    this.desk.changeTrial(settingOf(id).label, (t) => withOwn(t, k - 1, id, value));
  }

  protected faultOf(k: number, id: SettingId): string | undefined {
    const at = `beside.${k - 1}.own.${id}`;
    const f = this.desk.faults().find((fault) => fault.at === at || fault.at === `trial.${at}`);
    return f && `${f.wrong}; ${f.right}`;
  }
}
